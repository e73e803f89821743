"""A client's names and terms are written in the editor of the house style."""

from unittest import mock

from tamarind.desktop.housestyle.editor import StyleEditor
from tamarind.desktop.intake.glossary_dialog import GlossaryDialog
from tests.application.test_client_terms import keep_client
from tests.desktop.support import WindowTest


class WritingTerms(WindowTest):
    def setUp(self):
        super().setUp()
        self.key = self.named("Warden interview")
        keep_client(self.session)

    def test_they_are_written_on_the_page_of_wording(self):
        editor = StyleEditor(
            self.session, "peat trust", self.session.texts.transcript(self.key), 0, self.window
        )
        self.addCleanup(editor.close)
        opened = editor.parts["wording"]._rows["terms"]
        self.assertIn("3 terms", opened.text())

        def write(dialog):
            dialog.text.setPlainText("Callow Moss")
            return True

        with mock.patch.object(GlossaryDialog, "exec", write):
            opened.click()
        self.assertEqual(editor.item_now().wording.terms, ("Callow Moss",))

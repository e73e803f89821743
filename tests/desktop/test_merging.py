"""Take back and Compare in the window."""

from dataclasses import replace

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tamarind.desktop.compare_dialog import CompareDialog, version_in
from tamarind.desktop.merge_dialog import MergeDialog
from tamarind.formats.reading.compared import Versions
from tamarind.job.packing import PackOrder, unpack
from tamarind.job.store import JobStore
from tamarind.job.takingback import came_back, merge_back
from tests.desktop.support import WindowTest
from tests.support import cue


class TakingBack(WindowTest):
    def setUp(self):
        super().setUp()
        self.key = self.session.recordings.first()
        packed = self.folder / "out.tamarind.zip"
        PackOrder(self.session.store.path, packed, recordings=False, only=(self.key,)).fill()
        self.theirs = unpack(packed, self.folder)

    def with_text(self, text, place, said):
        old = text.cues[place]
        new = replace(cue(old.id, said, old.start), end=old.end, speaker=old.speaker)
        return replace(text, cues=(*text.cues[:place], new, *text.cues[place + 1 :]))

    def edit_there(self, place, said):
        store = JobStore(self.theirs)
        before = store.document(self.key)
        after = before.with_transcript(self.with_text(before.transcript, place, said))
        store.save_document(self.key, before, after)
        store.close()

    def edit_here(self, place, said):
        text = self.session.texts.transcript(self.key)
        self.session.texts.edit(self.key, "said", self.with_text(text, place, said))

    def dialog(self):
        mine = [(r, self.session.texts.document(r.id)) for r in self.session.recordings.all()]
        with came_back(self.theirs) as store:
            merged, problems = merge_back(store, mine)
        self.assertEqual(problems, [])
        dialog = MergeDialog(self.session, merged, problems, self.window)
        self.addCleanup(dialog.close)
        dialog.show()
        return dialog

    def test_both_have_changed_one_key_decides_each_and_undo_takes_it_out(self):
        self.edit_there(0, "There it was.")
        self.edit_there(1, "Only there.")
        self.edit_there(3, "There again.")
        self.edit_here(0, "Here it was.")
        self.edit_here(3, "Here again.")
        before = self.session.texts.transcript(self.key)
        dialog = self.dialog()
        self.assertEqual(len(dialog.list.items()), 2)
        self.assertFalse(dialog.go.isEnabled())
        QTest.keyClick(dialog.list, Qt.Key.Key_2)
        QTest.keyClick(dialog.list, Qt.Key.Key_1)
        self.assertEqual([item.text(4) for item in dialog.list.items()], ["there", "here"])
        self.assertTrue(dialog.go.isEnabled())
        dialog.take()
        said = [one.text for one in self.session.texts.transcript(self.key).cues]
        self.assertEqual([said[0], said[1], said[3]],
                         ["There it was.", "Only there.", "Here again."])  # fmt: skip
        self.session.texts.undo()
        self.assertEqual(self.session.texts.transcript(self.key), before)

    def test_another_version_is_compared_and_saved_with_changes_marked(self):
        self.edit_there(2, "Something else.")
        name = self.session.recordings.get(self.key).name
        text = self.session.texts.transcript(self.key)
        other = version_in(self.theirs, name, "en")
        dialog = CompareDialog(Versions(name, other, text), "“theirs”", self.window)
        self.addCleanup(dialog.close)
        self.assertIn("Something else.", " ".join(one.before for one in dialog.changes))
        target = self.folder / "marked.html"
        dialog.save(target)
        self.assertIn("<del>", target.read_text())
        dialog.save(self.folder / "marked.pdf")
        self.assertIn("Changes are written as", dialog.said.text())
        dialog.go()
        self.assertEqual(dialog.place, 2)

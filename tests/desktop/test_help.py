"""The guide and the pages about the program."""

import re
import unittest
from pathlib import Path

from PySide6.QtCore import QUrl
from PySide6.QtGui import QTextDocument
from PySide6.QtTest import QTest

from tamarind.desktop.app import make_application
from tamarind.desktop.commands import all_commands, shown
from tamarind.desktop.help import GuideDialog, about, guide_pages, news, shipped

GUIDE = Path(__file__).parents[2] / "docs" / "guide"


class Guide(unittest.TestCase):
    def test_every_page_is_in_the_contents_and_its_links_and_pictures_are_there(self):
        named = {name for _, name in guide_pages()}
        self.assertEqual(named, {path.name for path in GUIDE.glob("*.md")} - {"README.md"})
        for path in GUIDE.glob("*.md"):
            for target in re.findall(r"\]\(([^)]+)\)", path.read_text()):
                self.assertTrue((GUIDE / target).resolve().is_file(), (path.name, target))

    def test_keys_and_commands_that_it_names_are_those_of_the_program(self):
        known = {shown(key) for command in all_commands() for key in command.keys}
        known |= {"Ctrl+A"}
        # The page of all keys is made from the commands.
        for path in set(GUIDE.glob("*.md")) - {GUIDE / "keys.md"}:
            for key in re.findall(r"`((?:Ctrl|Alt|Shift|F\d)[^` ]*)`", path.read_text()):
                self.assertIn(key, known, path.name)

    def test_it_is_shown_with_its_pictures_and_links_are_followed(self):
        make_application()
        dialog = GuideDialog()
        dialog.show()
        QTest.qWait(50)
        self.assertEqual(dialog.list.currentRow(), 0)
        self.assertIn("Your first transcript", dialog.page.toPlainText())
        picture = dialog.page.document().resource(
            QTextDocument.ResourceType.ImageResource, QUrl("../screenshots/intake.png")
        )
        self.assertGreater(picture.width(), 200)
        self.assertLessEqual(picture.width(), dialog.page.viewport().width())
        dialog.page.anchorClicked.emit(QUrl("captions.md"))
        self.assertIn("house style", dialog.page.toPlainText())
        dialog.close()

    def test_what_is_new_and_what_it_is_made_of(self):
        self.assertIn("Not yet released", news())
        page = about()
        for said in ("MIT License", "Vollkorn", "PySide6", "speaker encoder"):
            self.assertIn(said, page)
        self.assertTrue((shipped() / "demo").is_dir())

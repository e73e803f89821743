"""Context menus of words, cues, recordings and files, and files dragged out of the export list."""

from pathlib import Path

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QContextMenuEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu

from tests.desktop.support import WindowTest

KEYBOARD = QContextMenuEvent.Reason.Keyboard


class Menus(WindowTest):
    def asked(self, widget):
        """The menu that a widget shows when the menu key is pressed."""
        where = QPoint(5, 5)
        event = QContextMenuEvent(KEYBOARD, where, widget.mapToGlobal(where))
        QApplication.sendEvent(widget, event)
        menu = QApplication.activePopupWidget()
        self.assertIsInstance(menu, QMenu)
        self.addCleanup(menu.close)
        return {action.text(): action for action in menu.actions() if action.text()}

    def test_a_doubt_offers_its_alternatives_and_what_a_cue_can_do(self):
        self.window.show_step("proof")
        sheet = self.window.proof.sheet
        self.window.commands.run("next_doubt")
        cue, word = sheet.cue_caret.cue(), sheet.cue_caret.word()
        other = next(filter(None, cue.words[word].alternatives))
        acts = self.asked(sheet.viewport())
        self.assertIn("Join with the next cue", acts)
        self.assertNotIn("Show other translations…", acts)
        acts[other].trigger()
        self.assertEqual(sheet.cue_caret.cue().id, cue.id)
        self.assertIn(other, [w.text for w in sheet.cue_caret.cue().words])

    def test_a_click_elsewhere_is_about_the_word_there(self):
        self.window.show_step("proof")
        sheet = self.window.proof.sheet
        sheet.caret.set((0, 0))
        area = sheet.row_geometry.text_area(1)
        where = area.center().toPoint()
        event = QContextMenuEvent(
            QContextMenuEvent.Reason.Mouse, where, sheet.viewport().mapToGlobal(where)
        )
        QApplication.sendEvent(sheet.viewport(), event)
        QApplication.activePopupWidget().close()
        self.assertEqual(sheet.caret.place[0], 1)

    def test_a_recording_in_the_list_has_the_menu_of_its_card(self):
        self.window.show_step("proof")
        key = self.named("Volunteers round table")
        shown = []
        self.window.intake.show_menu = lambda *asked: shown.append(asked[0])
        self.window.proof.list.refresh()
        entry = self.window.proof.list._made[key]
        entry.customContextMenuRequested.emit(QPoint(3, 3))
        self.assertEqual(shown, [key])

    def test_a_file_is_dragged_out_as_it_would_be_written(self):
        self.window.show_step("export")
        export = self.window.export
        export.set_folder(self.folder / "out")
        (self.folder / "out").mkdir()
        export.refresh()
        choice = export._buttons.buttons()[0]
        acts = self.asked(choice)
        self.assertFalse(acts["Open"].isEnabled())
        (url,) = choice.dragged().urls()
        dragged = Path(url.toLocalFile())
        self.assertEqual(dragged.name, choice.text())
        export.rendering.write(
            self.folder / "out",
            [(export.files[0], export._maker(export.files[0], export.panel.export_options()))],
        )
        self.wait(lambda: (self.folder / "out" / choice.text()).exists())
        self.assertEqual(dragged.read_bytes(), (self.folder / "out" / choice.text()).read_bytes())
        self.assertTrue(self.asked(choice)["Open"].isEnabled())

    def test_recordings_are_gone_through_by_key(self):
        keys = [recording.id for recording in self.session.recordings.all()]
        self.session.show(keys[-1])
        QTest.keyClick(self.window, Qt.Key.Key_PageDown, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.session.shown, keys[0])
        QTest.keyClick(self.window, Qt.Key.Key_PageUp, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.session.shown, keys[-1])

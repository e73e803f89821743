"""What somebody hears who does not see the window: every control has a name and a role."""

from PySide6.QtCore import QPoint
from PySide6.QtGui import QAccessible
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QAbstractSlider,
    QAbstractSpinBox,
    QApplication,
    QComboBox,
    QHeaderView,
    QLineEdit,
    QScrollBar,
    QWidget,
)

from tamarind.desktop import keys
from tamarind.desktop.anything import AnythingDialog
from tamarind.desktop.intake.speech_dialog import SpeechDialog
from tamarind.desktop.keys_dialog import KeysDialog
from tamarind.desktop.proof.draft_dialog import DraftDialog
from tamarind.desktop.proof.times_dialog import TimesDialog
from tamarind.desktop.theme import colours
from tamarind.desktop.widgets import taborder
from tamarind.desktop.widgets.changes_dialog import ChangesDialog, ProposedChange
from tests.desktop.test_proof import ALT, KEY, ProofTest

CONTROLS = (
    QAbstractButton,
    QAbstractItemView,
    QAbstractSlider,
    QAbstractSpinBox,
    QComboBox,
    QLineEdit,
)
ROLE = QAccessible.Role
ROLES = {
    QAbstractButton: {ROLE.Button, ROLE.CheckBox, ROLE.RadioButton, ROLE.ButtonMenu},
    QAbstractSlider: {ROLE.Slider},
    QComboBox: {ROLE.ComboBox},
    QLineEdit: {ROLE.EditableText},
}


def controls(root):
    """Everything within a widget that a person works with, but for parts of other controls."""
    for widget in root.findChildren(QWidget):
        inside = isinstance(widget.parent(), (QComboBox, QAbstractSpinBox, QLineEdit))
        inside = (
            inside
            or widget.objectName().startswith("qt_")
            or isinstance(widget, (QScrollBar, QHeaderView))
        )
        inside = inside or widget.parent().inherits("QComboBoxPrivateContainer")
        inside = inside or widget.parent().objectName().startswith("qt_")
        if isinstance(widget, CONTROLS) and not inside:
            yield widget


class NamesAndRoles(ProofTest):
    def check(self, root):
        found = 0
        for widget in controls(root):
            told = QAccessible.queryAccessibleInterface(widget)
            name = told.text(QAccessible.Text.Name)
            self.assertTrue(name.strip(), f"{type(widget).__name__} in {type(root).__name__}")
            for kind, roles in ROLES.items():
                if isinstance(widget, kind):
                    self.assertIn(told.role(), roles, name)
            found += 1
        return found

    def test_a_choice_has_a_label_since_its_name_is_what_is_chosen(self):
        found = 0
        for step in ("intake", "proof", "translation", "export"):
            self.window.show_step(step)
            for box in self.window.page(step).findChildren(QComboBox):
                told = QAccessible.queryAccessibleInterface(box)
                labels = [
                    one.text(QAccessible.Text.Name)
                    for one, _ in told.relations(QAccessible.RelationFlag.Label)
                ]
                if box.accessibleName():
                    self.assertEqual(
                        [label.casefold() for label in labels], [box.accessibleName().casefold()]
                    )
                    found += 1
        self.assertGreater(found, 6)

    def test_what_a_sheet_is_not_is_asked_without_harm(self):
        told = QAccessible.queryAccessibleInterface(self.sheet)
        self.assertIsNone(told.valueInterface())
        self.assertIsNone(told.selectionInterface())
        self.assertIsNotNone(told.textInterface())
        self.assertIsNotNone(told.actionInterface())

    def test_in_every_step_of_the_window(self):
        self.window.proof.find_bar.open()
        for step in ("intake", "proof", "translation", "export"):
            self.window.show_step(step)
            self.assertGreater(self.check(self.window.page(step)), 1, step)
        self.assertGreater(self.check(self.window), 60)

    def test_in_the_dialogs(self):
        shown = self.session.shown
        finder = self.window.anything.finder()
        for dialog in (
            KeysDialog(keys.current(), lambda: None, self.window),
            AnythingDialog(finder, self.window),
            ChangesDialog("Changes", [ProposedChange(0, "a", "b", "c")], self.window),
            DraftDialog("x", self.session.texts.draft(shown), self.text.cues, self.window),
            TimesDialog(self.text, 2, 4, self.window),
            SpeechDialog(self.session, shown, 0, self.window),
        ):
            self.assertGreater(self.check(dialog), 2, type(dialog).__name__)
            self.assertTrue(dialog.windowTitle())

    def test_the_sheet_is_a_text_that_can_be_read_and_followed(self):
        self.sheet.cue_caret.go_to_word(3, 2)
        told = QAccessible.queryAccessibleInterface(self.sheet)
        self.assertEqual(told.text(QAccessible.Text.Name), "Proof sheet")
        self.assertEqual(told.role(), ROLE.EditableText)
        text = told.textInterface()
        row, offset = self.sheet.caret.place
        self.assertEqual(text.text(0, text.characterCount()), self.sheet.shown.of(row))
        self.assertEqual(text.cursorPosition(), offset)
        self.assertIn("cue", told.text(QAccessible.Text.Description))

    def test_the_loupe_tells_its_edge(self):
        self.key(KEY.Key_X, ALT)
        told = QAccessible.queryAccessibleInterface(self.window.proof.loupe.shown)
        self.assertEqual(told.text(QAccessible.Text.Name), "Loupe")
        self.assertIn("start of the cue", told.text(QAccessible.Text.Description))


class TabOrder(ProofTest):
    def order(self):
        return list(taborder.parts_of(self.window))

    def test_it_is_that_of_the_page_for_whatever_has_come_later(self):
        for page in ("intake", "proof", "export"):
            self.window.show_step(page)
            self.wait(lambda: len(self.order()) > 20)
            self.order()[0].setFocus()
            for place in range(1, 12):
                QTest.keyClick(QApplication.focusWidget(), KEY.Key_Tab)
                now = QApplication.focusWidget()
                if now is self.sheet:
                    break
                self.assertEqual(self.order().index(now), place, page)
            lowest = max(one.mapTo(self.window, QPoint()).y() for one in self.order())
            self.assertEqual(self.order()[-1].mapTo(self.window, QPoint()).y(), lowest)

    def test_cards_come_before_the_settings(self):
        self.window.show_step("intake")
        cards = list(self.window.intake.cards.values())
        self.wait(lambda: set(cards) <= set(self.order()))
        places = [self.order().index(card) for card in cards]
        self.assertEqual(places, sorted(places))
        self.assertLess(places[-1], self.order().index(self.window.intake.panel.go))


class Contrast(ProofTest):
    def test_text_is_legible_by_day_and_by_night(self):
        strong = (colours.LIGHT_CONTRAST, colours.DARK_CONTRAST)
        for palette in (colours.LIGHT, colours.DARK, *strong):
            least = 7 if palette in strong else 4.5
            for ink in ("INK", "BARK", "GREY", "PLUM", "LEAF_TEXT", "PULP"):
                for ground in ("PAPER", "SAND", "SHEET", "CARD"):
                    ratio = _contrast(palette[ink], palette[ground])
                    self.assertGreaterEqual(ratio, least, (ink, ground, palette["PAPER"]))
            self.assertGreaterEqual(_contrast(palette["SHEET"], palette["PULP"]), least)
            for ground in ("LEAF_PALE", "CHOSEN"):
                self.assertGreaterEqual(_contrast(palette["INK"], palette[ground]), least)


def _contrast(one, other):
    """By WCAG 2.2, "contrast ratio"."""

    def luminance(colour):
        parts = [int(colour[n : n + 2], 16) / 255 for n in (1, 3, 5)]
        linear = [p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
        return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]

    low, high = sorted((luminance(one), luminance(other)))
    return (high + 0.05) / (low + 0.05)

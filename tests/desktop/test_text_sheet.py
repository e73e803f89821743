import unittest

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tamarind.desktop.app import make_application
from tamarind.desktop.theme import fonts
from tamarind.desktop.widgets.text_sheet import TextSheet

KEY = Qt.Key
CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


class Sheet(TextSheet):
    """A plain sheet over a list of texts."""

    def __init__(self, texts):
        self.texts = list(texts)
        super().__init__(fonts.text(20))

    def row_count(self):
        return len(self.texts)

    def row_text(self, row):
        return self.texts[row]

    def row_space(self, row):
        return 8.0, 8.0, 20.0

    def text_span(self):
        return 40.0, 400.0

    def write(self, first, last, text, typed):
        head = self.shown_text(first[0])[: first[1]]
        tail = self.shown_text(last[0])[last[1] :]
        whole = " ".join((head + text + tail).split())
        self.texts[first[0] : last[0] + 1] = [whole]
        self.refresh(first[0], last[0] + 1, first[0] + 1)

    def break_row(self, place):
        row, offset = place
        text = self.shown_text(row)
        self.texts[row : row + 1] = [text[:offset].strip(), text[offset:].strip()]
        self.refresh(row, row + 1, row + 2)
        return True


class SheetTest(unittest.TestCase):
    TEXTS = (
        "The drains had been dug.",
        "Every winter the water ran away from the moor and on into the beck, and nobody thought of "
        "it as harm.",
        "",
        "It was called improvement.",
    )

    def setUp(self):
        make_application()
        self.sheet = Sheet(self.TEXTS)
        self.sheet.resize(500, 300)
        self.sheet.show()
        self.sheet.setFocus()
        self.sheet.reset()
        QApplication.processEvents()
        self.addCleanup(self.sheet.deleteLater)

    def key(self, key, modifier=Qt.KeyboardModifier.NoModifier):
        QTest.keyClick(self.sheet, key, modifier)


class Caret(SheetTest):
    def test_by_words_and_over_the_ends_of_rows(self):
        places = []
        for _ in range(7):
            self.key(KEY.Key_Right, CTRL)
            places.append(self.sheet.caret)
        self.assertEqual(places[:2], [(0, 4), (0, 11)])
        self.assertEqual(places[-1][0], 1)
        self.key(KEY.Key_Left, CTRL)
        self.assertEqual(self.sheet.caret, (0, len(self.TEXTS[0])) if places[-1] == (1, 0)
                         else (1, 0))  # fmt: skip

    def test_home_and_end_are_those_of_the_line(self):
        self.sheet.set_caret((1, 3))
        self.key(KEY.Key_End)
        first_end = self.sheet.caret[1]
        self.assertTrue(10 < first_end < len(self.TEXTS[1]))
        self.key(KEY.Key_Right)
        self.key(KEY.Key_Home)
        self.assertEqual(self.sheet.caret, (1, first_end + 1))
        self.key(KEY.Key_End)
        self.key(KEY.Key_End, CTRL)
        self.assertEqual(self.sheet.caret, (3, len(self.TEXTS[3])))

    def test_up_and_down_keep_to_their_column_over_short_rows(self):
        self.sheet.set_caret((0, 20))
        column = self.sheet._goal()
        for _ in range(4):
            self.key(KEY.Key_Down)
        self.assertEqual(self.sheet._goal_x, column)
        self.assertGreaterEqual(self.sheet.caret[0], 2)
        for _ in range(4):
            self.key(KEY.Key_Up)
        self.assertEqual(self.sheet.caret, (0, 20))

    def test_at_the_ends_up_goes_home_and_down_to_the_end(self):
        self.sheet.set_caret((0, 5))
        self.key(KEY.Key_Up)
        self.assertEqual(self.sheet.caret, (0, 0))
        self.sheet.set_caret((3, 2))
        self.key(KEY.Key_Down)
        self.assertEqual(self.sheet.caret, (3, len(self.TEXTS[3])))

    def test_a_page_down_and_up(self):
        self.sheet.texts = [f"row {n}" for n in range(200)]
        self.sheet.reset()
        self.key(KEY.Key_PageDown)
        row = self.sheet.caret[0]
        self.assertGreater(row, 3)
        self.key(KEY.Key_PageUp)
        self.assertLess(self.sheet.caret[0], 3)

    def test_every_place_can_be_reached_by_pointing(self):
        for row, offset in ((0, 0), (0, 9), (1, 60), (1, len(self.TEXTS[1])), (2, 0), (3, 4)):
            self.sheet.set_caret((row, offset))
            area = self.sheet.caret_area()
            self.assertEqual(self.sheet.place_at(area.center()), (row, offset))
        self.assertEqual(self.sheet.place_at(QPointF(-50, -50)), (0, 0))
        self.assertEqual(self.sheet.place_at(QPointF(9000, 9000))[0], 3)


class Selecting(SheetTest):
    def test_with_shift_and_the_keys(self):
        self.sheet.set_caret((0, 4))
        self.key(KEY.Key_Right, CTRL | SHIFT)
        self.assertEqual(self.sheet.selected_text(), "drains ")
        self.key(KEY.Key_Down, SHIFT)
        self.assertEqual(self.sheet.selection()[0], (0, 4))
        self.assertIn("\nEvery", self.sheet.selected_text())
        self.key(KEY.Key_Right)
        self.assertIsNone(self.sheet.selection())

    def test_a_double_click_takes_the_word_and_dragging_goes_on(self):
        self.sheet.set_caret((0, 6))
        point = self.sheet.caret_area().center().toPoint()
        QTest.mouseDClick(self.sheet.viewport(), Qt.MouseButton.LeftButton, pos=point)
        self.assertEqual(self.sheet.selected_text(), "drains")
        self.sheet.set_caret((0, 0))
        start = self.sheet.caret_area().center().toPoint()
        self.sheet.set_caret((1, 5))
        end = self.sheet.caret_area().center().toPoint()
        QTest.mousePress(self.sheet.viewport(), Qt.MouseButton.LeftButton, pos=start)
        QTest.mouseMove(self.sheet.viewport(), end)
        QTest.mouseRelease(self.sheet.viewport(), Qt.MouseButton.LeftButton, pos=end)
        QTest.mouseClick(self.sheet.viewport(), Qt.MouseButton.LeftButton, SHIFT, end)
        self.assertEqual(self.sheet.selected_text(), f"{self.TEXTS[0]}\nEvery")

    def test_all_and_typing_over_it(self):
        self.key(KEY.Key_A, CTRL)
        QTest.keyClicks(self.sheet, "Wet")
        self.assertEqual(self.sheet.texts, ["Wet"])
        self.assertEqual(self.sheet.caret, (0, 3))


class Changing(SheetTest):
    def test_delete_and_backspace_by_letter_and_word(self):
        self.sheet.set_caret((0, 4))
        self.key(KEY.Key_Delete)
        self.key(KEY.Key_Backspace, CTRL)
        self.assertEqual(self.sheet.texts[0], "rains had been dug.")
        self.key(KEY.Key_Delete, CTRL)
        self.assertEqual(self.sheet.texts[0], "had been dug.")

    def test_delete_at_a_rows_end_brings_up_the_next(self):
        self.sheet.set_caret((2, 0))
        self.key(KEY.Key_Delete)
        self.assertEqual(self.sheet.texts[2:], ["It was called improvement."])
        self.sheet.set_caret((0, len(self.TEXTS[0])))
        self.key(KEY.Key_Delete)
        self.assertTrue(self.sheet.texts[0].startswith("The drains had been dug. Every winter"))

    def test_enter_then_backspace_is_as_before(self):
        self.sheet.set_caret((0, 11))
        self.key(KEY.Key_Return)
        self.assertEqual(self.sheet.texts[:2], ["The drains", "had been dug."])
        self.key(KEY.Key_Backspace)
        self.assertEqual(self.sheet.texts, list(self.TEXTS))

    def test_a_letter_of_several_code_points_goes_as_one(self):
        self.sheet.texts[0] = "x👩‍🌾y"
        self.sheet.reset()
        self.sheet.set_caret((0, len(self.sheet.texts[0]) - 1))
        self.key(KEY.Key_Left)
        self.assertEqual(self.sheet.caret[0], 0)
        self.assertLessEqual(self.sheet.caret[1], 1 + 2)

    def test_cut_and_paste_move_text(self):
        self.sheet.set_caret((0, 0))
        self.sheet.set_caret((0, 4), keep_anchor=True)
        self.key(KEY.Key_X, CTRL)
        self.assertEqual(QGuiApplication.clipboard().text(), "The ")
        self.sheet.set_caret((3, 0))
        self.key(KEY.Key_V, CTRL)
        QTest.keyClicks(self.sheet, " ")
        self.assertEqual(self.sheet.texts[3], "The It was called improvement.")

    def test_an_empty_sheet_takes_no_harm(self):
        self.sheet.texts = []
        self.sheet.reset()
        for key in (KEY.Key_Right, KEY.Key_Down, KEY.Key_Delete, KEY.Key_A, KEY.Key_Return):
            self.key(key)
        self.sheet.paste()
        self.sheet.select_all()
        self.assertEqual(self.sheet.texts, [])
        self.assertIsNone(self.sheet.place_at(QPointF(5, 5)))

    def test_rows_keep_their_places_when_one_above_grows(self):
        self.sheet.texts = [f"row {n}" for n in range(100)]
        self.sheet.reset()
        before = self.sheet._tops[51] - self.sheet._tops[50]
        self.sheet.set_caret((3, 5))
        QTest.keyClicks(self.sheet, " and more and more and more and more and more and more")
        total = sum(self.sheet._heights)
        self.assertAlmostEqual(self.sheet._tops[-1], total)
        self.assertAlmostEqual(self.sheet._tops[51] - self.sheet._tops[50], before)
        self.assertGreater(self.sheet._heights[3], self.sheet._heights[4])

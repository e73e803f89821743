import unittest
from contextlib import nullcontext

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tamarind.desktop.app import make_application
from tamarind.desktop.editor.content import Space, guessed_height
from tamarind.desktop.editor.sheet import Sheet
from tamarind.desktop.editor.shown import ShownText
from tamarind.desktop.theme import fonts

KEY = Qt.Key
CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


class Texts:
    """A list of texts: what a plain sheet shows, and who writes it."""

    joins_rows = True

    def __init__(self, texts):
        self.texts = list(texts)
        self.shown = ShownText(self)
        self.refresh = lambda *rows: None

    def row_count(self):
        return len(self.texts)

    def text(self, row):
        return self.texts[row]

    def space(self, row):
        return Space(8.0, 8.0, 20.0)

    def column(self, width):
        return 40.0, 400.0

    def line_starts(self, row, text):
        return []

    def looks(self, row, text):
        return ()

    def ink(self, row):
        return QColor("black")

    def height(self, row, letters_a_line, line_height):
        length = len(self.texts[row])
        return guessed_height(length, letters_a_line, line_height, self.space(row))

    def heights(self, letters_a_line, line_height):
        return [self.height(row, letters_a_line, line_height) for row in range(len(self.texts))]

    def description(self, place):
        return f"row {place[0]}"

    def write(self, first, last, text, typed):
        head = self.shown.of(first[0])[: first[1]]
        tail = self.shown.of(last[0])[last[1] :]
        self.texts[first[0] : last[0] + 1] = [" ".join((head + text + tail).split())]
        self.refresh(first[0], last[0] + 1, first[0] + 1)

    def break_row(self, place):
        row, offset = place
        text = self.shown.of(row)
        self.texts[row : row + 1] = [text[:offset].strip(), text[offset:].strip()]
        self.refresh(row, row + 1, row + 2)
        return row + 1, 0

    def as_one(self):
        return nullcontext()


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
        self.texts = Texts(self.TEXTS)
        font = fonts.text(20)
        self.sheet = Sheet(self.texts, self.texts.shown, self.texts, font, "Plain sheet")
        self.texts.refresh = self.sheet.refresh
        self.sheet.resize(500, 300)
        self.sheet.show()
        self.sheet.setFocus()
        self.sheet.reset()
        QApplication.processEvents()
        self.addCleanup(self.sheet.deleteLater)

    def key(self, key, modifier=Qt.KeyboardModifier.NoModifier):
        QTest.keyClick(self.sheet, key, modifier)


class FromTheRight(SheetTest):
    TEXTS = ("The drains had been dug.", "בנינו את הסכרים אחד אחרי השני")

    def test_a_text_that_runs_to_the_left_begins_at_the_right(self):
        geometry = self.sheet.row_geometry
        area = geometry.text_area(1)
        first, last = (geometry.edge_area((1, n)).left() for n in (0, len(self.TEXTS[1])))
        self.assertAlmostEqual(first, area.right(), delta=3)
        self.assertLess(last, first - 100)
        self.assertAlmostEqual(geometry.edge_area((0, 0)).left(), area.left(), delta=3)
        where = QPointF(first - 4, geometry.edge_area((1, 0)).center().y())
        self.assertEqual(geometry.place_at(where)[0], 1)
        self.assertLess(geometry.place_at(where)[1], 3)


class Caret(SheetTest):
    def test_by_words_and_over_the_ends_of_rows(self):
        places = []
        for _ in range(7):
            self.key(KEY.Key_Right, CTRL)
            places.append(self.sheet.caret.place)
        self.assertEqual(places[:2], [(0, 4), (0, 11)])
        self.assertEqual(places[-1][0], 1)
        self.key(KEY.Key_Left, CTRL)
        self.assertEqual(self.sheet.caret.place, (0, len(self.TEXTS[0])) if places[-1] == (1, 0)
                         else (1, 0))  # fmt: skip

    def test_home_and_end_are_those_of_the_line(self):
        self.sheet.caret.set((1, 3))
        self.key(KEY.Key_End)
        first_end = self.sheet.caret.place[1]
        self.assertTrue(10 < first_end < len(self.TEXTS[1]))
        self.key(KEY.Key_Right)
        self.key(KEY.Key_Home)
        self.assertEqual(self.sheet.caret.place, (1, first_end + 1))
        self.key(KEY.Key_End)
        self.key(KEY.Key_End, CTRL)
        self.assertEqual(self.sheet.caret.place, (3, len(self.TEXTS[3])))

    def test_up_and_down_keep_to_their_column_over_short_rows(self):
        self.sheet.caret.set((0, 20))
        column = self.sheet.row_geometry.edge_area(self.sheet.caret.place).left()
        for _ in range(4):
            self.key(KEY.Key_Down)
        self.assertAlmostEqual(self.sheet.caret.goal, column)
        self.assertGreaterEqual(self.sheet.caret.place[0], 2)
        for _ in range(4):
            self.key(KEY.Key_Up)
        self.assertEqual(self.sheet.caret.place, (0, 20))

    def test_at_the_ends_up_goes_home_and_down_to_the_end(self):
        self.sheet.caret.set((0, 5))
        self.key(KEY.Key_Up)
        self.assertEqual(self.sheet.caret.place, (0, 0))
        self.sheet.caret.set((3, 2))
        self.key(KEY.Key_Down)
        self.assertEqual(self.sheet.caret.place, (3, len(self.TEXTS[3])))

    def test_a_page_down_and_up(self):
        self.texts.texts = [f"row {n}" for n in range(200)]
        self.sheet.reset()
        self.key(KEY.Key_PageDown)
        row = self.sheet.caret.place[0]
        self.assertGreater(row, 3)
        self.key(KEY.Key_PageUp)
        self.assertLess(self.sheet.caret.place[0], 3)

    def test_every_place_can_be_reached_by_pointing(self):
        for row, offset in ((0, 0), (0, 9), (1, 60), (1, len(self.TEXTS[1])), (2, 0), (3, 4)):
            self.sheet.caret.set((row, offset))
            area = self.sheet.row_geometry.edge_area(self.sheet.caret.place)
            self.assertEqual(self.sheet.row_geometry.place_at(area.center()), (row, offset))
        self.assertEqual(self.sheet.row_geometry.place_at(QPointF(-50, -50)), (0, 0))
        self.assertEqual(self.sheet.row_geometry.place_at(QPointF(9000, 9000))[0], 3)


class Selecting(SheetTest):
    def test_with_shift_and_the_keys(self):
        self.sheet.caret.set((0, 4))
        self.key(KEY.Key_Right, CTRL | SHIFT)
        self.assertEqual(self.sheet.caret.selected_text(), "drains ")
        self.key(KEY.Key_Down, SHIFT)
        self.assertEqual(self.sheet.caret.selection()[0], (0, 4))
        self.assertIn("\nEvery", self.sheet.caret.selected_text())
        self.key(KEY.Key_Right)
        self.assertIsNone(self.sheet.caret.selection())

    def test_a_double_click_takes_the_word_and_dragging_goes_on(self):
        self.sheet.caret.set((0, 6))
        point = self.sheet.row_geometry.edge_area(self.sheet.caret.place).center().toPoint()
        QTest.mouseDClick(self.sheet.viewport(), Qt.MouseButton.LeftButton, pos=point)
        self.assertEqual(self.sheet.caret.selected_text(), "drains")
        self.sheet.caret.set((0, 0))
        start = self.sheet.row_geometry.edge_area(self.sheet.caret.place).center().toPoint()
        self.sheet.caret.set((1, 5))
        end = self.sheet.row_geometry.edge_area(self.sheet.caret.place).center().toPoint()
        QTest.mousePress(self.sheet.viewport(), Qt.MouseButton.LeftButton, pos=start)
        QTest.mouseMove(self.sheet.viewport(), end)
        QTest.mouseRelease(self.sheet.viewport(), Qt.MouseButton.LeftButton, pos=end)
        QTest.mouseClick(self.sheet.viewport(), Qt.MouseButton.LeftButton, SHIFT, end)
        self.assertEqual(self.sheet.caret.selected_text(), f"{self.TEXTS[0]}\nEvery")

    def test_all_and_typing_over_it(self):
        self.key(KEY.Key_A, CTRL)
        QTest.keyClicks(self.sheet, "Wet")
        self.assertEqual(self.texts.texts, ["Wet"])
        self.assertEqual(self.sheet.caret.place, (0, 3))


class Changing(SheetTest):
    def test_delete_and_backspace_by_letter_and_word(self):
        self.sheet.caret.set((0, 4))
        self.key(KEY.Key_Delete)
        self.key(KEY.Key_Backspace, CTRL)
        self.assertEqual(self.texts.texts[0], "rains had been dug.")
        self.key(KEY.Key_Delete, CTRL)
        self.assertEqual(self.texts.texts[0], "had been dug.")

    def test_delete_at_a_rows_end_brings_up_the_next(self):
        self.sheet.caret.set((2, 0))
        self.key(KEY.Key_Delete)
        self.assertEqual(self.texts.texts[2:], ["It was called improvement."])
        self.sheet.caret.set((0, len(self.TEXTS[0])))
        self.key(KEY.Key_Delete)
        self.assertTrue(self.texts.texts[0].startswith("The drains had been dug. Every winter"))

    def test_enter_then_backspace_is_as_before(self):
        self.sheet.caret.set((0, 11))
        self.key(KEY.Key_Return)
        self.assertEqual(self.texts.texts[:2], ["The drains", "had been dug."])
        self.key(KEY.Key_Backspace)
        self.assertEqual(self.texts.texts, list(self.TEXTS))

    def test_a_letter_of_several_code_points_goes_as_one(self):
        self.texts.texts[0] = "x👩‍🌾y"
        self.sheet.reset()
        self.sheet.caret.set((0, len(self.texts.texts[0]) - 1))
        self.key(KEY.Key_Left)
        self.assertEqual(self.sheet.caret.place[0], 0)
        self.assertLessEqual(self.sheet.caret.place[1], 1 + 2)

    def test_cut_and_paste_move_text(self):
        self.sheet.caret.set((0, 0))
        self.sheet.caret.set((0, 4), keep_anchor=True)
        self.key(KEY.Key_X, CTRL)
        self.assertEqual(QGuiApplication.clipboard().text(), "The ")
        self.sheet.caret.set((3, 0))
        self.key(KEY.Key_V, CTRL)
        QTest.keyClicks(self.sheet, " ")
        self.assertEqual(self.texts.texts[3], "The It was called improvement.")

    def test_an_empty_sheet_takes_no_harm(self):
        self.texts.texts = []
        self.sheet.reset()
        for key in (KEY.Key_Right, KEY.Key_Down, KEY.Key_Delete, KEY.Key_A, KEY.Key_Return):
            self.key(key)
        self.sheet.editing.paste()
        self.sheet.caret.select_all()
        self.assertEqual(self.texts.texts, [])
        self.assertIsNone(self.sheet.row_geometry.place_at(QPointF(5, 5)))

    def test_rows_keep_their_places_when_one_above_grows(self):
        self.texts.texts = [f"row {n}" for n in range(100)]
        self.sheet.reset()
        area = self.sheet.row_geometry.row_area
        before = area(50).height()
        self.sheet.caret.set((3, 5))
        QTest.keyClicks(self.sheet, " and more and more and more and more and more and more")
        self.assertAlmostEqual(area(50).height(), before)
        self.assertGreater(area(3).height(), area(4).height())
        self.assertTrue(all(area(n).bottom() == area(n + 1).top() for n in range(99)))

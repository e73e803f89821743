"""The loupe: edges and words by key and by mouse, with snapping and without overlaps."""

from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tamarind.desktop.proof.loupe import _RULER, _SOUND, Edge
from tamarind.transcript import edits
from tests.desktop.test_proof import ALT, CTRL, KEY, SHIFT, ProofTest


class LoupeTest(ProofTest):
    def setUp(self):
        super().setUp()
        self.sheet.cue_caret.go_to((4, 0))
        self.key(KEY.Key_X, ALT)
        self.loupe = self.window.proof.loupe.shown
        self.before = self.text

    def cue(self):
        return self.text.cues[4]

    def drag(self, x, to, y, *modifiers):
        joined = Qt.KeyboardModifier.NoModifier
        for modifier in modifiers:
            joined |= modifier
        start, end = QPoint(round(x), y), QPoint(round(to), y)
        QTest.mousePress(self.loupe, Qt.MouseButton.LeftButton, joined, start)
        for share in (0.3, 0.7, 1.0):
            point = start + (end - start) * share
            QTest.mouseMove(self.loupe, point)
            event_at = self.loupe.mapToGlobal(point)
            self.loupe.mouseMoveEvent(_move(point, event_at, joined))
        QTest.mouseRelease(self.loupe, Qt.MouseButton.LeftButton, joined, end)
        QApplication.processEvents()


def _move(point, at, modifiers):
    return QMouseEvent(
        QEvent.Type.MouseMove, QPointF(point), QPointF(at), Qt.MouseButton.NoButton,
        Qt.MouseButton.LeftButton, modifiers,
    )  # fmt: skip


class Opening(LoupeTest):
    def test_it_lies_under_its_cue_and_the_next_one_below_it(self):
        text = self.sheet.row_geometry.text_area(4)
        self.assertGreaterEqual(self.loupe.y(), text.bottom())
        self.assertGreaterEqual(
            self.sheet.row_geometry.row_area(5).top() + 1, self.loupe.y() + self.loupe.height()
        )
        self.assertIs(QApplication.focusWidget(), self.loupe)

    def test_escape_closes_it_and_gives_the_room_back(self):
        height = self.sheet.row_geometry.row_area(4).height()
        self.key(KEY.Key_Escape)
        self.assertLess(self.sheet.row_geometry.row_area(4).height(), height - 100)
        self.assertIs(QApplication.focusWidget(), self.sheet)
        self.assertIsNone(self.window.proof.loupe.shown)

    def test_it_goes_to_the_neighbour_and_stays_with_its_cue(self):
        self.key(KEY.Key_Down)
        self.assertEqual(self.sheet.overlay.thing, 5)
        self.assertEqual(self.loupe.cue, self.text.cues[5])
        self.session.texts.edit(self.session.shown, "x", edits.delete(self.text, 0))
        self.assertEqual(self.loupe.cue, self.text.cues[4])
        self.assertEqual(self.sheet.overlay.thing, 4)


class ByKey(LoupeTest):
    def test_edges_are_chosen_moved_and_told(self):
        self.assertIn("start of the cue", self.loupe.accessibleDescription())
        before = self.cue()
        self.key(KEY.Key_Right, SHIFT)
        self.assertEqual(self.cue().start, before.start + 10)
        self.key(KEY.Key_Right)
        word = self.cue().words[0]
        self.assertIn(f"“{word.text}”", self.loupe.accessibleDescription())
        self.key(KEY.Key_Right, SHIFT)
        self.assertEqual(self.cue().words[0].start, word.start + 10)
        self.assertEqual(self.on_disk().cues[4], self.cue())

    def test_a_border_of_words_moves_both(self):
        number = next(n for n, edge in enumerate(self.loupe.edges()) if edge.kind == "border")
        for _ in range(number):
            self.key(KEY.Key_Right)
        word = self.loupe.edges()[number].word
        end = self.cue().words[word - 1].end
        self.key(KEY.Key_Left, SHIFT)
        words = self.cue().words
        self.assertEqual((words[word - 1].end, words[word].start), (end - 10, end - 10))

    def test_it_plays_its_cue(self):
        asked = []
        self.loupe.play_asked.connect(lambda *span: asked.append(span))
        self.key(KEY.Key_Return)
        self.assertEqual(asked, [(self.cue().start, self.cue().end)])
        self.window.player.stop()


class ByMouse(LoupeTest):
    def test_a_drag_of_the_end_is_one_step(self):
        before = self.cue()
        x = self.loupe.x_at(before.end)
        self.drag(x, x - 60, _RULER + 20, ALT)
        self.assertLess(self.cue().end, before.end - 100)
        self.assertEqual([w.text for w in self.cue().words], [w.text for w in before.words])
        self.window.proof.loupe.close()
        self.key(KEY.Key_Z, CTRL)
        self.assertEqual(self.text, self.before)

    def test_cues_overlap_only_if_asked(self):
        following = self.text.cues[5]
        x = self.loupe.x_at(self.cue().end)
        self.drag(x, x + 90, _RULER + 20, ALT)
        self.assertLessEqual(self.cue().end, following.start)
        x = self.loupe.x_at(self.cue().end)
        self.drag(x, x + 90, _RULER + 20, ALT, CTRL)
        self.assertGreater(self.cue().end, following.start)

    def test_a_word_is_dragged_below_the_sound(self):
        edge = self.loupe.edges()[2]
        x = self.loupe.x_at(edge.time)
        self.drag(x, x + 4, _RULER + _SOUND + 10, ALT)
        self.assertNotEqual(self.cue().words, self.before.cues[4].words)
        self.assertEqual(self.cue().start, self.before.cues[4].start)

    def test_it_snaps_to_a_neighbour_and_to_where_speech_starts(self):
        self.wait(lambda: self.session.sounds.has(self.session.shown))
        neighbour = self.text.cues[5].start
        self.assertEqual(self.loupe.snapped(neighbour + 8), neighbour)
        edges = self.loupe.speech_edges()
        self.assertTrue(edges)
        first = self.cue().words[0].start
        nearest = min(abs(edge - first) for edge in edges)
        self.assertLess(nearest, 120)

    def test_far_from_any_edge_it_plays(self):
        asked = []
        self.loupe.play_asked.connect(lambda *span: asked.append(span))
        middle = (self.cue().start + self.cue().end) // 2
        QTest.mouseClick(
            self.loupe,
            Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
            QPoint(round(self.loupe.x_at(middle)), _RULER + 30),
        )
        self.window.player.stop()
        self.assertAlmostEqual(asked[0][0], middle, delta=20)
        self.assertEqual(self.text, self.before)

    def test_an_edge_cannot_pass_the_other(self):
        cue = self.cue()
        self.loupe.move_edge(Edge("start", None, cue.start), cue.end + 5_000)
        self.assertLess(self.cue().start, self.cue().end)
        self.loupe.move_edge(Edge("end", 0, 0), -500)
        word = self.cue().words[0]
        self.assertLess(word.start, word.end)

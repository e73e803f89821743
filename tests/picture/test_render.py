import unittest
from dataclasses import replace

import numpy as np

from tamarind.picture.faces import missing
from tamarind.picture.frames import Stage
from tamarind.picture.lookbook import SHIPPED
from tamarind.picture.looks import (
    Box,
    Coming,
    Face,
    Ground,
    Letters,
    Look,
    Place,
    SecondLanguage,
    SpeakerSign,
    Standing,
    Weight,
    Words,
)
from tamarind.picture.render import draw
from tamarind.picture.setting import placed_lines
from tests.picture.made import caption

HD = (1280, 720)
PLAIN = Look("plain", ground=Ground(Box.NONE))
LIT = Look("lit", ground=Ground(Box.NONE), words=Words(Coming.LIT, lit="#ff0000"))
SAID = "The sluice was open"


def order(text, look=PLAIN):
    """The numbers of a line's words from left to right."""
    line = placed_lines(caption(text), look, HD)[0].line
    return [word.number for _, word in line.words]


def reds(drawing):
    """The columns in which letters are red."""
    red, green, blue, cover = (drawing.rgba[..., at].astype(int) for at in range(4))
    return np.flatnonzero(((cover > 200) & (red > 200) & (green < 60) & (blue < 60)).any(axis=0))


class Drawn(unittest.TestCase):
    def test_every_look_stays_in_the_safe_area_of_every_picture(self):
        for size in (HD, (1920, 1080), (640, 360), (1080, 1080), (1080, 1920), (96, 64)):
            for key, look in SHIPPED.items():
                drawing = draw(caption(SAID, "all winter long"), look, size, 9)
                said = f"{key} {size}"
                self.assertGreater(drawing.rgba[..., 3].max(), 150, said)
                self.assertGreaterEqual(drawing.left, 0, said)
                self.assertLessEqual(drawing.right, size[0], said)
                margin = look.standing.safe * size[1] * 0.4
                self.assertGreaterEqual(drawing.top, margin, said)
                self.assertLessEqual(drawing.bottom, size[1] - margin + 2, said)

    def test_a_line_that_is_too_long_gets_smaller_and_then_goes_on_below(self):
        long = " ".join([SAID] * 12)
        drawing = draw(caption(long), PLAIN, HD)
        self.assertLessEqual(drawing.rgba.shape[1], HD[0] * PLAIN.standing.width + 2)
        self.assertGreater(len(placed_lines(caption(long), PLAIN, HD)), 1)
        # Even one word that is wider than the picture is not lost.
        self.assertTrue(draw(caption("peat" * 60), PLAIN, HD).rgba.size)

    def test_on_a_tiny_picture_nothing_is_drawn(self):
        self.assertFalse(draw(caption(SAID), PLAIN, (2, 2)).rgba.size)

    def test_the_size_goes_by_the_height_of_the_picture(self):
        small, large = (draw(caption(SAID), PLAIN, size) for size in (HD, (2560, 1440)))
        ratio = large.rgba.shape[1] / small.rgba.shape[1]
        self.assertAlmostEqual(ratio, 2, delta=0.03)

    def test_words_from_right_to_left_stand_so_with_numbers_and_names_among_them(self):
        self.assertEqual(order(SAID), [0, 1, 2, 3])
        self.assertEqual(order("ثم عاد الماء"), [2, 1, 0])
        self.assertEqual(order("كان جافا في 2019"), [3, 2, 1, 0])
        self.assertEqual(order("عاد إلى Callow Moss أمس"), [4, 2, 3, 1, 0])
        self.assertEqual(order("He said הביצה יבשה again"), [0, 1, 3, 2, 4])

    def test_the_said_word_is_lit_and_only_it(self):
        self.assertFalse(len(reds(draw(caption(SAID), LIT, HD, 0))))
        second, last = (reds(draw(caption(SAID), LIT, HD, said)) for said in (2, 4))
        self.assertTrue(len(second) and len(last))
        self.assertLess(second.max(), last.min())

    def test_words_come_one_by_one_and_stay_where_they_are(self):
        look = replace(PLAIN, words=Words(Coming.WORDS))
        one, all_ = draw(caption(SAID), look, HD, 1), draw(caption(SAID), look, HD, 4)
        self.assertEqual(one.left, all_.left)
        self.assertLess(one.right, all_.right - 100)
        whole = draw(caption(SAID), PLAIN, HD)
        self.assertEqual((whole.left, whole.right), (all_.left, all_.right))
        self.assertFalse(draw(caption(SAID), look, HD, 0).rgba.size)

    def test_who_speaks_is_shown_by_name_or_by_colour_and_dash(self):
        def first(sign):
            look = replace(PLAIN, words=Words(speakers=sign))
            said = caption(SAID, speaker="Maren Tull", voice=1, changes=True)
            line = placed_lines(said, look, HD)[0].line
            return "".join(run.text for run in line.words[0][1].runs)

        self.assertEqual(first(SpeakerSign.NONE), "The")
        self.assertEqual(first(SpeakerSign.NAME), "Maren")
        self.assertEqual(first(SpeakerSign.COLOUR), "–")

    def test_a_second_language_stands_below_or_above(self):
        said = caption(SAID, second=caption("Die Schleuse war offen").lines)
        for above in (False, True):
            lines = placed_lines(said, replace(PLAIN, second=SecondLanguage(above)), HD)
            self.assertEqual([line.is_first for line in lines], [not above, above])
            self.assertLess(lines[0].baseline, lines[1].baseline)

    def test_capitals_are_letters_that_have_one(self):
        look = replace(PLAIN, letters=Letters(capitals=True))
        line = placed_lines(caption("Straße im Moor"), look, HD)[0].line
        told = ["".join(run.text for run in word.runs) for _, word in line.words]
        self.assertEqual(told, ["STRAßE", "IM", "MOOR"])

    def test_letters_that_no_font_has_are_told(self):
        self.assertEqual(missing("Peat – болото, moss", Face.PLAIN, Weight.BOLD), "")
        self.assertEqual(missing("a \U0001f9ff\uf8ff b", Face.PLAIN, Weight.BOLD)[-1:], "\uf8ff")


class Standing_(unittest.TestCase):
    def stage(self, *captions, look=PLAIN):
        return Stage(captions, lambda place: look)

    def test_captions_at_one_time_do_not_cover_one_another(self):
        for place in (Place.BOTTOM, Place.TOP):
            look = replace(PLAIN, standing=Standing(place))
            first, second = caption(SAID, end=3_000), caption("and wet", start=1_000, end=2_000)
            alone = [draw(one, look, HD).rgba.shape[0] for one in (first, second)]
            both = self.stage(first, second, look=look).drawing(1_500, HD)
            self.assertGreaterEqual(both.rgba.shape[0], sum(alone))
            self.assertIsNone(self.stage(first, second, look=look).drawing(3_000, HD))

    def test_the_same_drawing_stays_as_long_as_nothing_changes(self):
        stage = self.stage(caption(SAID), look=LIT)
        self.assertIs(stage.drawing(310, HD), stage.drawing(590, HD))
        self.assertIsNot(stage.drawing(610, HD), stage.drawing(590, HD))

    def test_a_cue_that_wants_to_stand_above_does(self):
        low, high = (draw(caption(SAID, place=place), PLAIN, HD) for place in (None, Place.TOP))
        self.assertLess(high.bottom, low.top)


if __name__ == "__main__":
    unittest.main()

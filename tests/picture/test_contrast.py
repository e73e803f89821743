import unittest
from dataclasses import replace

import av
import numpy as np

from tamarind.picture.contrast import contrast
from tamarind.picture.lookbook import SHIPPED
from tamarind.picture.looks import LEAST_CONTRAST, Box, Coming, Ground, Letters, Look
from tests.picture.made import caption

SAID = caption("The sluice was open", "all winter long", voice=1)


def frame(grey):
    pixels = np.full((720, 1280, 3), grey, np.uint8)
    return av.VideoFrame.from_ndarray(pixels, "rgb24").reformat(format="yuv420p")


class Contrasts(unittest.TestCase):
    def test_plain_letters_stand_out_from_what_is_far_from_their_colour(self):
        look = Look("plain", ground=Ground(Box.NONE))
        self.assertGreater(contrast(frame(0), SAID, look), 19)
        self.assertLess(contrast(frame(235), SAID, look), 1.5)
        dark = replace(look, letters=Letters(colour="#101010"))
        self.assertLess(contrast(frame(0), SAID, dark), 1.5)

    def test_an_outline_or_a_box_makes_them_readable_on_anything(self):
        for ground in (0, 120, 255):
            for key, look in SHIPPED.items():
                if look.words.coming is Coming.WORDS:
                    continue
                found = contrast(frame(ground), SAID, look)
                self.assertGreaterEqual(found, LEAST_CONTRAST, (key, ground))

    def test_the_worst_part_of_the_picture_counts(self):
        pixels = np.zeros((720, 1280, 3), np.uint8)
        pixels[:, 640:] = 250
        half = av.VideoFrame.from_ndarray(pixels, "rgb24").reformat(format="yuv420p")
        self.assertLess(contrast(half, SAID, Look("plain", ground=Ground(Box.NONE))), 2)


if __name__ == "__main__":
    unittest.main()

"""Single frames at given times."""

import numpy as np
from scipy.io import wavfile

from tamarind.audio.media import MediaError
from tamarind.picture.contrast import least_contrast, on_box
from tamarind.picture.lookbook import SHIPPED
from tamarind.picture.looks import LEAST_CONTRAST, Box, Ground, Letters, Look
from tamarind.picture.stills import stills
from tests.picture.made import caption, make_video, pixels
from tests.support import FolderTest


class Stills(FolderTest):
    def test_each_is_the_frame_that_stands_at_its_time(self):
        path = make_video(self.folder / "a.mp4", frames=100)
        for place, frame in enumerate(stills(path, [0, 450, 2_000, 9_950, 20_000])):
            number = (0, 4, 20, 99, 99)[place]
            seen = frame.reformat(320, 180, "rgb24").to_ndarray().astype(int)
            near = np.abs(seen - pixels(number)).mean()
            others = [np.abs(seen - pixels(number + step)).mean() for step in (-3, 3)]
            self.assertLess(near, min(others))

    def test_what_has_no_picture_is_told(self):
        path = self.folder / "a.wav"
        wavfile.write(path, 16_000, np.zeros(16_000, np.int16))
        with self.assertRaises(MediaError):
            list(stills(path, [0]))


class Readable(FolderTest):
    def test_a_box_makes_any_letters_stand_out_and_all_that_ship_do(self):
        said = caption("The sluice was open", "all winter.")
        for colour in ("#ffffff", "#101010", "#c02020", "#808080"):
            look = Look("x", Letters(colour=colour), Ground(Box.NONE))
            self.assertLess(least_contrast(look, said), LEAST_CONTRAST)
            boxed = least_contrast(on_box(look), said)
            self.assertGreater(boxed, LEAST_CONTRAST - 0.3, colour)
        for look in SHIPPED.values():
            self.assertGreaterEqual(least_contrast(look, said), LEAST_CONTRAST, look.name)

import unittest

import av
import numpy as np

from tamarind.picture.compose import compose, compose_mask
from tamarind.picture.drawing import Drawing

GREEN, PINK = (90, 140, 60), (230, 30, 200)


def ground(size=(66, 50)):
    rgb = np.full((size[1], size[0], 3), GREEN, np.uint8)
    frame = av.VideoFrame.from_ndarray(rgb, "rgb24").reformat(
        format="yuv420p", dst_colorspace="ITU601", dst_color_range="MPEG"
    )
    frame.colorspace, frame.color_range = 5, 1
    return frame


def seen(frame):
    return frame.reformat(
        format="rgb24", src_colorspace="ITU601", src_color_range="MPEG"
    ).to_ndarray().astype(int)  # fmt: skip


def block(left, top, cover, size=(20, 12)):
    rgba = np.zeros((size[1], size[0], 4), np.uint8)
    rgba[...] = (*PINK, cover)
    return Drawing(left, top, rgba)


class Composed(unittest.TestCase):
    def test_colours_are_mixed_by_how_much_covers_and_all_else_stays(self):
        for cover in (255, 128, 40):
            before, after = seen(ground()), seen(compose(ground(), block(20, 16, cover)))
            wanted = np.array(GREEN) + (np.array(PINK) - GREEN) * cover / 255
            inside = after[18:26, 22:38].reshape(-1, 3)
            self.assertLess(np.abs(inside - wanted).max(), 4, cover)
            after[14:30, 18:42] = before[14:30, 18:42]
            self.assertTrue((after == before).all())

    def test_it_may_lie_on_odd_places_and_over_the_edges(self):
        for left, top in ((3, 5), (-7, 40), (60, -5), (-4, -4), (64, 48)):
            frame = compose(ground(), block(left, top, 255))
            rows = np.frombuffer(memoryview(frame.planes[0]), np.uint8)
            luma = rows.reshape(50, frame.planes[0].line_size)[:, :66]
            changed = luma != luma[25, 33] if (left, top) != (3, 5) else luma != luma[40, 60]
            part = changed[max(top, 0) : max(top + 12, 0), max(left, 0) : max(left + 20, 0)]
            self.assertTrue(part.all())
            self.assertEqual(changed.sum(), part.sum())
        off = ground()
        before = bytes(off.planes[0])
        self.assertEqual(bytes(compose(off, block(70, 5, 255)).planes[0]), before)

    def test_pictures_of_odd_size_are_drawn_on_too(self):
        frame = av.VideoFrame.from_ndarray(np.full((49, 65, 3), GREEN, np.uint8), "rgb24")
        drawn = compose(frame, block(50, 40, 255))
        self.assertEqual((drawn.width, drawn.height, drawn.format.name), (65, 49, "yuv420p"))

    def test_one_colour_is_laid_as_a_drawing_of_it_is(self):
        cover = (np.arange(20 * 12) % 256).astype(np.uint8).reshape(12, 20)
        rgba = np.dstack([np.full((12, 20, 3), PINK, np.uint8), cover])
        one = compose(ground(), Drawing(8, 6, rgba))
        colour = "#{:02x}{:02x}{:02x}".format(*PINK)
        other = compose_mask(ground(), 8, 6, cover, colour)
        difference = np.abs(seen(one) - seen(other))
        self.assertLessEqual(difference.max(), 6)


if __name__ == "__main__":
    unittest.main()

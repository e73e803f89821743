import av
import numpy as np

from tamarind.audio.media import MediaError
from tamarind.picture.shots import ShotsMeanwhile, find_shots, kept_shots
from tests.support import DEMO, FolderTest, tone, write_wav

RATE = 12


class Shots(FolderTest):
    def video(self, pictures):
        """A short film, a second each of what is given: a grey level, or "moving"."""
        path = self.folder / "film.mp4"
        rng = np.random.default_rng(1)
        with av.open(str(path), "w") as out:
            stream = out.add_stream("mpeg4", rate=RATE)
            stream.width, stream.height, stream.pix_fmt = 160, 96, "yuv420p"
            across = 128 + 70 * np.sin(np.arange(400) / 17)
            scene = (across + rng.integers(-20, 20, (96, 400))).astype(np.uint8)
            step = 0
            for picture in pictures:
                for _ in range(RATE):
                    step += 3
                    if picture == "moving":
                        grey = scene[:, step : step + 160]
                    else:
                        grey = np.full((96, 160), picture, np.uint8)
                    frame = av.VideoFrame.from_ndarray(np.stack([grey] * 3, 2), "rgb24")
                    out.mux(stream.encode(frame))
            out.mux(stream.encode())
        return path

    def test_cuts_are_found_and_movement_is_none(self):
        path = self.video([30, 200, 200, "moving", "moving", 90])
        shots = find_shots(path)
        self.assertEqual([round(shot / 1000) for shot in shots], [1, 3, 5])
        self.assertEqual(kept_shots(path), shots)

    def test_slides_that_change_a_little_are_found(self):
        shots = kept_shots(DEMO / "media" / "Water table lecture.mp4")
        self.assertEqual([round(shot / 1000, 1) for shot in shots], [21.2, 43.2, 77.2])

    def test_they_are_found_while_something_else_goes_on(self):
        path = self.video([30, 200, 200, "moving", "moving", 90])
        whole = find_shots(path)
        for _ in range(2):
            meanwhile = ShotsMeanwhile(path)
            self.assertEqual(meanwhile.until(1_500)[:1], whole[:1])
            self.assertEqual(meanwhile.until(60_000), whole)
            meanwhile.close()
        for none in (write_wav(self.folder / "a.wav", tone(1)), self.folder / "none.mp4"):
            self.assertEqual(ShotsMeanwhile(none).until(10_000), ())

    def test_sound_alone_has_none_and_no_file_is_told(self):
        self.assertEqual(find_shots(write_wav(self.folder / "a.wav", tone(1))), ())
        with self.assertRaises(MediaError):
            kept_shots(self.folder / "none.mp4")

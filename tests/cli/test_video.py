"""``tamarind video``: captions on videos without a window."""

import shutil

import av

from tests.cli.support import CommandTest
from tests.picture.made import frames_of, make_video, packets_of
from tests.support import DEMO, tone, write_wav

SRT = "1\n00:00:00,500 --> 00:00:01,500\nThe sluice\n"


class Videos(CommandTest):
    def setUp(self):
        super().setUp()
        make_video(self.folder / "moss.mp4")
        (self.folder / "en.srt").write_text(SRT)
        (self.folder / "de.vtt").write_text(
            "WEBVTT\nLanguage: de\n\n00:00.500 --> 00:01.500\nDie Schleuse\n"
        )

    def test_captions_are_drawn_in_a_look_and_shape_on_a_part(self):
        status, _, said = self.run_command(
            "video", "moss.mp4", "--captions", "en.srt", "-o", "out.mp4", "--caption-style",
            "torch", "--shape", "square", "--filling", "cut", "--from", "0:01", "--until", "0:02",
        )  # fmt: skip
        self.assertEqual((status, said), (0, "tamarind: out.mp4\n"))
        written = frames_of(self.folder / "out.mp4")
        self.assertEqual((written[0][1].width, written[0][1].height), (180, 180))
        self.assertEqual(len(written), 10)

    def test_letters_that_no_font_has_are_told_before(self):
        (self.folder / "odd.srt").write_text(SRT.replace("sluice", "slu\uf8ffice"))
        status, _, said = self.run_command(
            "video", "moss.mp4", "--captions", "odd.srt", "-o", "out.mp4"
        )
        self.assertEqual(status, 0)
        self.assertIn("no font here has \uf8ff", said.splitlines()[0])

    def test_a_video_without_sound_is_one_too(self):
        make_video(self.folder / "mute.mp4", sounds=0)
        for more in ((), ("--switchable",)):
            status, _, said = self.run_command(
                "video", "mute.mp4", "--captions", "en.srt", "-o", "out.mkv", "--overwrite", *more
            )
            self.assertEqual(status, 0, said)

    def test_tracks_are_added_in_their_languages(self):
        status, _, _ = self.run_command(
            "video", "moss.mp4", "--captions", "en.srt", "de.vtt", "-o", "out.mkv", "--switchable"
        )
        self.assertEqual(status, 0)
        source, made = self.folder / "moss.mp4", self.folder / "out.mkv"
        self.assertEqual(packets_of(made, "video"), packets_of(source, "video"))
        with av.open(str(made)) as read:
            languages = [one.metadata["language"] for one in read.streams.subtitles]
        self.assertEqual(languages, ["eng", "ger"])

    def test_what_goes_wrong_is_told_with_its_status(self):
        write_wav(self.folder / "tone.wav", tone(1.0))
        (self.folder / "there.mp4").write_text("mine")
        before = (self.folder / "moss.mp4").read_bytes()
        base = ("video", "moss.mp4", "--captions", "en.srt", "-o")
        for arguments, status, words in (
            (("video", "moss.mp4", "-o", "out.mp4"), 2, "--captions"),
            ((*base, "out.avi"), 2, ".mp4"),
            ((*base, "out.mp4", "--caption-style", "fog"), 2, "no caption style"),
            ((*base, "there.mp4"), 3, "--overwrite"),
            ((*base, "moss.mp4", "--overwrite"), 3, "the recording itself"),
            (("video", "gone.mp4", "--captions", "en.srt", "-o", "out.mp4"), 2, "gone.mp4"),
            (("video", "moss.mp4", "--captions", "gone.srt", "-o", "out.mp4"), 2, "gone.srt"),
            (
                ("video", "tone.wav", "--captions", "en.srt", "-o", "o.mp4", "--switchable"),
                2,
                "picture",
            ),
        ):
            got, _, said = self.run_command(*arguments)
            self.assertEqual(got, status, said)
            self.assertIn(words, said)
        self.assertEqual((self.folder / "there.mp4").read_text(), "mine")
        self.assertFalse((self.folder / "out.mp4").exists())
        self.assertEqual((self.folder / "moss.mp4").read_bytes(), before)

    def test_looks_are_listed(self):
        status, told, _ = self.run_command("video", "--list-caption-styles")
        self.assertEqual(status, 0)
        self.assertIn("torch  Torch", told.splitlines())

    def test_a_job_becomes_a_video_for_each_of_its_texts(self):
        shutil.copytree(DEMO, self.folder / "demo", ignore=shutil.ignore_patterns("*.py"))
        status, _, said = self.run_command(
            "video", "demo/Peatland voices.tamarind", "-o", "made", "--until", "0:02", "--quality",
            "small",
        )  # fmt: skip
        self.assertEqual(status, 0, said)
        made = sorted(path.name for path in (self.folder / "made").iterdir())
        self.assertEqual(len(made), 4)
        self.assertIn("Water table lecture.mp4", made)

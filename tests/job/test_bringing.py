from pathlib import Path

from tamarind.job.bringing import captions_for, found, is_media, paths_in
from tests.support import FolderTest


class Bringing(FolderTest):
    def make(self, *names):
        for name in names:
            path = self.folder / name
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_text("x")

    def test_folders_are_sorted_and_what_was_named_is_taken_at_its_word(self):
        self.make("in/b.MP3", "in/a.opus", "in/sub/c.vtt", "in/sub/d.jpg", "in/.e.wav", "odd.xyz")
        heap = found([self.folder / "in", self.folder / "odd.xyz"])
        self.assertEqual([p.name for p in heap.media], ["a.opus", "b.MP3", "odd.xyz"])
        self.assertEqual([p.name for p in heap.captions], ["c.vtt"])
        self.assertEqual([p.name for p in heap.skipped], ["d.jpg"])

    def test_suffixes(self):
        for name in ("a.m4a", "a.WMA", "a.mkv", "a.mts", "a.dss", "a.w64"):
            self.assertTrue(is_media(Path(name)), name)
        for name in ("a.pdf", "a.png", "a", "a.docx", "a.srt", "a.zip"):
            self.assertFalse(is_media(Path(name)), name)

    def test_captions_belong_by_name_with_or_without_a_language(self):
        files = [Path("/x/Interview 2.srt"), Path("/x/interview.en-GB.vtt"), Path("/x/inter.srt")]
        self.assertEqual(captions_for("Interview", files), files[1])
        self.assertEqual(captions_for("interview 2", files), files[0])
        self.assertIsNone(captions_for("view", files))
        self.assertIsNone(captions_for("a", [Path("a.much longer than a language.srt")]))

    def test_paths_in_a_text(self):
        self.make("one two.wav", "three.wav")
        text = (
            f'"{self.folder}/one two.wav"\n  file://{self.folder}/one%20two.wav\nthree.wav\n/no\n'
        )
        wanted = self.folder / "one two.wav"
        self.assertEqual(paths_in(text), [wanted, wanted])
        self.assertEqual(paths_in(""), [])

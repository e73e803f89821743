"""What is kept of what was made."""

from tamarind.cli.made import Ledger
from tests.support import FolderTest


class Kept(FolderTest):
    def test_two_runs_side_by_side_keep_what_each_has_made(self):
        first, second = Ledger.of(self.folder), Ledger.of(self.folder)
        for ledger, name in ((first, "a.srt"), (second, "b.srt"), (first, "c.srt")):
            target = self.folder / name
            target.write_bytes(name.encode())
            ledger.note(target, name.encode(), "mark", self.folder / "talk.wav", "settings")
            ledger.save()
        kept = Ledger.of(self.folder)
        for name in ("a.srt", "b.srt", "c.srt"):
            self.assertTrue(kept.is_done(self.folder / name, "mark", "settings"), name)
        (self.folder / "b.srt").write_text("changed by a person")
        self.assertFalse(kept.is_ours(self.folder / "b.srt"))
        self.assertFalse(kept.is_done(self.folder / "a.srt", "mark", "other settings"))

    def test_one_that_makes_no_sense_is_empty(self):
        for text in ("", "[]", "{", '{"made": 5}', '{"made": {"a": []}}', "[" * 100_000):
            (self.folder / ".tamarind-made.json").write_text(text)
            self.assertEqual(Ledger.of(self.folder).entries, {})

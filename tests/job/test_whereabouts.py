from tamarind.audio.fingerprint import fingerprint
from tamarind.job.recording import Recording
from tamarind.job.whereabouts import found_again, missing
from tests.support import FolderTest, tone, write_wav


class Whereabouts(FolderTest):
    def test_what_has_moved_is_found_by_its_name_and_contents(self):
        moved = self.folder / "new" / "deep" / "a.wav"
        for folder in (self.folder / "here", moved.parent):
            folder.mkdir(parents=True)
        there = write_wav(self.folder / "here" / "a.wav", tone(1))
        other = write_wav(self.folder / "new" / "a.wav", tone(2))
        recording = Recording(1, there, fingerprint=fingerprint(there))
        self.assertEqual(missing([recording]), [])
        there.rename(moved)
        self.assertEqual(missing([recording]), [recording])
        (found,) = found_again([recording], self.folder / "new")
        self.assertEqual(found.path, moved)
        unknown = Recording(2, there)
        self.assertEqual(found_again([unknown], self.folder / "new")[0].path, other)
        self.assertEqual(found_again([recording], self.folder / "nowhere"), [])

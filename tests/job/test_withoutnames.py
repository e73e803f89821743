"""A copy of a job without names: texts, sound, video, names of files, and the key back."""

import sqlite3

import numpy as np

from tamarind.audio import soundcache
from tamarind.job.document import Document
from tamarind.job.givenout import given_out
from tamarind.job.jobfile import JobError
from tamarind.job.keylist import KeyListError, is_encrypted, read_key_list
from tamarind.job.settings import GIVEN_OUT, GLOSSARY
from tamarind.job.store import JobStore
from tamarind.job.withoutnames import WithoutNames, names_in_job, names_left, restore_job
from tamarind.language.takingout import entries_of
from tamarind.picture.covering import Cover
from tamarind.speech.glossary import read_glossary
from tamarind.transcript.descriptions import Description
from tamarind.transcript.model import Speaker, Transcript
from tamarind.translation.tracks import Track, with_texts
from tests.support import FolderTest, cue, tone, write_wav

WORDS = ("We saw Joan Moss.", "Joan came from Penhallow with Dr Ruiz.")


class WithoutNamesTest(FolderTest):
    def setUp(self):
        super().setUp()
        self.path = self.folder / "Joan Moss interview.tamarind"
        store = JobStore(self.path)
        sound = write_wav(self.folder / "penhallow_joan.wav", tone(12))
        self.recording = store.add_recording(sound)
        cues = tuple(
            cue(
                n,
                said,
                n * 5_000 - 5_000,
                speaker=1,
                heading="At Penhallow" if n > 1 else "",
                opens_paragraph=n > 1,
            )
            for n, said in enumerate(WORDS, 1)
        )
        text = Transcript("en", cues, (Speaker(1, "Joan Moss"),))
        track = with_texts(Track("es"), cues, ("Vimos a Joan Moss.", "Joan vino de Penhallow."))
        descriptions = (Description(1, 9_000, "Joan stands up."),)
        self.document = Document(text, (track,), (), descriptions)
        store.save_document(self.recording.id, store.document(self.recording.id), self.document)
        store.save_draft(self.recording.id, cues)
        store.set_setting(GIVEN_OUT.numbered(self.recording.id).key, given_out(self.document))
        store.set_setting(GLOSSARY.key, GLOSSARY.write(read_glossary("Penhallow\nsphagnum\n")))
        self.entries = tuple(entries_of(names_in_job(store)))
        store.close()
        self.copy, self.key = self.folder / "copy", self.folder / "copy.key.json"

    def make(self, **how):
        WithoutNames(self.path, self.copy, self.entries, self.key, **how).fill()

    def job(self):
        (path,) = self.copy.glob("*.tamarind")
        return path

    def heard(self):
        """The sound of the copy and of the original, at the rate of hearing."""
        paths = next(self.copy.glob("*.flac")), self.folder / "penhallow_joan.wav"
        sounds = [np.asarray(soundcache.fetch(path).samples(), float) for path in paths]
        return [sound / max(np.abs(sounds[1]).max(), 1e-9) for sound in sounds]


class Copies(WithoutNamesTest):
    def test_nobody_can_be_told_from_a_copy(self):
        self.make()
        self.assertEqual(names_left(self.copy, self.entries), [])
        whole = b"".join(path.read_bytes() for path in self.copy.iterdir())
        for name in (b"Joan", b"Moss", b"Penhallow", b"Ruiz", b"penhallow"):
            self.assertNotIn(name, whole)
        store = JobStore(self.job())
        (recording,) = store.recordings()
        said = [one.text for one in store.document(recording.id).transcript.cues]
        self.assertFalse(store.setting(GIVEN_OUT.numbered(recording.id).key))
        store.close()
        self.assertEqual(said[0], "We saw Person 1.")
        self.assertTrue(recording.path.is_file())
        self.assertEqual(self.path.read_bytes()[:6], b"SQLite")

    def test_the_words_cannot_be_heard_and_all_else_is_as_it_was(self):
        self.make(margin=50)
        copy, original = self.heard()
        words = self.document.transcript.cues[0].words
        rate = 16_000
        first, last = (words[2].start - 50) * rate // 1000, (words[3].end + 50) * rate // 1000
        middle = copy[first + 200 : last - 200]
        self.assertLess(np.abs(middle).max(), 0.001)
        before = slice(0, first - 400)
        self.assertLess(np.abs(copy[before] - original[before]).max(), 0.001)
        self.assertEqual(len(copy), len(original))

    def test_a_tone_is_heard_instead(self):
        self.make(cover=Cover.TONE)
        copy, _ = self.heard()
        words = self.document.transcript.cues[0].words
        part = copy[words[2].start * 16 : words[3].end * 16]
        strength = np.abs(np.fft.rfft(part))
        self.assertAlmostEqual(np.argmax(strength) * 16_000 / len(part), 1_000, delta=5)

    def test_the_key_restores_the_texts(self):
        self.make()
        keys = read_key_list(self.key.read_text())
        self.assertEqual(restore_job(self.job(), keys), 0)
        store = JobStore(self.job())
        back = store.document(store.recordings()[0].id)
        store.close()
        text = self.document.transcript
        self.assertEqual([c.text for c in back.transcript.cues], [c.text for c in text.cues])
        self.assertEqual([c.heading for c in back.transcript.cues], [c.heading for c in text.cues])
        self.assertEqual(back.transcript.speakers, text.speakers)
        self.assertEqual(
            [back.tracks[0].text(c.id) for c in text.cues],
            [self.document.tracks[0].text(c.id) for c in text.cues],
        )

    def test_an_encrypted_key_list_tells_nobody_without_its_password(self):
        self.make(password="sphagnum")
        text = self.key.read_text()
        self.assertTrue(is_encrypted(text))
        self.assertNotIn("Joan", text)
        self.assertRaises(KeyListError, read_key_list, text, "peat")
        self.assertEqual(read_key_list(text, "sphagnum").entries, self.entries)
        self.assertRaises(KeyListError, read_key_list, "{}", "")

    def test_a_name_that_was_left_is_told_where_it_stands(self):
        self.make()
        with sqlite3.connect(self.job()) as db:
            db.execute("INSERT INTO setting VALUES ('note', 'for Joan')")
        (self.copy / "ruiz.txt").write_text("")
        told = "\n".join(names_left(self.copy, self.entries))
        self.assertIn("“Joan” is in", told)
        self.assertIn("(setting)", told)
        self.assertIn("name of “ruiz.txt”", told)

    def test_what_cannot_be_made_leaves_nothing(self):
        self.copy.mkdir()
        self.assertRaises(JobError, self.make)
        self.copy.rmdir()
        (self.folder / "penhallow_joan.wav").unlink()
        with self.assertRaisesRegex(Exception, "is not found"):
            self.make()
        self.assertEqual(list(self.folder.glob(".tamarind-*")), [])
        self.assertFalse(self.key.exists())

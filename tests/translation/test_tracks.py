import shutil
import unittest
from dataclasses import replace
from pathlib import Path

from tamarind.job.document import Document
from tamarind.transcript import edits
from tamarind.translation.draft import draft
from tamarind.translation.engines.apertium import Apertium
from tamarind.translation.engines.base import TranslationError
from tamarind.translation.tracks import Track, as_transcript, to_translate, with_edit, with_texts
from tests.support import moor

SPANISH = ("¿Cómo era el páramo?", "Seco. Podías andar a los pinos.", "El agua se iba.")


class Tracks(unittest.TestCase):
    def setUp(self):
        self.text = moor()
        self.track = with_texts(Track("es"), self.text.cues, SPANISH)
        self.document = Document(self.text, (self.track,))

    def test_a_changed_source_makes_its_translation_stale(self):
        new = self.document.with_transcript(edits.set_text(self.text, 1, "Wet."))
        stale = [c.id for c in new.transcript.cues if new.track("es").is_stale(c)]
        self.assertEqual(stale, [2])
        self.assertEqual([c.id for c in to_translate(new.track("es"), new.transcript)], [2])

    def test_a_persons_translation_is_never_written_over(self):
        track = with_edit(self.track, self.text.cues[1], "Seco.")
        changed = edits.set_text(self.text, 1, "Wet.")
        self.assertTrue(track.is_stale(changed.cues[1]))
        self.assertEqual(to_translate(track, changed), [])

    def test_split_and_join_carry_the_translation_along(self):
        halves = self.document.with_transcript(edits.split(self.text, 1, 1))
        first, second = halves.transcript.cues[1:3]
        track = halves.track("es")
        self.assertEqual(f"{track.text(first.id)} {track.text(second.id)}", SPANISH[1])
        self.assertFalse(track.is_stale(first) or track.is_stale(second))
        joined = halves.with_transcript(edits.join(halves.transcript, 1))
        self.assertEqual(joined.track("es").text(2), SPANISH[1])
        self.assertFalse(joined.track("es").is_stale(joined.transcript.cues[1]))

    def test_taking_a_cue_out_takes_its_translation_out(self):
        new = self.document.with_transcript(edits.delete(self.text, 0))
        self.assertEqual(set(new.track("es").texts), {2, 3})

    def test_the_track_as_a_text_has_the_sources_times(self):
        text = as_transcript(self.track, self.text)
        self.assertEqual([c.text for c in text.cues], list(SPANISH))
        self.assertEqual([c.start for c in text.cues], [c.start for c in self.text.cues])
        self.assertEqual(text.language, "es")


class Engine(unittest.TestCase):
    def test_without_the_engine_a_sentence_says_how_to_install_it(self):
        with self.assertRaisesRegex(TranslationError, "sudo apt install apertium"):
            Apertium(Path("/nowhere")).translate(["Hello."], "en", "es")

    @unittest.skipUnless(shutil.which("apertium"), "Apertium is not installed")
    def test_english_becomes_spanish_cue_by_cue(self):
        engine = Apertium()
        self.assertIn(("en", "es"), engine.pairs())
        cues = [
            replace(moor().cues[0], words=edits.set_text(moor(), 0, text).cues[0].words)
            for text in ("The house is red.", "", "and the house is white.", "Harrow Creek")
        ]
        texts = draft(cues, engine, "en", "es")
        self.assertEqual(texts[0], "La casa es roja.")
        self.assertEqual(texts[1], "")
        self.assertEqual(texts[2], "y la casa es blanca.")
        self.assertIn("Harrow", texts[3])

    @unittest.skipUnless(shutil.which("apertium"), "Apertium is not installed")
    def test_a_pair_that_is_not_installed_is_told(self):
        with self.assertRaisesRegex(TranslationError, "from “en” to “xx”"):
            Apertium().translate(["Hello."], "en", "xx")

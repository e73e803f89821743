import shutil
import unittest
from dataclasses import replace
from pathlib import Path

from tamarind.job.document import Document
from tamarind.transcript import edits
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.translation.engines.apertium import Apertium
from tamarind.translation.engines.base import TranslationError
from tamarind.translation.tracks import (
    Track,
    as_transcript,
    by_time,
    entry_of,
    entry_row,
    to_translate,
    with_approval,
    with_doubt,
    with_edit,
    with_rewording,
    with_texts,
)
from tests.support import cue, moor

SPANISH = ("¿Cómo era el páramo?", "Seco. Podías andar a los pinos.", "El agua se iba.")


class HeardInEnglish(unittest.TestCase):
    def test_a_word_goes_to_the_cue_whose_time_it_has_or_to_the_nearest(self):
        cues = [cue(1, "agua", 1_000), cue(2, "sube", 3_000), cue(3, "hoy", 9_000)]
        cues = [replace(one, end=one.start + 1_000) for one in cues]
        words = [
            Word("early", 0, 100), Word("the", 1_200, 1_400), Word("near", 2_100, 2_200),
            Word("after", 2_700, 2_800), Word("rises", 3_500, 3_900), Word("late", 20_000, 20_100),
        ]  # fmt: skip
        self.assertEqual(by_time(cues, words), ["early the near", "after rises", "late"])
        self.assertEqual(by_time(cues, []), ["", "", ""])
        self.assertEqual(by_time([], words), [])


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

    def test_what_is_all_in_italics_is_so_in_its_translation_too(self):
        words = range(len(self.text.cues[1].words))
        whole = edits.toggle_span(self.text, [(1, n) for n in words], "i")
        told = as_transcript(self.track, edits.toggle_span(whole, [(0, 0)], "i"))
        self.assertTrue(all(word.spans == ("i",) for word in told.cues[1].words))
        self.assertFalse(any(word.spans for word in told.cues[0].words))

    def test_split_and_join_carry_the_translation_along(self):
        halves = self.document.with_transcript(edits.split(self.text, 1, 1))
        first, second = halves.transcript.cues[1:3]
        track = halves.track("es")
        self.assertEqual(f"{track.text(first.id)} {track.text(second.id)}", SPANISH[1])
        self.assertFalse(track.is_stale(first) or track.is_stale(second))
        joined = halves.with_transcript(edits.join(halves.transcript, 1))
        self.assertEqual(joined.track("es").text(2), SPANISH[1])
        self.assertFalse(joined.track("es").is_stale(joined.transcript.cues[1]))

    def cut_anew(self, *counts):
        """The same words in cues of so many; the first of each keeps its old cue's id."""
        words = [word for cue in self.text.cues for word in cue.words]
        owners = [cue.id for cue in self.text.cues for _ in cue.words]
        cues, at, ids = [], 0, set()
        for number, count in enumerate(counts):
            own = words[at : at + count]
            key = owners[at] if owners[at] not in ids else 90 + number
            ids.add(key)
            cues.append(Cue(key, own[0].start, own[-1].end, tuple(own)))
            at += count
        self.assertEqual(at, len(words))
        return replace(self.text, cues=tuple(cues))

    def test_other_cuts_share_the_translation_out_and_lose_no_word_of_it(self):
        spanish = " ".join(SPANISH).split()
        for counts in ((3, 4, 5, 7), (19,), (10, 9), (6, 2, 5, 6), (1,) * 19, (6, 7, 6)):
            with self.subTest(counts):
                new = self.document.with_transcript(self.cut_anew(*counts))
                track = new.track("es")
                told = " ".join(track.text(cue.id) for cue in new.transcript.cues).split()
                self.assertEqual(told, spanish)
                self.assertEqual(set(track.texts), {cue.id for cue in new.transcript.cues})
                self.assertFalse(any(track.is_stale(cue) for cue in new.transcript.cues))

    def test_only_cues_that_were_cut_are_touched(self):
        new = self.document.with_transcript(self.cut_anew(6, 3, 4, 6))
        track = new.track("es")
        self.assertEqual(track.text(1), SPANISH[0])
        self.assertEqual(track.text(3), SPANISH[2])
        self.assertIs(track.texts[3], self.track.texts[3])

    def test_what_was_stale_or_a_persons_stays_so_through_a_cut(self):
        track = with_edit(self.track, self.text.cues[1], "Seco. Se podía andar.")
        document = Document(self.text, (track,)).with_transcript(self.cut_anew(6, 3, 4, 6))
        parts = [document.track("es").texts[c.id] for c in document.transcript.cues[1:3]]
        self.assertTrue(all(part.by_person for part in parts))
        old = Document(edits.set_text(self.text, 1, "Wet. You could swim to the pines."), (track,))
        split = old.with_transcript(edits.split(old.transcript, 1, 3))
        self.assertTrue(all(split.track("es").is_stale(c) for c in split.transcript.cues[1:3]))
        self.assertEqual(to_translate(split.track("es"), split.transcript), [])

    def test_there_and_back_again_nothing_is_lost(self):
        new = self.document.with_transcript(self.cut_anew(4, 9, 6))
        back = new.with_transcript(self.text)
        told = " ".join(back.track("es").text(cue.id) for cue in self.text.cues)
        self.assertEqual(told, " ".join(SPANISH))

    def test_taking_a_cue_out_takes_its_translation_out(self):
        new = self.document.with_transcript(edits.delete(self.text, 0))
        self.assertEqual(set(new.track("es").texts), {2, 3})

    def test_the_track_as_a_text_has_the_sources_times(self):
        text = as_transcript(self.track, self.text)
        self.assertEqual([c.text for c in text.cues], list(SPANISH))
        self.assertEqual([c.start for c in text.cues], [c.start for c in self.text.cues])
        self.assertEqual(text.language, "es")


class Dialogues(unittest.TestCase):
    def test_two_who_speak_in_one_cue_keep_their_lines(self):
        said = cue(1, "- Who did it? - I did.", 1_000)
        text = replace(moor(), cues=(replace(said, breaks=(4,)),))
        track = with_texts(Track("es"), text.cues, ["- ¿Quién lo hizo? - Yo lo hice."])
        (shown,) = as_transcript(track, text).cues
        self.assertEqual(shown.lines, ("- ¿Quién lo hizo?", "- Yo lo hice."))


class States(unittest.TestCase):
    """What a person does with a machine's translation."""

    def setUp(self):
        self.text = moor()
        self.track = with_texts(Track("es"), self.text.cues, SPANISH)

    def test_what_is_approved_is_for_the_source_as_it_is_and_stays_when_that_changes(self):
        changed = edits.set_text(self.text, 1, "Dry. You could walk to the oaks.")
        track = with_approval(self.track, changed.cues[:2])
        self.assertFalse(track.is_stale(changed.cues[1]))
        again = edits.set_text(changed, 1, "Dry as a bone.")
        self.assertTrue(track.is_stale(again.cues[1]))
        self.assertEqual(to_translate(track, again), [])
        taken_back = with_approval(track, again.cues[:2], approved=False)
        self.assertEqual([cue.id for cue in to_translate(taken_back, again)], [again.cues[1].id])

    def test_a_doubt_is_not_approved_and_approving_settles_it(self):
        cue = self.text.cues[0]
        track = with_doubt(with_approval(self.track, [cue]), cue, True)
        self.assertEqual(track.texts[cue.id].approved, False)
        self.assertTrue(track.texts[cue.id].doubtful)
        self.assertFalse(with_approval(track, [cue]).texts[cue.id].doubtful)

    def test_every_state_is_kept_as_plain_data(self):
        for flags in range(8):
            row = ["Seco.", "mark", flags]
            self.assertEqual(entry_row(entry_of(row)), row)
        for wrong in (8, -1, "1", None):
            with self.assertRaises(ValueError):
                entry_of(["Seco.", "mark", wrong])


class AsText(unittest.TestCase):
    def test_italics_follow_the_words_that_stayed_as_they_were(self):
        words = [
            Word(text, 100 * n, 100 * n + 90, None, (), ("i",) if n in (2, 3) else ())
            for n, text in enumerate("Here grows Sphagnum palustre, mostly.".split())
        ]
        source = Transcript("en", (Cue(1, 0, 600, words=tuple(words)),))
        track = with_edit(Track("pt"), source.cues[0], "Sobretudo Sphagnum palustre cresce aqui.")
        (cue,) = as_transcript(track, source).cues
        self.assertEqual([w.text for w in cue.words if w.spans], ["Sphagnum", "palustre"])

    def test_what_is_replaced_everywhere_stays_to_be_read(self):
        source = Transcript("en", (Cue(1, 0, 600, words=(Word("Dry.", 0, 90),)),))
        track = with_texts(Track("pt"), source.cues, ["Sêco."])
        changed = with_rewording(track, source.cues, {1: "Seco.", 9: "x"})
        self.assertEqual(changed.text(1), "Seco.")
        self.assertFalse(changed.texts[1].is_settled)


class Engine(unittest.TestCase):
    def test_without_the_engine_a_sentence_says_how_to_install_it(self):
        with self.assertRaisesRegex(TranslationError, "sudo apt install apertium"):
            Apertium(Path("/nowhere")).translate(["Hello."], "en", "es")

    @unittest.skipUnless(shutil.which("apertium"), "Apertium is not installed")
    def test_a_pair_that_is_not_installed_is_told(self):
        with self.assertRaisesRegex(TranslationError, "from “en” to “xx”"):
            Apertium().translate(["Hello."], "en", "xx")

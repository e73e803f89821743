import random
import unittest
from dataclasses import replace

from tamarind.language import marks
from tamarind.language.clean import DisfluencyKind, disfluencies
from tamarind.language.dictionaries import dictionary, find
from tamarind.language.grammar import GRAMMAR, SPELLING, Grammar
from tamarind.language.housestyle import FILLERS, Dashes, Numbers, Quotes, Verbatim, Wording
from tamarind.language.numbers import changes
from tamarind.language.spokennumbers import in_words, spoken_number
from tamarind.language.styled import as_style_wants, as_verbatim
from tamarind.language.typography import restyled
from tamarind.language.verbatim import left_out
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.reconcile import letters_of
from tests.doses import dose
from tests.support import cue, words_of

CLEAN = Wording(verbatim=Verbatim.CLEAN)
EDITED = Wording(verbatim=Verbatim.EDITED)


def text_of(transcript):
    return " ".join(c.text for c in transcript.cues)


class Clean(unittest.TestCase):
    def test_fillers_repeats_and_false_starts_are_told_apart(self):
        words = "Um, we we dug wat- water, uh, that that was very very wet.".split()
        found = disfluencies(words, FILLERS)
        self.assertEqual(
            [(one.first, one.kind) for one in found],
            [
                (0, DisfluencyKind.FILLER),
                (1, DisfluencyKind.REPEAT),
                (4, DisfluencyKind.FALSE_START),
                (6, DisfluencyKind.FILLER),
            ],
        )
        again = disfluencies("I went to I went to the moor. The moor. Yes".split(), FILLERS)
        self.assertEqual([(one.first, one.last) for one in again], [(0, 3)])

    def test_a_clean_text_keeps_its_sentences(self):
        text = Transcript("en", (
            cue(1, "Um, we dug the the drains, uh.", 0, opens_paragraph=True),
            cue(2, "Er.", 9000, opens_paragraph=True), cue(3, "it was wet.", 12_000),
        ))  # fmt: skip
        clean = as_verbatim(text, CLEAN)
        self.assertEqual([c.text for c in clean.cues], ["We dug the drains.", "It was wet."])
        self.assertTrue(clean.cues[1].opens_paragraph)
        starts = {w.start for c in text.cues for w in c.words}
        self.assertTrue(all(w.start in starts for c in clean.cues for w in c.words))

    def test_marks_around_what_goes_find_another_word(self):
        for said, wanted in (
            ("Um, “we dug.” Uh. Then, er, we left.", "“We dug.” Then we left."),
            ("We dug, um, and it ran.", "We dug, and it ran."),
            ("She said: “Um, it was wet.”", "She said: “it was wet.”"),
            ("“It was wet, um.” (Er.) Yes.", "“It was wet.” Yes."),
            ("It was (um) wet (like er).", "It was wet (like)."),
            ("“Um.” It was", "It was"),
        ):
            text = Transcript("en", (cue(1, said, 0),))
            self.assertEqual(text_of(as_verbatim(text, CLEAN)), wanted)

    def test_nothing_but_disfluencies_goes(self):
        rng = random.Random(4)
        words = "um we dug dug the peat, er. That uh it was- wet, Mm. and".split()
        for _ in range(dose(100, 3_000)):
            chosen = rng.choices(words, k=rng.randint(1, 14))
            text = Transcript("en", (cue(1, " ".join(chosen), 0, breaks=()),))
            left = [letters_of(w) for w in text_of(as_verbatim(text, CLEAN)).split()]
            gone = {p for d in left_out(text, CLEAN) for p in range(d.first, d.last)}
            kept = [letters_of(w) for p, w in enumerate(chosen) if p not in gone]
            self.assertEqual(left, kept)


class Degrees(unittest.TestCase):
    def kept(self, said, wording=CLEAN, **more):
        words = words_of(said.replace("/", ""), 0)
        moved, later = [], 0
        for word, told in zip(words, said.split(), strict=True):
            later += 400 if told.startswith("/") else 0
            moved.append(replace(word, start=word.start + later, end=word.end + later))
        text = Transcript("en", (Cue(1, 0, moved[-1].end, tuple(moved), speaker=1),))
        return text_of(as_verbatim(text, replace(wording, **more)))

    def test_phrases_go_where_they_mean_nothing(self):
        for said, wanted in (
            ("We were, you know, digging.", "We were digging."),
            ("We were you know digging.", "We were digging."),
            ("You know, it was wet.", "It was wet."),
            ("I mean, the drain was sort of full.", "The drain was full."),
            ("It was /you know /wet.", "It was wet."),
            ("It kind of ran off.", "It ran off."),
        ):
            self.assertEqual(self.kept(said), wanted)

    def test_phrases_stay_where_they_mean_something(self):
        for said in (
            "Do you know the moor?", "You know what I mean.", "As you know, it was wet.",
            "This sort of moss is rare.", "What kind of peat is it?", "I mean it.",
            "It was kind of you to come.", "A different kind of water.", "If you know him, ask.",
            "You know the warden well.", "He is one of a kind. Of course.",
        ):  # fmt: skip
            self.assertEqual(self.kept(said), said)

    def test_ones_own_phrases_go_everywhere(self):
        said = "And at the end of the day the dam held."
        self.assertEqual(self.kept(said), said)
        own = ("at the end of the day",)
        self.assertEqual(self.kept(said, phrases=own), "And the dam held.")

    def test_false_starts_are_told_from_two_clauses(self):
        for said, wanted in (
            ("I was going to, I was thinking of the drain.", "I was thinking of the drain."),
            ("We went to the /we went down.", "We went down."),
            ("I think, I think we should.", "I think we should."),
            ("It was– It ran off.", "It ran off."),
            ("W-w-we dug th- the drain.", "We dug the drain."),
        ):
            self.assertEqual(self.kept(said), wanted)
        for said in (
            "We dug drains, we dug pits.", "The water rose, the water fell.",
            "He knows it, he said. He knows it well.", "It rained and it rained.",
        ):  # fmt: skip
            self.assertEqual(self.kept(said), said)

    def test_sounds_go_and_gaps_stay(self):
        self.assertEqual(self.kept("It was [laughter] wet."), "It was wet.")
        self.assertEqual(self.kept("It (clears throat) ran."), "It ran.")
        said = "It was [phone rings] wet. [inaudible 00:12:03] Then."
        self.assertEqual(self.kept(said), said)
        self.assertEqual(self.kept(said, EDITED), "It was wet. [inaudible 00:12:03] Then.")

    def test_an_edited_text_has_no_openers_nor_signs_of_listening(self):
        self.assertEqual(self.kept("So, well, it was wet. Now, go.", EDITED), "It was wet. Go.")
        self.assertEqual(self.kept("So it was. Well."), "So it was. Well.")
        cues = (
            cue(1, "We dug the drains", 0, speaker=1), cue(2, "Mm-hm.", 4_000, speaker=2),
            cue(3, "and then it ran.", 6_000, speaker=1), cue(4, "Was it wet?", 9_000, speaker=1),
            cue(5, "Yeah.", 12_000, speaker=2), cue(6, "Good.", 13_000, speaker=1),
        )  # fmt: skip
        edited = as_verbatim(Transcript("en", cues), EDITED)
        self.assertEqual([one.id for one in edited.cues], [1, 3, 4, 5, 6])
        self.assertEqual(len(as_verbatim(Transcript("en", cues), CLEAN).cues), 6)

    def test_two_speakers_who_say_the_same_both_stay(self):
        cues = cue(1, "It was the drain", 0, speaker=1), cue(2, "the drain.", 4_000, speaker=2)
        text = Transcript("en", cues)
        self.assertEqual(as_verbatim(text, CLEAN), text)


class InFigures(unittest.TestCase):
    def test_numbers_below_the_limit_are_words_and_others_figures(self):
        wording = Wording(numbers=Numbers.WORDS_BELOW)
        for said, wanted in (
            ("We have 3 dams.", "We have three dams."), ("3 dams", "Three dams"),
            ("about thirty-one years", "about 31 years"),
            ("some two hundred and six,", "some 206,"),
            ("over twelve thousand trees", "over 12,000 trees"),
        ):  # fmt: skip
            words = said.split()
            for change in reversed(changes(words, wording)):
                words[change.first : change.last] = change.new.split()
            self.assertEqual(" ".join(words), wanted)
        for right in ("5 cm deep", "nineteen sixty two", "one of them", "12 dams", "Thirty of us"):
            self.assertEqual(changes(right.split(), wording), [])

    def test_every_number_is_read_as_it_is_written_out(self):
        for value in (0, 7, 13, 20, 21, 99, 100, 101, 342, 1000, 1001, 12_345, 700_000, 2_000_019):
            words = in_words(value).split()
            self.assertEqual(spoken_number(words, 0), (value, len(words)), value)


class Marks(unittest.TestCase):
    def test_quotes_and_dashes_go_by_the_style(self):
        said = "\"It's 'wet',\" he said - and left—at once; peat-rich."
        for quotes, dashes, wanted in (
            (
                Quotes.DOUBLE, Dashes.SPACED_EN,
                "“It’s ‘wet’,” he said – and left – at once; peat-rich.",
            ),
            (Quotes.ANGLED, Dashes.EM, "«It’s “wet”,» he said—and left—at once; peat-rich."),
        ):  # fmt: skip
            wording = Wording(quotes=quotes, dashes=dashes)
            once = restyled(said, wording)
            self.assertEqual(once, wanted)
            self.assertEqual(restyled(once, wording), once)
        self.assertEqual(restyled("“a”", Wording(quotes=Quotes.STRAIGHT)), '"a"')
        self.assertEqual(restyled(said, Wording()), said)

    def test_a_document_is_as_the_style_wants_and_the_text_stays(self):
        text = Transcript("en", (cue(1, 'Um, "it was - wet."', 0),))
        wording = Wording(verbatim=Verbatim.CLEAN, quotes=Quotes.DOUBLE, dashes=Dashes.SPACED_EN)
        self.assertEqual(text_of(as_style_wants(text, wording)), "“It was – wet.”")
        self.assertEqual(text_of(text), 'Um, "it was - wet."')


def bare_text():
    """Three cues without marks, with pauses where sentences end."""
    first = words_of("what did the moor look like", 0)
    second = words_of("it was dry you could walk on it", 3_000)
    third = words_of("and i never got wet", 6_000)
    runs = enumerate((first, second, third), 1)
    cues = (Cue(n, words[0].start, words[-1].end, words) for n, words in runs)
    return Transcript("en", tuple(cues))


class Dressing(unittest.TestCase):
    def test_marks_and_capitals_come_from_a_hearing_and_words_stay(self):
        heard = words_of(
            "What did the more look like? It was dry. You could walk on it, and I never got wet."
        )
        text = bare_text()
        proposals = marks.from_hearing(text, heard)
        new = marks.taken(text, proposals)
        self.assertEqual(
            [c.text for c in new.cues],
            [
                "What did the moor look like?",
                "It was dry. You could walk on it,",
                "and I never got wet.",
            ],
        )
        for before, after in zip(text.cues, new.cues, strict=True):
            self.assertEqual([w.start for w in before.words], [w.start for w in after.words])
            self.assertEqual([letters_of(w.text) for w in before.words],
                             [letters_of(w.text) for w in after.words])  # fmt: skip

    def test_marks_that_are_there_stay(self):
        text = Transcript("en", (cue(1, "It was dry; very Dry", 0),))
        (one,) = marks.from_hearing(text, words_of("It was dry, very dry."))
        self.assertEqual(one.after, "It was dry; very dry.")

    def test_where_a_hearing_gives_no_marks_for_long_its_pauses_do(self):
        first = words_of("we walked along the drain and looked at every dam of it", 0)
        second = words_of("is the water high behind the third one of them", 5_000)
        third = words_of("it is so high that it runs over the timber", 9_500)
        said = (*first, *second, *third)
        # Captions that share out their time evenly tell nothing of pauses.
        even = words_of(" ".join(word.text for word in said), 0, 420)
        text = Transcript("en", (Cue(1, 0, even[-1].end, even, breaks=()),))
        (one,) = marks.from_hearing(text, said)
        self.assertEqual(
            one.after,
            "We walked along the drain and looked at every dam of it."
            " Is the water high behind the third one of them?"
            " It is so high that it runs over the timber.",
        )

    def test_a_short_sentence_without_marks_is_left_to_the_hearing(self):
        first, second = words_of("we dug a drain", 0), words_of("and it ran", 5_000)
        text = Transcript("en", (Cue(1, 0, 6_000, (*first, *second)),))
        (one,) = marks.from_hearing(text, words_of("We dug a drain and it ran.", 0))
        self.assertEqual(one.after, "We dug a drain and it ran.")

    def test_other_counts_of_words_take_the_mark_behind_them(self):
        text = Transcript("en", (cue(1, "the dip well reads twelve it is dry", 0),))
        (one,) = marks.from_hearing(text, words_of("The dipwell reads 12. It is dry."))
        self.assertEqual(one.after, "The dip well reads twelve. It is dry.")
        text = Transcript("en", (cue(1, "it was dry you could walk", 0),))
        (one,) = marks.from_hearing(text, words_of("It was dry. Um. You could walk."))
        self.assertEqual(one.after, "It was dry. You could walk.")

    def test_without_sound_pauses_and_the_grammar_checker_say_where(self):
        capitals = Grammar("GB").capitals
        text = bare_text()
        new = marks.taken(text, marks.from_pauses(text, ["Moor"], capitals))
        self.assertEqual(
            [c.text for c in new.cues],
            [
                "What did the Moor look like?",
                "It was dry you could walk on it.",
                "And I never got wet.",
            ],
        )

    def test_only_what_is_chosen_and_still_stands_is_taken(self):
        text = bare_text()
        proposals = marks.from_pauses(text)
        part = marks.taken(text, proposals[:1])
        self.assertEqual(part.cues[1], text.cues[1])
        changed = replace(
            text, cues=(replace(text.cues[0], words=words_of("else")), *text.cues[1:])
        )
        self.assertEqual(marks.taken(changed, proposals[:1]).cues[0].text, "else")

    def test_a_text_without_marks_is_known_by_that(self):
        self.assertFalse(marks.is_bare(bare_text()))
        long = Transcript("en", (cue(1, "wet " * 60, 0),))
        self.assertTrue(marks.is_bare(long))
        self.assertFalse(marks.is_bare(Transcript("en", (cue(1, "It was wet. " * 20, 0),))))


class Spelling(unittest.TestCase):
    def test_english_goes_by_variant_and_glossary(self):
        british, american = Grammar("GB"), Grammar("US", ["Hollowmere", "Bog Asphodel"])
        said = "The colour of Hollowmere was was red."
        self.assertEqual([i.kind for i in british.issues(said)], [SPELLING])
        kinds = [(said[i.start : i.end], i.kind) for i in american.issues(said)]
        self.assertEqual(kinds, [("colour", SPELLING)])
        (issue,) = british.issues("He have went home.")[-1:]
        self.assertEqual(issue.kind, GRAMMAR)
        self.assertIn("gone", issue.suggestions)

    def test_other_languages_go_by_the_systems_dictionaries(self):
        if find("es") is None:
            self.skipTest("no Spanish dictionary on this system")
        words = dictionary("es-ES")
        self.assertTrue(words.knows("¿Cómo?") and words.knows("turbera,"))
        self.assertFalse(words.knows("turvera"))
        self.assertIsNone(dictionary("xx"))


class Words(unittest.TestCase):
    def test_a_word_is_never_made_longer_in_time(self):
        text = Transcript("en", (Cue(1, 0, 900, (Word("wet-", 0, 400), Word("wet.", 400, 900))),))
        (only,) = as_verbatim(text, CLEAN).cues
        self.assertEqual(only.words, (Word("wet.", 400, 900),))

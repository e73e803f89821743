"""What tells who somebody is: found, taken out, put back."""

import random
import unittest

from tamarind.language.identifying import Tells, identifiers
from tamarind.language.takingout import KeyEntry, Matcher, entries_of, put_back, taken_out
from tamarind.speech.lexicon import lexicon_of
from tamarind.transcript.model import Cue, Speaker, Transcript
from tamarind.transcript.reconcile import spread
from tamarind.transcript.tokens import tokens_of
from tests.support import cue

PEOPLE = (
    "Joan Moss", "Martin Hale", "Teresa Galli", "Pete Rudd", "Mabel Thorne", "Ruiz", "Owen Pryce",
    "Ingrid Falk", "Sandeep Rao", "Ellen Marsh", "Rose Tarn", "Will Carter", "Grace Bell",
    "Tomasz Lis", "Aoife Dunne",
)  # fmt: skip
PLACES = (
    "Harrow Moor", "Penhallow", "Hero Creek", "Teruel", "Black Hill", "Swale Bridge", "Tarnsby",
    "Lower Fen", "Olot", "Keld",
)  # fmt: skip
ORGANISATIONS = (
    "Marsh Trust", "North Water Board", "Keld Parish Council", "BNLC", "Tarnsby Primary School",
    "Fen Society",
)  # fmt: skip
OTHERS = (
    "oh seven seven double four five six", "01748 553 210", "12 Mill Lane", "4 Abbey Road",
    "14 March 1958", "the 2nd of June", "joan@fen.example", "AB1 2CD", "third of May 1971",
)  # fmt: skip
SAID = {
    Tells.PERSON: ("And then {} came by.", "I asked {}, who laughed.", "{} never dug a drain.",
                   "It was {}'s spade."),
    Tells.PLACE: ("We walked from {} in the rain.", "They live in {}.", "It is wet at {}, I say."),
    Tells.ORGANISATION: ("She worked for the {}.", "The {} paid for it."),
    Tells.NUMBER: ("You can write to {}.", "It was {} for years."),
}  # fmt: skip
FILLING = (
    "Well, the water rose.", "No, it was dry then.", "Everybody dug by hand.", "The peat was deep.",
    "So we waited for the winter.", "It will be wet again in May.", "You could see the hill.",
)  # fmt: skip


def is_word(language):
    return lexicon_of(language).is_word


def interviews():
    """Ten interviews in which forty names are said, each several times, and names of speakers."""
    rng = random.Random(11)
    told = [(Tells.PERSON, name) for name in PEOPLE] + [(Tells.PLACE, name) for name in PLACES]
    told += [(Tells.ORGANISATION, name) for name in ORGANISATIONS]
    told += [(Tells.NUMBER, name) for name in OTHERS]
    texts = []
    for number in range(10):
        chosen = told[number * 4 : number * 4 + 4] + rng.sample(told, 4)
        lines = [rng.choice(SAID[kind]).format(name) for kind, name in chosen for _ in range(2)]
        lines += rng.choices(FILLING, k=20)
        rng.shuffle(lines)
        cues = tuple(cue(n, said, n * 9_000, speaker=1 + n % 2) for n, said in enumerate(lines))
        speakers = Speaker(1, "Interviewer"), Speaker(2, PEOPLE[number])
        texts.append(Transcript("en", cues, speakers))
    return texts, [name for _, name in told]


class Finding(unittest.TestCase):
    def test_forty_names_in_ten_interviews_are_found_and_few_words_that_are_none(self):
        texts, told = interviews()
        found = identifiers(texts, {}, is_word)
        forms = {form.casefold() for one in found for form in one.forms}
        there = " ".join(c.text for text in texts for c in text.cues)
        told = [name for name in told if name in there]
        self.assertGreaterEqual(len(told), 38)
        missed = [n for n in told if not any(f in n.casefold() for f in forms if len(f) > 2)]
        self.assertLessEqual(len(missed), len(told) * 0.05, missed)
        parts = {part.casefold() for name in told for part in name.split()}
        wrong = [
            one.name for one in found if one.sure and not parts & set(one.name.casefold().split())
        ]
        self.assertLessEqual(len(wrong), 2, wrong)

    def test_kinds_and_forms_of_one_name(self):
        said = "Joan Moss came. I saw Joan. Mrs Moss and Dr Ruiz live at 12 Mill Lane in Olot."
        found = identifiers([Transcript("en", (cue(1, said, 0),))], {}, is_word)
        kinds = {one.name: one.tells for one in found}
        self.assertEqual(
            kinds,
            {"Joan Moss": Tells.PERSON, "Ruiz": Tells.PERSON, "Olot": Tells.PLACE,
             "12 Mill Lane": Tells.ADDRESS},
        )  # fmt: skip
        self.assertEqual(found[0].forms, ("Joan Moss", "Joan", "Moss"))
        self.assertEqual(found[0].count, 3)

    def test_what_is_uncertain_and_in_no_dictionary_is_perhaps_a_name(self):
        text = Transcript("en", (cue(1, "Then penhalow was dry.", 0),))
        words = text.cues[0].words
        from dataclasses import replace

        doubtful = (words[0], replace(words[1], confidence=0.3), *words[2:])
        text = replace(text, cues=(replace(text.cues[0], words=doubtful),))
        (one,) = identifiers([text], {}, is_word)
        self.assertEqual((one.name, one.sure), ("penhalow", False))


class TakingOut(unittest.TestCase):
    def setUp(self):
        self.matcher = Matcher(
            [
                KeyEntry(Tells.PERSON, ("Joan Moss", "Joan", "Moss"), "Person 1"),
                KeyEntry(Tells.PLACE, ("Black Hill",), "Place 1"),
            ]
        )

    def out(self, *said):
        text = Transcript("en", tuple(cue(n, one, n * 9_000) for n, one in enumerate(said)))
        new, taken = taken_out(text, self.matcher)
        back, missing = put_back(new, taken)
        self.assertEqual((back, missing), (text, 0))
        return [one.text for one in new.cues]

    def test_every_form_goes_with_its_marks_kept(self):
        self.assertEqual(
            self.out("“Joan’s drain,” said Mrs Moss. JOAN MOSS! (Joan)"),
            ["“Person 1’s drain,” said Mrs Person 1. Person 1! (Person 1)"],
        )
        self.assertEqual(
            self.out("The moss on the black hill, and Joanna."),
            ["The moss on the black hill, and Joanna."],
        )

    def test_a_name_that_is_parted_between_cues_goes_too(self):
        self.assertEqual(self.out("We saw Joan", "Moss on Black", "Hill."),
                         ["We saw Person 1", "on Place 1.", ""])  # fmt: skip

    def test_a_name_in_a_script_without_spaces_or_capitals_goes_too(self):
        for language, said, name in (
            ("zh", "昨天田中先生来了。", "田中"), ("ar", "جاء أحمد إلى القرية.", "أحمد"),
        ):  # fmt: skip
            words = tuple(spread(tokens_of(said), 0, 4_000))
            text = Transcript(language, (Cue(1, 0, 4_000, words),))
            matcher = Matcher([KeyEntry(Tells.PERSON, (name,), "Person 1")])
            new, taken = taken_out(text, matcher)
            self.assertNotIn(name, new.cues[0].text)
            self.assertIn("Person 1", new.cues[0].text)
            self.assertEqual(put_back(new, taken), (text, 0))
        parted = (Cue(1, 0, 900, tuple(spread(tokens_of("是田"), 0, 900))),
                  Cue(2, 900, 2_000, tuple(spread(tokens_of("中吗"), 900, 2_000))))  # fmt: skip
        matcher = Matcher([KeyEntry(Tells.PERSON, ("田中",), "Person 1")])
        new, _ = taken_out(Transcript("zh", parted), matcher)
        self.assertEqual([one.text for one in new.cues], ["是Person 1", "吗"])

    def test_nouns_with_capitals_are_no_names(self):
        said = "Der Graben war tief, und Frau Becker sah das Wasser und Martin."
        found = identifiers([Transcript("de", (cue(1, said, 0),))], {})
        self.assertEqual({one.name for one in found}, {"Becker", "Martin"})

    def test_names_of_files_have_no_capitals(self):
        self.assertEqual(self.matcher.replaced("joan_moss-2026", any_case=True), "Person 1-2026")
        self.assertEqual(self.matcher.left_in("joan"), [])

    def test_nothing_is_left_in_ten_interviews_and_all_comes_back(self):
        texts, _ = interviews()
        found = identifiers(texts, dict.fromkeys(PEOPLE, Tells.PERSON), is_word)
        matcher = Matcher(entries_of(found))
        for text in texts:
            new, taken = taken_out(text, matcher)
            said = " ".join(c.text for c in new.cues)
            self.assertEqual([f for one in found for f in one.forms if f in said.split()], [])
            self.assertEqual(matcher.left_in(said), [])
            self.assertEqual(put_back(new, taken), (text, 0))

    def test_what_was_changed_meanwhile_is_not_put_back_and_told(self):
        text = Transcript("en", (cue(1, "We saw Joan.", 0),))
        _, taken = taken_out(text, self.matcher)
        self.assertEqual(put_back(Transcript("en", ()), taken)[1], 1)
        self.assertEqual(put_back(text, taken), (text, 1))
        edited = Transcript("en", (cue(1, "Then we saw Person 1.", 0),))
        back, missing = put_back(edited, taken)
        self.assertEqual((back.cues[0].text, missing), ("Then we saw Joan.", 0))

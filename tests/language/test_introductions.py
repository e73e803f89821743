"""Names for voices, from what is said."""

import unittest

from tamarind.language.introductions import proposed_names
from tamarind.transcript.model import Speaker, Transcript
from tests.support import cue


def talk(*said, language="en", names=()):
    """Each a voice and its words, one after the other."""
    cues = tuple(cue(n + 1, words, 5_000 * n, speaker=who) for n, (who, words) in enumerate(said))
    voices = sorted({who for who, _ in said})
    named = dict(names)
    return Transcript(language, cues, tuple(Speaker(v, named.get(v, "")) for v in voices))


class Names(unittest.TestCase):
    def test_who_names_themselves_and_who_is_announced(self):
        text = talk(
            (1, "Good morning, I'm Ishbel Penhallow."), (1, "With me is Martin Hale."),
            (2, "I am glad to be here. Thank you, Ishbel."), (1, "So what was it like, Martin?"),
            (2, "Dry."),
        )  # fmt: skip
        found = proposed_names(text)
        self.assertEqual(found[1][0], "Ishbel Penhallow")
        self.assertEqual(found[2], ("Martin Hale",))

    def test_a_name_belongs_to_one_voice_and_not_to_one_that_has_another(self):
        text = talk(
            (1, "My name is Tom Garrick."), (2, "This is Tom Garrick, is it?"),
            (2, "I'm Anna Voss."),
            names=[(1, "Tom Garrick")],
        )  # fmt: skip
        self.assertEqual(proposed_names(text), {2: ("Anna Voss",)})

    def test_other_languages_and_nothing_said(self):
        text = talk((1, "Mi chiamo Teresa Galli."), (2, "Grazie, Teresa."), language="it")
        self.assertEqual(proposed_names(text)[1][0], "Teresa Galli")
        self.assertEqual(proposed_names(talk((1, "I'm happy."), (2, "It is wet."))), {})
        self.assertEqual(proposed_names(talk((1, "私はハレです。"), language="ja")), {})

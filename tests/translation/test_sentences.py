import unittest

from tamarind.transcript.model import Cue, Word
from tamarind.translation.sentences import MOST_WORDS, sentences_of
from tamarind.translation.spreading import spread_text


def cues(*texts, speakers=None, gap=100):
    """One cue a second for each text."""
    result = []
    for place, text in enumerate(texts):
        start = place * (1_000 + gap)
        words = tuple(
            Word(w, start + n * 10, start + n * 10 + 9) for n, w in enumerate(text.split())
        )
        speaker = speakers[place] if speakers else None
        result.append(Cue(place + 1, start, start + 1_000, words, speaker))
    return result


class Sentences(unittest.TestCase):
    def texts(self, *args, **kwargs):
        return [sentence.text for sentence in sentences_of(cues(*args, **kwargs), "en")]

    def test_they_go_over_borders_and_end_within_cues(self):
        found = sentences_of(
            cues("It was dry. The drains", "ran all winter, and", "so did we. Ha!"), "en"
        )
        self.assertEqual(
            [[(piece.cue.id, piece.text) for piece in sentence.pieces] for sentence in found],
            [
                [(1, "It was dry.")],
                [(1, "The drains"), (2, "ran all winter, and"), (3, "so did we.")],
                [(3, "Ha!")],
            ],
        )

    def test_speakers_and_long_pauses_end_them(self):
        self.assertEqual(self.texts("and then", "well", speakers=[1, 2]), ["and then", "well"])
        self.assertEqual(self.texts("and then", "we went", gap=3_000), ["and then", "we went"])
        self.assertEqual(self.texts("and then", "we went"), ["and then we went"])
        self.assertEqual(self.texts("and then", "We went", gap=800), ["and then", "We went"])
        self.assertEqual(self.texts("and then", "We went"), ["and then We went"])

    def test_songs_and_those_who_speak_in_turn_are_sentences_of_their_own(self):
        self.assertEqual(
            self.texts("♪ La la ♪", "- Who", "– me", "or you"),
            ["♪ La la ♪", "- Who", "– me or you"],
        )

    def test_remarks_stand_alone_but_not_within_a_sentence(self):
        found = sentences_of(
            cues("[laughter] We went [inaudible 00:12:03] to the", "moor. [door slams]"), "en"
        )
        self.assertEqual(
            [(sentence.text, sentence.is_remark) for sentence in found],
            [
                ("[laughter]", True),
                ("We went [inaudible 00:12:03] to the moor.", False),
                ("[door slams]", True),
            ],
        )

    def test_what_goes_on_and_on_is_cut_and_every_word_stays(self):
        long = " ".join(["we walked to the moor and saw the water rise,"] * 14)
        texts = self.texts(*[long[at : at + 300] for at in range(0, len(long), 300)])
        self.assertTrue(all(len(text.split()) <= MOST_WORDS for text in texts))
        self.assertGreater(len(texts), 2)
        self.assertEqual(sum(text.endswith(",") for text in texts), len(texts))


class Spreading(unittest.TestCase):
    def test_the_border_is_where_its_grammar_allows(self):
        self.assertEqual(
            spread_text(
                ["The drains had been dug in the fifties,", "and every winter the water ran away."],
                "As valas tinham sido abertas nos anos cinquenta, "
                "e todos os invernos a água ia-se.",
                "pt",
            ),
            [
                "As valas tinham sido abertas nos anos cinquenta,",
                "e todos os invernos a água ia-se.",
            ],
        )

    def test_what_matches_by_itself_holds_against_lengths(self):
        pieces = ["In 1987 Mrs. Carrow", "came to Harrow Creek with her sister and a dog."]
        target = "A senhora Carrow veio no ano de 1987 para Harrow Creek com a irmã e um cão."
        self.assertEqual(
            spread_text(pieces, target, "pt")[1].split()[-9:],
            "para Harrow Creek com a irmã e um cão.".split(),
        )

    def test_hints_tell_which_words_belong_where(self):
        pieces = ["After the storm", "we"]
        target = "Nós fomos depois da tempestade"
        spread = spread_text(
            pieces, "Depois da tempestade nós", "pt", ["Depois da tempestade", "nós"]
        )
        self.assertEqual(spread, ["Depois da tempestade", "nós"])
        self.assertEqual(" ".join(spread_text(pieces, target, "pt")), target)

    def test_nothing_is_lost_however_few_words_there_are(self):
        self.assertEqual(spread_text(["one", "two", "three"], "", "pt"), ["", "", ""])
        self.assertEqual(sorted(spread_text(["one", "two", "three"], "um", "pt")), ["", "", "um"])
        self.assertEqual(spread_text(["one"], "um dois", "pt"), ["um dois"])

    def test_scripts_without_spaces_are_cut_too(self):
        parts = spread_text(
            ["The water came back,", "and the moss grew."], "水が戻ってきて、苔が生えた。", "ja"
        )
        self.assertEqual(parts, ["水が戻ってきて、", "苔が生えた。"])

"""A second opinion: PocketSphinx with its pronouncing dictionary and language model.

It works with phone models and word statistics (Huggins-Daines et al. 2006, "PocketSphinx"), not
with a network from sound to letters, so that it errs otherwise. It writes no marks or capitals.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np

from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.recognisers.base import HeardWord, Hypothesis
from tamarind.speech.recognisers.entry import RecogniserEntry
from tamarind.speech.recognisers.errors import RecogniserError

if TYPE_CHECKING:
    from tamarind.audio.decode import Samples

DICTIONARY = "dictionary"
"""Less accurate than networks, but of another kind."""

MOST_READINGS = 5
_NOT_WORDS = ("<", "[")


class DictionaryRecogniser:
    """English only, limited to the words of its dictionary."""

    languages: tuple[str, ...] = ("en",)

    def __init__(self) -> None:
        from pocketsphinx import Decoder

        self._decoder = Decoder(loglevel="FATAL")

    def hear(self, segments: Sequence[Samples], how: HearingOptions) -> list[list[Hypothesis]]:
        """Recognise one segment after the other; the other hypotheses have no confidences."""
        if how.language.split("-")[0] not in self.languages:
            raise RecogniserError(f"The dictionary is English; it does not know “{how.language}”.")
        return [self._hear_one(segment) for segment in segments]

    def _hear_one(self, segment: Samples) -> list[Hypothesis]:
        decoder = self._decoder
        pcm = (np.clip(segment, -1, 1) * 32767).astype("<i2").tobytes()
        decoder.start_utt()
        decoder.process_raw(pcm, no_search=False, full_utt=True)
        decoder.end_utt()
        hypothesis = decoder.hyp()
        if hypothesis is None:
            return [Hypothesis((), 0.0)]
        words = tuple(
            HeardWord(_bare(segment.word), min(max(float(segment.prob), 0.0), 1.0))
            for segment in decoder.seg() or ()
            if not segment.word.startswith(_NOT_WORDS)
        )
        # Its scores are of different kinds for the best text and the others; their order is right.
        hypotheses = [Hypothesis(words, 0.0)]
        for other in decoder.nbest() or ():
            if len(hypotheses) == MOST_READINGS:
                break
            words = tuple(
                HeardWord(_bare(word), 0.0)
                for word in other.hypstr.split()
                if not word.startswith(_NOT_WORDS)
            )
            reading = Hypothesis(words, -float(len(hypotheses)))
            if all(reading.text != known.text for known in hypotheses):
                hypotheses.append(reading)
        return hypotheses


def _bare(word: str) -> str:
    """Remove the number of a pronunciation: "the(2)" becomes "the"."""
    return word.split("(")[0]


ENTRY = RecogniserEntry(
    DICTIONARY,
    "by dictionary, less accurate",
    lambda: DictionaryRecogniser.languages,
    lambda _aligner: DictionaryRecogniser(),
    rank=4,
)

"""The multilingual recogniser: the search with its network; it also detects languages."""

from __future__ import annotations

from pathlib import Path

from tamarind.audio.decode import Samples
from tamarind.speech.alignment import Aligner
from tamarind.speech.confidence import many_confidence
from tamarind.speech.recognisers.multilingual.network import MultilingualNetwork
from tamarind.speech.recognisers.searching import Judge, SearchingRecogniser, levelled


class MultilingualRecogniser(SearchingRecogniser):
    """Loaded once. Raises RecogniserError if the folder cannot be used."""

    def __init__(self, folder: Path, aligner: Aligner, judge: Judge = many_confidence) -> None:
        network = MultilingualNetwork(folder)
        super().__init__(network, aligner, judge)
        self._languages_heard = network.languages_heard

    def languages_heard(self, sound: Samples) -> dict[str, float]:
        """Return the probability of each language in a sound of some seconds; the sum is 1."""
        return self._languages_heard(levelled(sound))

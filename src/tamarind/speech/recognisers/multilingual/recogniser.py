"""The multilingual recogniser: its network, searched; it also tells which language is spoken."""

from __future__ import annotations

from pathlib import Path

from tamarind.audio.decode import Samples
from tamarind.speech.alignment import Aligner
from tamarind.speech.confidence import many_confidence
from tamarind.speech.recognisers.multilingual.network import MultilingualNetwork
from tamarind.speech.recognisers.searching import Judge, SearchingRecogniser, levelled


class MultilingualRecogniser(SearchingRecogniser):
    """Loaded once; raises RecogniserError when the folder cannot be used."""

    def __init__(self, folder: Path, aligner: Aligner, judge: Judge = many_confidence) -> None:
        network = MultilingualNetwork(folder)
        super().__init__(network, aligner, judge)
        self._languages_heard = network.languages_heard

    def languages_heard(self, sound: Samples) -> dict[str, float]:
        """How likely each language is in a sound of some seconds; the sum is 1."""
        return self._languages_heard(levelled(sound))

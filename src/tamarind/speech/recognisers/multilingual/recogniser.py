"""The multilingual recogniser: its network, searched; it also tells which language is spoken."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path

from tamarind.audio.decode import Samples
from tamarind.speech.alignment import Aligner
from tamarind.speech.confidence import confidence
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.identification import languages_in
from tamarind.speech.recognisers.base import Hypothesis
from tamarind.speech.recognisers.multilingual.network import MultilingualNetwork
from tamarind.speech.recognisers.searching import Judge, SearchingRecogniser, levelled


class MultilingualRecogniser(SearchingRecogniser):
    """Loaded once; raises RecogniserError when the folder cannot be used."""

    def __init__(self, folder: Path, aligner: Aligner, judge: Judge = confidence) -> None:
        network = MultilingualNetwork(folder)
        super().__init__(network, aligner, judge)
        self._languages_heard = network.languages_heard

    def languages_heard(self, sound: Samples) -> dict[str, float]:
        """How likely each language is in a sound of some seconds; the sum is 1."""
        return self._languages_heard(levelled(sound))

    def hear(
        self,
        segments: Sequence[Samples],
        how: HearingOptions,
        on_step: Callable[[], None] = lambda: None,
    ) -> list[list[Hypothesis]]:
        """Each segment in the language that is spoken in it, if there are several."""
        if len(how.languages) == 1 or not segments:
            return super().hear(segments, how, on_step)
        spoken = languages_in(segments, how.languages, self)
        results: list[list[Hypothesis]] = [[] for _ in segments]
        for language in dict.fromkeys(spoken):
            places = [place for place, own in enumerate(spoken) if own == language]
            alone = replace(how, language=language, others=())
            heard = super().hear([segments[place] for place in places], alone, on_step)
            for place, hypotheses in zip(places, heard, strict=True):
                results[place] = [replace(one, language=language) for one in hypotheses]
        return results

"""Score how likely English words follow one another, with the statistics that PocketSphinx ships.

A trigram model with back-off (Katz 1987, "Estimation of probabilities from sparse data").
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from functools import lru_cache
from pathlib import Path

from pocketsphinx import NGramModel, get_model_path

UNKNOWN = -16.0
"""Natural log of what a word is given that the model has never seen, or a figure."""

_BASE = math.log(1.0001)
_NEVER_SEEN = -1000.0
_MARKS = re.compile(r"[^a-z']+")


class WordModel:
    """English only; loaded once, about 60 MB."""

    def __init__(self) -> None:
        self._model = NGramModel.readfile(str(Path(get_model_path()) / "en-us" / "en-us.lm.bin"))
        self.log_probability = lru_cache(maxsize=200_000)(self._log_probability)

    def around(self, words: Sequence[str]) -> list[float]:
        """Return for each written word the mean log probability of it and of the next one.

        Both are given the two words before them; a written word of several parts ("well-known")
        counts with its least likely one.
        """
        parts = [plain(word) for word in words]
        flat = [(index, part) for index, own in enumerate(parts) for part in own]
        scores = [
            self.log_probability(part, *(p for _, p in reversed(flat[max(place - 2, 0) : place])))
            for place, (_, part) in enumerate(flat)
        ]
        result = []
        for index, own in enumerate(parts):
            places = (
                [place for place, (owner, _) in enumerate(flat) if owner == index] if own else []
            )
            here = min((scores[place] for place in places), default=UNKNOWN)
            after = scores[places[-1] + 1] if places and places[-1] + 1 < len(scores) else here
            result.append((here + after) / 2)
        return result

    def _log_probability(self, word: str, before: str = "", further: str = "") -> float:
        """Return the natural log of ``word`` after ``before``, which came after ``further``."""
        history = [word for word in (before, further) if word]
        value = self._model.prob([word, *history]) * _BASE
        if value < _NEVER_SEEN and history:
            value = self._model.prob([word]) * _BASE
        return max(value, UNKNOWN) if value > _NEVER_SEEN else UNKNOWN


def plain(word: str) -> list[str]:
    """Return the lower-case words within a written one, without punctuation: "well-known," -> well,
    known."""
    text = word.lower().replace("’", "'")
    return [part for part in (p.strip("'") for p in _MARKS.split(text)) if part]

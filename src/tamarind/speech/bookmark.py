"""The state of a transcription, with everything needed to continue as if it had never stopped.

It is kept as JSON text, so that it can lie in a job that anybody may have made.
"""

from __future__ import annotations

import base64
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tamarind.speech.activity import Activity
from tamarind.speech.detector import Memory


@dataclass(frozen=True, slots=True)
class VoicesMark:
    """The voices so far: the ``middles`` (voices, width) of those in earlier sections, and which of
    them are numbered, in that order."""

    middles: NDArray[np.float32]
    numbers: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Bookmark:
    """``border`` is the sample up to which speech has been searched, and ``memory`` the detector's
    state there; ``waiting`` is the activity from sample ``origin`` on that is still to be cut;
    ``block_ms`` is the next block's length."""

    border: int
    memory: Memory
    origin: int
    waiting: Activity
    block_ms: int
    voices: VoicesMark | None = None

    def data(self) -> dict[str, Any]:
        """Return the bookmark as values that JSON can hold."""
        voices = self.voices and {
            "middles": [_packed(middle) for middle in self.voices.middles],
            "width": self.voices.middles.shape[1],
            "numbers": list(self.voices.numbers),
        }
        return {
            "border": self.border,
            "memory": [_packed(part) for part in self.memory],
            "origin": self.origin,
            "waiting": [_packed(self.waiting.probability), _packed(self.waiting.level)],
            "block_ms": self.block_ms,
            "voices": voices,
        }

    @staticmethod
    def from_data(data: Mapping[str, Any]) -> Bookmark:
        """Return the bookmark of such values. Raises ValueError, KeyError or TypeError for anything
        else."""
        probability, level = (_unpacked(text, np.float32) for text in data["waiting"])
        hidden, cell, before = (_unpacked(text, np.float32) for text in data["memory"])
        if len(probability) != len(level):
            raise ValueError("as many levels as probabilities")
        voices = data["voices"]
        return Bookmark(
            int(data["border"]),
            (hidden, cell, before),
            int(data["origin"]),
            waiting=Activity(probability, level),
            block_ms=int(data["block_ms"]),
            voices=voices and _voices_from(voices),
        )


def _voices_from(data: Mapping[str, Any]) -> VoicesMark:
    width = int(data["width"])
    middles = [_unpacked(text, np.float32) for text in data["middles"]]
    if any(len(middle) != width for middle in middles):
        raise ValueError("middles of one width")
    stacked = np.stack(middles) if middles else np.zeros((0, width), np.float32)
    return VoicesMark(stacked, tuple(map(int, data["numbers"])))


def _packed(numbers: NDArray[Any]) -> str:
    return base64.b64encode(numbers.tobytes()).decode()


def _unpacked(text: str, kind: Any) -> NDArray[Any]:
    return np.frombuffer(base64.b64decode(text, validate=True), kind)

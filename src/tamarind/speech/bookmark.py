"""A bookmark: where the hearing of a recording is, with all it needs to go on as if never stopped.

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
from tamarind.speech.turns import Turn


@dataclass(frozen=True, slots=True)
class VoicesMark:
    """What is known of voices: their last turns, their colours, and how far was looked (ms)."""

    turns: tuple[Turn, ...]
    colours: dict[int, NDArray[np.float64]]
    known_until: int
    begun: int


@dataclass(frozen=True, slots=True)
class Bookmark:
    """``border`` is the sample up to which speech has been looked for and ``memory`` what the
    detector remembers there; ``waiting`` is the activity from sample ``origin`` on that is still
    to be cut; ``block_ms`` is how much is taken next."""

    border: int
    memory: Memory
    origin: int
    waiting: Activity
    block_ms: int
    voices: VoicesMark | None = None

    def data(self) -> dict[str, Any]:
        """As values that JSON can hold."""
        voices = self.voices and {
            "turns": [[turn.start, turn.end, turn.voice] for turn in self.voices.turns],
            "colours": {str(key): _packed(own) for key, own in self.voices.colours.items()},
            "known_until": self.voices.known_until,
            "begun": self.voices.begun,
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
        """From what ``data`` gave; raises ValueError, KeyError or TypeError for anything else."""
        probability, level = (_unpacked(text, np.float32) for text in data["waiting"])
        hidden, cell, before = (_unpacked(text, np.float32) for text in data["memory"])
        if len(probability) != len(level):
            raise ValueError("as many levels as probabilities")
        voices = data["voices"]
        return Bookmark(
            int(data["border"]),
            (hidden, cell, before),
            int(data["origin"]),
            Activity(probability, level),
            int(data["block_ms"]),
            voices
            and VoicesMark(
                tuple(Turn(*map(int, turn)) for turn in voices["turns"]),
                {int(key): _unpacked(own, np.float64) for key, own in voices["colours"].items()},
                int(voices["known_until"]),
                int(voices["begun"]),
            ),
        )


def _packed(numbers: NDArray[Any]) -> str:
    return base64.b64encode(numbers.tobytes()).decode()


def _unpacked(text: str, kind: Any) -> NDArray[Any]:
    return np.frombuffer(base64.b64decode(text, validate=True), kind)

"""What is kept of a voice to know it again in another recording."""

from __future__ import annotations

import base64
from dataclasses import dataclass

WIDTH = 256
"""Of the vectors that voices are points of."""

_BYTES = 2


@dataclass(frozen=True, slots=True)
class Voiceprint:
    """The middle of a voice's points, a vector of ``WIDTH`` numbers of 16 bits, as text that JSON
    can hold, and the speaker whose it is. Raises ValueError where the text is none."""

    speaker: int
    packed: str

    def __post_init__(self) -> None:
        if len(self.data) != WIDTH * _BYTES:
            raise ValueError("no voice")

    @property
    def data(self) -> bytes:
        """The bytes of the numbers, the lower first."""
        return base64.b64decode(self.packed, validate=True)

"""What is kept of a voice, to recognise it in another recording."""

from __future__ import annotations

import base64
from dataclasses import dataclass

WIDTH = 256
"""Of the vectors that voices are points of."""

_BYTES = 2

_SPACE = "2:"
"""Before what is kept of a voice: the space in which it lies. Prints of earlier versions have
nothing there, and are like no other."""


@dataclass(frozen=True, slots=True)
class Voiceprint:
    """The mean of a voice's points, ``WIDTH`` numbers of 16 bits as text for JSON, and its speaker.
    Raises ValueError if the text is none."""

    speaker: int
    packed: str

    @staticmethod
    def of(speaker: int, data: bytes) -> Voiceprint:
        """Return the voiceprint of the bytes of its numbers, little-endian."""
        return Voiceprint(speaker, _SPACE + base64.b64encode(data).decode())

    def __post_init__(self) -> None:
        if len(self.data) != WIDTH * _BYTES:
            raise ValueError("no voice")

    @property
    def can_be_compared(self) -> bool:
        """Whether this version of the encoder made it."""
        return self.packed.startswith(_SPACE)

    @property
    def data(self) -> bytes:
        """The bytes of the numbers."""
        return base64.b64decode(self.packed.removeprefix(_SPACE), validate=True)

"""Which sound of a file to use: its track, its channel, and whether it is cleaned."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum


class Channel(Enum):
    """A side of a stereo track, or both; mono tracks have the same on all."""

    MIX = "mix"
    LEFT = "left"
    RIGHT = "right"


@dataclass(frozen=True, slots=True)
class Source:
    """``track`` counts the file's sound tracks from 0; ``clean`` removes hum and hiss."""

    track: int = 0
    channel: Channel = Channel.MIX
    clean: bool = False

    @property
    def tag(self) -> str:
        """A short name for files made from this source; "" for the default."""
        if self == Source():
            return ""
        return f"-{self.track}{self.channel.value}{'-clean' if self.clean else ''}"


WHOLE = Source()

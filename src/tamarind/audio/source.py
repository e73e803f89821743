"""Which sound of a file is meant: the track, the channel, and whether it is cleaned up."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum


class Channel(Enum):
    """Which side of a stereo track; mono tracks have the same on all."""

    MIX = "mix"
    LEFT = "left"
    RIGHT = "right"


@dataclass(frozen=True, slots=True)
class Source:
    """``track`` counts the file's sound tracks from 0; ``clean`` takes out hum and hiss."""

    track: int = 0
    channel: Channel = Channel.MIX
    clean: bool = False

    @property
    def tag(self) -> str:
        """A short name for files made from it; empty for the ordinary source."""
        if self == Source():
            return ""
        return f"-{self.track}{self.channel.value}{'-clean' if self.clean else ''}"


WHOLE = Source()

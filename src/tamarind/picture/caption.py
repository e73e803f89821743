"""What is to be drawn at a time: a caption with its words in their lines."""

from __future__ import annotations

from dataclasses import dataclass

from tamarind.picture.looks import Place


@dataclass(frozen=True, slots=True)
class SaidWord:
    """A word and when it is said (ms); it is ``glued`` to the one before where no space is."""

    text: str
    start: int
    end: int
    italic: bool = False
    glued: bool = False


Line = tuple[SaidWord, ...]


@dataclass(frozen=True, slots=True)
class Caption:
    """``start`` to ``end`` in ms. ``voice`` is the place of its speaker among all, ``speaker`` the
    name where it is to be shown; ``changes`` says that another spoke before. ``second`` are the
    lines in a second language. ``place`` is where the cue itself wants to stand, ``look`` the key
    of a look of its own."""

    start: int
    end: int
    lines: tuple[Line, ...]
    voice: int | None = None
    speaker: str = ""
    changes: bool = False
    second: tuple[Line, ...] = ()
    place: Place | None = None
    look: str = ""

    def said_at(self, time: int) -> int:
        """How many of its words have begun at a time (ms)."""
        return sum(word.start <= time for line in self.lines for word in line)

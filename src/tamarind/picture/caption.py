"""A caption to be drawn: its words in lines, with times."""

from __future__ import annotations

from dataclasses import dataclass

from tamarind.picture.looks import Place


@dataclass(frozen=True, slots=True)
class SaidWord:
    """A word and its start (ms); it is ``glued`` to the one before if no space is between them."""

    text: str
    start: int
    end: int
    italic: bool = False
    glued: bool = False


Line = tuple[SaidWord, ...]


@dataclass(frozen=True, slots=True)
class Caption:
    """A caption from ``start`` to ``end`` (ms). ``voice`` is the index of its speaker, ``speaker``
    the name where it is shown; ``changes`` says that another spoke before. ``second`` are the lines
    in a second language. ``place`` is the cue's own place, ``look`` the key of its own caption
    style."""

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
        """Count its words that have begun at a time (ms)."""
        return sum(word.start <= time for line in self.lines for word in line)

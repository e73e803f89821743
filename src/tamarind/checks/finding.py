"""A finding of a check, and the fixes that may go with it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import ClassVar

from tamarind.formats.timecode import clock
from tamarind.language.housestyle import Level

MOST_LETTERS = 40
"""A longer text is not shown on a button."""


@dataclass(frozen=True, slots=True)
class Reword:
    """A fix that replaces the words ``old`` from index ``first`` of a cue by ``new``, which may be
    none."""

    cue: int
    first: int
    old: tuple[str, ...]
    new: str

    @property
    def words(self) -> str:
        """Describe the fix in a few words."""
        if not self.new:
            return "leave it out"
        return f"“{self.new}”" if len(self.new) <= MOST_LETTERS else "as the style writes it"


@dataclass(frozen=True, slots=True)
class Retime:
    """A fix that gives a cue another start and end (ms)."""

    cue: int
    start: int
    end: int

    @property
    def words(self) -> str:
        """Describe the fix in a few words."""
        return f"{clock(self.start, 2, hours=False)} – {clock(self.end, 2, hours=False)}"


@dataclass(frozen=True, slots=True)
class Rebreak:
    """A fix that breaks the lines of a cue by the rules of layout."""

    cue: int
    words: ClassVar[str] = "lay out its lines"


@dataclass(frozen=True, slots=True)
class Recut:
    """A fix that cuts a cue in two or more, or borrows room from its neighbours, by the rules of
    layout."""

    cue: int
    words: ClassVar[str] = "cut it again"


@dataclass(frozen=True, slots=True)
class Relook:
    """A fix that gives a cue a caption style of its own, by its key."""

    cue: int
    look: str
    words: ClassVar[str] = "put it on a box"


Fix = Reword | Retime | Rebreak | Recut | Relook


@dataclass(frozen=True, slots=True)
class Finding:
    """A breach of a rule in the cue with id ``cue``, at its words [``first``, ``last``) (0, 0: the
    cue as a whole), said at ``start`` (ms).

    ``excerpt`` is the text concerned, ``reason`` a short sentence without a full stop. There may be
    several ``fixes``; the first is the usual one.
    """

    rule: str
    cue: int
    start: int
    reason: str
    excerpt: str = ""
    first: int = 0
    last: int = 0
    fixes: tuple[Fix, ...] = ()
    is_guess: bool = False
    language: str = ""
    """That of the track that it concerns, whose words are counted then; none for the text."""


@dataclass(frozen=True, slots=True)
class PlacedFinding:
    """A finding with its level, at index ``place`` among the cues."""

    finding: Finding
    level: Level
    place: int


def mark_of(recording_id: int, finding: Finding) -> str:
    """Return a key that identifies a finding as long as the words concerned are the same."""
    return f"{recording_id}|{finding.rule}|{finding.cue}|{finding.excerpt}"


def summary(found: Sequence[PlacedFinding]) -> str:
    """Return the number of findings in words."""
    musts = sum(one.level is Level.MUST for one in found)
    hints = len(found) - musts
    if not found:
        return "nothing breaks the house style"
    parts = ["1 error" if musts == 1 else f"{musts} errors"] if musts else []
    if hints:
        parts.append("1 warning" if hints == 1 else f"{hints} warnings")
    return ", ".join(parts)

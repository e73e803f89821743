"""Finding and replacing in a text: by letters, whole words or patterns, over the words of a cue.

What is replaced keeps the times of the words around it, as every edit does (``reconcile``).
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

from tamarind.transcript.edits import set_text
from tamarind.transcript.model import Transcript

LONGEST_PATTERN = 500


class PatternError(ValueError):
    """What is looked for makes no sense; the message is one sentence."""


@dataclass(frozen=True, slots=True)
class Wanted:
    """What to look for, and how."""

    text: str
    case: bool = False
    whole_words: bool = False
    pattern: bool = False

    def compiled(self) -> re.Pattern[str]:
        """As a regular expression; raises PatternError."""
        if not self.text:
            raise PatternError("There is nothing to look for.")
        if len(self.text) > LONGEST_PATTERN:
            raise PatternError("That is too long to be looked for.")
        source = self.text if self.pattern else re.escape(self.text)
        if self.whole_words:
            source = rf"(?<!\w)(?:{source})(?!\w)"
        try:
            return re.compile(source, 0 if self.case else re.IGNORECASE)
        except (re.error, OverflowError) as error:
            raise PatternError(f"The pattern makes no sense: {error}.") from None


@dataclass(frozen=True, slots=True)
class Found:
    """A place: the cue's index and the characters in its text, first and one after the last."""

    row: int
    first: int
    last: int


def find(transcript: Transcript, wanted: Wanted) -> list[Found]:
    """All places in order; an empty match is none. Raises PatternError."""
    return list(_matches(transcript, wanted.compiled()))


def _matches(transcript: Transcript, pattern: re.Pattern[str]) -> Iterator[Found]:
    for row, cue in enumerate(transcript.cues):
        for match in pattern.finditer(cue.text):
            if match.end() > match.start():
                yield Found(row, match.start(), match.end())


def replace_all(
    transcript: Transcript, wanted: Wanted, by: str, places: Sequence[Found] | None = None
) -> tuple[Transcript, int]:
    """The text with ``by`` in all places, or in those given, and how many there were.

    In a pattern, ``\\1`` and ``\\g<name>`` stand for groups. Raises PatternError.
    """
    pattern = wanted.compiled()
    chosen = None if places is None else {(p.row, p.first) for p in places}
    count = 0
    for row, cue in enumerate(transcript.cues):

        def replaced(match: re.Match[str], row: int = row) -> str:
            nonlocal count
            if not match.group() or (chosen is not None and (row, match.start()) not in chosen):
                return match.group()
            count += 1
            try:
                return match.expand(by) if wanted.pattern else by
            except (re.error, IndexError) as error:
                raise PatternError(f"The replacement makes no sense: {error}.") from None

        text = pattern.sub(replaced, cue.text)
        if text != cue.text:
            transcript = set_text(transcript, row, _with_lines(text, cue.lines, cue.breaks))
    return transcript, count


def _with_lines(text: str, lines: Sequence[str], breaks: tuple[int, ...] | None) -> str:
    """A cue whose lines were set by hand keeps them, if it still has as many words."""
    words = text.split()
    if not breaks or len(words) != sum(len(line.split()) for line in lines):
        return text
    edges = [0, *breaks, len(words)]
    return "\n".join(" ".join(words[a:b]) for a, b in pairwise(edges))

"""Find and replace in a text: letters, whole words or patterns, over the words of a cue.

What is replaced keeps the times of the words around it, as every edit does (``reconcile``). A
pattern may take for ever on a text (``(\\w+\\s?)+$``), so it has a time in which to be done.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from itertools import islice, pairwise
from typing import Any

import regex

from tamarind.system.errors import ToldError
from tamarind.transcript.edits import set_texts
from tamarind.transcript.haystack import haystack_of
from tamarind.transcript.model import Transcript
from tamarind.transcript.tokens import joined, tokens_of

LONGEST_PATTERN = 500
PATIENCE_S = 5.0
"""In which all of a text is searched through."""


class PatternError(ToldError, ValueError):
    """A pattern is invalid; the message is one sentence."""


@dataclass(frozen=True, slots=True)
class Wanted:
    """What to search for, and how."""

    text: str
    case: bool = False
    whole_words: bool = False
    pattern: bool = False

    def compiled(self) -> Any:
        """Compile what is looked for as a regular expression; raises PatternError."""
        if not self.text:
            raise PatternError("There is nothing to look for.")
        if len(self.text) > LONGEST_PATTERN:
            raise PatternError("That is too long to be looked for.")
        source = self.text if self.pattern else regex.escape(self.text)
        if self.whole_words:
            source = rf"(?<!\w)(?:{source})(?!\w)"
        try:
            return regex.compile(source, 0 if self.case else regex.IGNORECASE)
        except (regex.error, OverflowError, RecursionError, MemoryError) as error:
            raise PatternError(f"The pattern makes no sense: {error}.") from None


@dataclass(frozen=True, slots=True)
class Match:
    """A match: the cue's index and the range [first, last) in its text."""

    row: int
    first: int
    last: int


def find(
    transcript: Transcript,
    wanted: Wanted,
    stopped: Callable[[], bool] = lambda: False,
    most: int | None = None,
) -> list[Match]:
    """Return all matches in order, or the first so many; empty ones do not count. Ends when
    ``stopped`` returns true. Raises PatternError, also when it takes too long."""
    pattern = wanted.compiled()
    if not wanted.pattern:
        return _letters(transcript, pattern, most)
    found: list[Match] = []
    with _in_time() as left:
        for row, cue in enumerate(transcript.cues):
            if stopped():
                break
            matches = pattern.finditer(cue.text, timeout=left(), concurrent=wanted.pattern)
            found += [Match(row, m.start(), m.end()) for m in matches if m.end() > m.start()]
    return found[:most]


def _letters(transcript: Transcript, pattern: Any, most: int | None) -> list[Match]:
    """Search for plain letters in all lines at once, since they never span lines."""
    haystack = haystack_of(transcript.cues)
    found = []
    with _in_time() as left:
        for match in islice(pattern.finditer(haystack.whole, timeout=left()), most):
            row, first = haystack.place_of(match.start())
            found.append(Match(row, first, first + match.end() - match.start()))
    return found


@contextmanager
def _in_time() -> Iterator[Callable[[], float]]:
    """Within this context, return the seconds left; raise PatternError for what takes longer."""
    end = time.monotonic() + PATIENCE_S

    def left() -> float:
        if time.monotonic() > end:
            raise TimeoutError
        return max(end - time.monotonic(), 0.01)

    try:
        yield left
    except TimeoutError:
        raise PatternError("That pattern takes too long in this text; try a plainer one.") from None


def replace_all(
    transcript: Transcript, wanted: Wanted, by: str, places: Sequence[Match] | None = None
) -> tuple[Transcript, int]:
    """Return the text with ``by`` in all matches, or in those given, and their number.

    In a pattern, ``\\1`` and ``\\g<name>`` stand for groups. Raises PatternError.
    """
    pattern = wanted.compiled()
    chosen = None if places is None else {(p.row, p.first) for p in places}
    count = 0
    texts: dict[int, str] = {}
    with _in_time() as left:
        rows = range(len(transcript.cues)) if chosen is None else sorted({r for r, _ in chosen})
        for row in rows:
            cue = transcript.cues[row]

            def replaced(match: Any, row: int = row) -> str:
                nonlocal count
                said = str(match.group())
                if not said or (chosen is not None and (row, match.start()) not in chosen):
                    return said
                count += 1
                try:
                    return str(match.expand(by)) if wanted.pattern else by
                except (regex.error, IndexError, ValueError) as error:
                    raise PatternError(f"The replacement makes no sense: {error}.") from None

            text = pattern.sub(replaced, cue.text, timeout=left())
            if text != cue.text:
                texts[row] = _with_lines(text, cue.lines, cue.breaks)
    return set_texts(transcript, texts), count


def _with_lines(text: str, lines: Sequence[str], breaks: tuple[int, ...] | None) -> str:
    """Keep a cue's own line breaks, if it still has as many words."""
    words = tokens_of(text)
    if not breaks or len(words) != sum(len(tokens_of(line)) for line in lines):
        return text
    edges = [0, *breaks, len(words)]
    return "\n".join(joined(words[a:b]) for a, b in pairwise(edges))

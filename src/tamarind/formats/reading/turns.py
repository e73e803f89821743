"""Find the turns of a transcript in its lines: who speaks, from when, and what."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from tamarind.formats.captionfile import FormatError, RawCue, Repairs, transcript_of
from tamarind.formats.timecode import clock, parse_time
from tamarind.transcript.model import Transcript

_MS_A_LETTER = 65
_MOST_WORDS_OF_A_NAME = 4
_SHORT = r"\d{1,6}(?::\d\d){1,2}(?:[.,]\d{1,3})?"
_FULL = r"\d{1,6}:\d\d:\d\d(?:[.,]\d{1,3})?"
_STAMP = rf"(?:\[\s*{_SHORT}\s*\]|\(\s*{_SHORT}\s*\)|{_FULL}(?![\d:]))"
_FIRST = re.compile(rf"^{_STAMP}\s*")
_WITHIN = re.compile(rf"\s*(\[\s*{_SHORT}\s*\]|\(\s*{_FULL}\s*\))\s*")
"""A stamp within a paragraph; round brackets with less may be a time of day."""

_LABEL = re.compile(rf"^([^:：\[\]()]{{1,60}}?)\s*({_STAMP})?\s*(?::(?:\s+|$)|：\s*)")
_STAMPED_NAME = re.compile(rf"^([^:\[\]()]{{1,60}}?)\s*({_STAMP})\s*:?$")


@dataclass(frozen=True, slots=True)
class Turn:
    """What somebody says: ``time`` is a stamp as it was written, or empty; one that does not
    ``open`` goes on in the paragraph before."""

    text: str
    speaker: str | None = None
    time: str = ""
    opens: bool = True


def turns_in(paragraphs: Sequence[Sequence[str]], named: Collection[str] = ()) -> list[Turn]:
    """Return the turns of paragraphs of lines; ``named`` are speakers that are known.

    A line that begins with a stamp or a speaker begins a turn, another goes on in its paragraph.
    Labels that stand before several lines, or in capitals, are speakers; so are names that stand
    alone on several lines, with a stamp or in capitals, for what follows.
    """
    names = _names_in([line for lines in paragraphs for line in lines])
    names |= {name.casefold() for name in named}
    turns: list[Turn] = []
    waiting: Turn | None = None
    for lines in paragraphs:
        goes_on = False
        for line in filter(None, (" ".join(line.split()) for line in lines)):
            turn = _turn_of(line, names)
            if not turn.text and turn.speaker is not None:
                turns += _unanswered(waiting)
                waiting, goes_on = turn, False
                continue
            if waiting is not None and turn.speaker is None:
                turn = replace(turn, speaker=waiting.speaker, time=turn.time or waiting.time)
                waiting, goes_on = None, False
            turns += _unanswered(waiting)
            waiting = None
            if goes_on and turn.speaker is None and not turn.time:
                turns[-1] = replace(turns[-1], text=f"{turns[-1].text} {turn.text}")
            elif turn.text:
                turns.append(turn)
            goes_on = bool(turns)
    turns += _unanswered(waiting)
    return [part for turn in turns for part in _parted(turn)]


def transcript_in(turns: Sequence[Turn], language: str, repairs: Repairs) -> Transcript:
    """Return a transcript with one cue a turn. A stamp is the start of its turn; others get times
    by length. Raises FormatError if there is no text."""
    raw: list[RawCue] = []
    stamped: list[int] = []
    for turn in turns:
        time = None
        if turn.time:
            try:
                time = parse_time(turn.time.strip(" []()"))
            except ValueError as error:
                repairs.note(f"{error} The paragraph there follows on.")
        if time is not None:
            stamped.append(len(raw))
        raw.append(RawCue(time or 0, 0, (turn.text,), turn.speaker))
    if not raw:
        raise FormatError("The file holds no text.")
    transcript = transcript_of(_laid(raw, stamped, repairs), language, repairs)
    opens = [turn.opens for turn in turns]
    if len(opens) != len(transcript.cues):
        opens = [True] * len(transcript.cues)
    cues = zip(transcript.cues, opens, strict=True)
    return replace(
        transcript, cues=tuple(replace(cue, opens_paragraph=opening) for cue, opening in cues)
    )


def without_stamp(line: str) -> str:
    """Return a line without the stamp that it begins with."""
    return _FIRST.sub("", line)


def label_of(line: str) -> tuple[str, str] | None:
    """Return the label that a line begins with and the rest of it, or None."""
    label = _LABEL.match(line)
    return (label[1], line[label.end() :]) if label else None


def may_be_name(text: str) -> bool:
    """Whether a text is as short as names are, and all its words begin as names do: with a capital,
    a digit, or in a script that has no capitals."""
    words = text.split()
    few = 0 < len(words) <= _MOST_WORDS_OF_A_NAME
    return few and all(word[:1].isalnum() and not word[:1].islower() for word in words)


def _turn_of(line: str, names: Collection[str]) -> Turn:
    """Return the turn that a line begins, or a part of one without speaker and time."""
    alone = _STAMPED_NAME.match(line)
    if alone and alone[1].casefold() in names:
        return Turn("", alone[1], alone[2])
    if line.isupper() and line.rstrip(":").casefold() in names:
        return Turn("", line.rstrip(":"))
    first = _FIRST.match(line)
    time = first[0].strip() if first else ""
    rest = line[first.end() :] if first else line
    label = _LABEL.match(rest)
    if label is None or label[1].casefold() not in names:
        if rest.isupper() and rest.casefold() in names:
            return Turn("", rest, time)
        return Turn(rest, None, time)
    time = time or label[2] or ""
    rest = rest[label.end() :]
    again = _FIRST.match(rest)
    if again and not time:
        time, rest = again[0].strip(), rest[again.end() :]
    return Turn(rest, label[1], time)


def _unanswered(turn: Turn | None) -> list[Turn]:
    """Return the text of a name after which nothing is said: it may have been none."""
    return [] if turn is None or turn.speaker is None else [Turn(turn.speaker, None, turn.time)]


def _parted(turn: Turn) -> Iterator[Turn]:
    """Yield the parts of a turn between the stamps within it."""
    time, at, opens = turn.time, 0, True
    for stamp in _WITHIN.finditer(turn.text):
        before = turn.text[at : stamp.start()]
        if before:
            yield Turn(before, turn.speaker, time, opens)
            opens = False
        time, at = stamp[1], stamp.end()
    if turn.text[at:]:
        yield Turn(turn.text[at:], turn.speaker, time, opens)


def _names_in(lines: Sequence[str]) -> set[str]:
    """Return the labels that are names: used twice, or in capitals."""
    labels: Counter[str] = Counter()
    alone: Counter[str] = Counter()
    shouted: set[str] = set()
    headed: Counter[str] = Counter()
    for line in (" ".join(line.split()) for line in lines):
        bare = without_stamp(line)
        label = _LABEL.match(bare)
        if label and 0 < len(label[1].split()) <= _MOST_WORDS_OF_A_NAME:
            if may_be_name(label[1]):
                labels[label[1].casefold()] += 1
            if label[1].isupper():
                shouted.add(label[1].casefold())
            continue
        name = _STAMPED_NAME.match(line)
        if name and may_be_name(name[1]):
            alone[name[1].casefold()] += 1
        elif bare.isupper() and may_be_name(bare) and bare[-1:].isalnum():
            headed[bare.casefold()] += 1
    often = {name for counted in (labels, alone) for name, count in counted.items() if count > 1}
    # Where one stands alone again and again, that is how this text names its speakers.
    return often | shouted | (set(headed) if any(one > 1 for one in headed.values()) else set())


def _laid(raw: Sequence[RawCue], stamped: Sequence[int], repairs: Repairs) -> list[RawCue]:
    """Return paragraphs in a row with times by their length; those whose indices are ``stamped``
    begin at their stamp, and those before are shortened if they must be."""
    laid: list[RawCue] = []
    at = 0
    for first, after in pairwise(dict.fromkeys([0, *stamped, len(raw)])):
        run = raw[first:after]
        if first in stamped and run[0].start < at:
            # Turns within one second have the same stamp, which says nothing against the order.
            if run[0].start < laid[-1].start // 1000 * 1000:
                repairs.note(
                    f"The paragraph stamped {clock(run[0].start)} stands after a later one:"
                    f" it begins at {clock(at)}."
                )
        elif first in stamped:
            at = run[0].start
        lengths = [(len(cue.lines[0]) + 1) * _MS_A_LETTER for cue in run]
        if after < len(raw):
            share = max(0, raw[after].start - at) / sum(lengths)
            lengths = [int(length * min(share, 1.0)) for length in lengths]
        for cue, length in zip(run, lengths, strict=True):
            end = at + max(length, len(cue.lines[0].split()))
            laid.append(replace(cue, start=at, end=end))
            at = end
    return laid

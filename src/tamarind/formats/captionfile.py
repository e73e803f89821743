"""What all caption files share: bytes to text, cues from lines, and errors in a sentence."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from tamarind.formats.spans import as_its_language
from tamarind.formats.timecode import clock
from tamarind.system.errors import ToldError
from tamarind.transcript.bounds import LATEST, clean_text
from tamarind.transcript.model import Cue, Speaker, Transcript, Word
from tamarind.transcript.reconcile import held, line_starts, spread
from tamarind.transcript.tokens import tokens_of

LONGEST_NAME = 200
"""Letters of a speaker's name."""


class FormatError(ToldError):
    """A file cannot be read as what it should be; the message is one sentence."""


def brief(error: BaseException) -> str:
    """What a library says of an error, short enough for a sentence."""
    said = " ".join(str(error).split())
    return said if len(said) <= 100 else f"{said[:100]}…"


@dataclass(frozen=True, slots=True)
class Fault:
    """A cue that is broken in its file: which one from 1, its line (0 if that is not known), its
    time (ms), and what is wrong, a short sentence without a full stop."""

    number: int
    line: int
    time: int
    reason: str


class Repairs(list[str]):
    """What a reader put right in a damaged file, a sentence each; the first ones in full.

    ``faults`` are those of single cues, all of them; ``dropped`` says how often which
    kind of styling was passed over.
    """

    MOST = 200

    def note(self, sentence: str) -> None:
        """Take note of something; beyond the first 200 they are only counted."""
        if len(self) < self.MOST:
            self.append(sentence)
        else:
            self.more += 1

    def fault(self, fault: Fault, sentence: str) -> None:
        """Take note of a broken cue, and how it is said in a list of all that was mended."""
        where = f" (line {fault.line})" if fault.line else ""
        self.note(f"{sentence}{where}.")
        self.faults.append(fault)

    def drop(self, kind: str, count: int = 1) -> None:
        """Take note of styling that is passed over: "typefaces", "drawings"."""
        self.dropped[kind] += count

    def __init__(self) -> None:
        super().__init__()
        self.more = 0
        self.faults: list[Fault] = []
        self.dropped: Counter[str] = Counter()


@dataclass(frozen=True, slots=True)
class RawCue:
    """A cue as it stands in a file: times in ms, lines of plain text, a speaker's name.

    ``marks`` are times (ms) within the text that a file gives: (how many words stand before, time).
    ``spans`` are those of each word, nothing if there are none; ``note`` is a remark before it.
    ``line`` is where it stands in the file, from 1; 0 if that says nothing.
    """

    start: int
    end: int
    lines: tuple[str, ...]
    speaker: str | None = None
    marks: tuple[tuple[int, int], ...] = ()
    placement: str = ""
    line: int = 0
    spans: tuple[tuple[str, ...], ...] = ()
    note: str = ""


def _times(
    item: RawCue, count: int, until: int, fault: Callable[[str, str], None]
) -> tuple[int, int]:
    """When a cue begins and ends (ms), which are in order and within any recording; what is wrong
    with them is told. It has so many words, and the one before it ends at ``until``."""
    if item.end < item.start:
        fault("it ends before it begins", f"The cue at {clock(item.start)} ended before it began")
    start, end = ordered(min(item.start, LATEST), min(item.end, LATEST))
    if max(item.start, item.end) > LATEST:
        fault(
            "it is beyond the end of any recording",
            f"The cue at {clock(start)} ended beyond the end of any recording",
        )
    if abs(item.end - item.start) < count:
        fault(
            "it is too short for its words",
            f"The cue at {clock(start)} was shown for {abs(item.end - item.start)} ms, too short"
            f" for its words: it is {count} ms long now",
        )
    if until > start:
        fault(
            "it begins before the one before has ended",
            f"The cue at {clock(start)} begins before the one before has ended",
        )
    return start, end


def _in_order(raw: Iterable[RawCue], repairs: Repairs) -> list[tuple[int, RawCue]]:
    """Cues with their numbers in the file, by their times."""
    found = list(enumerate(raw, 1))
    if any(_begins(one) > _begins(other) for (_, one), (_, other) in pairwise(found)):
        repairs.note("Cues were not in the order of their times.")
        found.sort(key=lambda entry: _begins(entry[1]))
    return found


def _speaker(item: RawCue, speakers: dict[str, Speaker]) -> int | None:
    """Who says a cue, who is added to those who are known by name."""
    name = " ".join(clean_text(item.speaker or "").split())[:LONGEST_NAME]
    return speakers.setdefault(name, Speaker(len(speakers) + 1, name)).id if name else None


def transcript_of(
    raw: Iterable[RawCue], language: str, repairs: Repairs | None = None, preamble: str = ""
) -> Transcript:
    """A transcript from cues in a file: in order of time, lines as they stood, words spread."""
    repairs = Repairs() if repairs is None else repairs
    speakers: dict[str, Speaker] = {}
    cues: list[Cue] = []
    previous: int | None = None
    until = 0
    known: dict[tuple[type, str], str] = {}
    for number, item in _in_order(raw, repairs):

        def fault(reason: str, sentence: str, number: int = number, item: RawCue = item) -> None:
            repairs.fault(Fault(number, item.line, min(item.start, LATEST), reason), sentence)

        # A word that stands a thousand times is kept once.
        lines = [
            [known.setdefault((type(word), word), word) for word in tokens_of(clean_text(line))]
            for line in item.lines
        ]
        tokens = [token for line in lines for token in line]
        if not tokens:
            fault("it has no text", f"A cue at {clock(item.start)} has no text")
            continue
        if item.start > LATEST and item.end > LATEST:
            fault(
                "it is beyond the end of any recording",
                "A cue is beyond the end of any recording and was left out",
            )
            continue
        speaker = _speaker(item, speakers)
        start, end = _times(item, len(tokens), until, fault)
        cues.append(
            Cue(
                id=len(cues) + 1,
                start=start,
                end=max(end, start + len(tokens)),
                words=_spanned(_timed(tokens, start, end, item.marks), item.spans),
                speaker=speaker,
                opens_paragraph=not cues or speaker != previous,
                breaks=line_starts(lines),
                placement=item.placement,
                note=item.note,
            )
        )
        previous = speaker
        until = max(until, cues[-1].end)
    own = tuple(as_its_language(cue, language) for cue in cues)
    return Transcript(language, own, tuple(speakers.values()), preamble)


def _begins(cue: RawCue) -> int:
    """When a cue begins, whichever way round its times are."""
    return min(cue.start, cue.end)


def _timed(
    tokens: Sequence[str], start: int, end: int, marks: Sequence[tuple[int, int]]
) -> tuple[Word, ...]:
    """Words spread over a cue, or between the times that the file gives within it."""
    if not marks:
        return held(spread(tokens, start, end), start, max(end, start + len(tokens)))
    edges = [(0, start), *marks, (len(tokens), end)]
    words: list[Word] = []
    for (first, begun), (last, until) in pairwise(edges):
        words += spread(tokens[first:last], begun, max(until, begun))
    return held(words, start, max(end, start + len(tokens)))


def _spanned(words: tuple[Word, ...], spans: Sequence[tuple[str, ...]]) -> tuple[Word, ...]:
    if len(spans) != len(words):
        return words
    pairs = zip(words, spans, strict=True)
    return tuple(replace(word, spans=own) if own else word for word, own in pairs)


def ordered(start: int, end: int) -> tuple[int, int]:
    """A start and an end the right way round and apart, whatever the file says."""
    if end < start:
        start, end = end, start
    return min(start, LATEST - 1), max(min(end, LATEST), min(start, LATEST - 1) + 1)


def names_of(transcript: Transcript) -> dict[int | None, str | None]:
    """What to write for each speaker id; None for no speaker."""
    names: dict[int | None, str | None] = {s.id: s.label for s in transcript.speakers}
    names[None] = None
    return names

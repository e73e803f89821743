"""What the caption formats share: repairs, cues from lines, errors in a sentence."""

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
    """Return a library's error message, short enough for a sentence."""
    said = " ".join(str(error).split())
    return said if len(said) <= 100 else f"{said[:100]}…"


@dataclass(frozen=True, slots=True)
class Fault:
    """A broken cue of a file: its number from 1, its line (0 if not known), its time (ms), and what
    is wrong, a short sentence without a full stop."""

    number: int
    line: int
    time: int
    reason: str


class Repairs(list[str]):
    """What a reader repaired in a damaged file, a sentence each; the first ones in full.

    ``faults`` are those of single cues, all of them; ``dropped`` says how often which
    kind of styling was passed over.
    """

    MOST = 200

    def note(self, sentence: str) -> None:
        """Add a repair; beyond the first 200 they are only counted."""
        if len(self) < self.MOST:
            self.append(sentence)
        else:
            self.more += 1

    def fault(self, fault: Fault, sentence: str) -> None:
        """Add a broken cue, and the sentence for it."""
        where = f" (line {fault.line})" if fault.line else ""
        self.note(f"{sentence}{where}.")
        self.faults.append(fault)

    def drop(self, kind: str, count: int = 1) -> None:
        """Add styling that was ignored: "typefaces", "drawings"."""
        self.dropped[kind] += count

    def __init__(self) -> None:
        super().__init__()
        self.more = 0
        self.faults: list[Fault] = []
        self.dropped: Counter[str] = Counter()


@dataclass(frozen=True, slots=True)
class RawCue:
    """A cue as in the file: times in ms, lines of plain text, a speaker's name.

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
    """Return start and end (ms), in order and within any possible recording, and note what was
    wrong. The cue has so many words, and the one before ends at ``until``."""
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
    """Return cues with their numbers in the file, sorted by time."""
    found = list(enumerate(raw, 1))
    if any(_begins(one) > _begins(other) for (_, one), (_, other) in pairwise(found)):
        repairs.note("Cues were not in the order of their times.")
        found.sort(key=lambda entry: _begins(entry[1]))
    return found


def _speaker(item: RawCue, speakers: dict[str, Speaker]) -> int | None:
    """Return the number of a cue's speaker, adding a new name."""
    name = " ".join(clean_text(item.speaker or "").split())[:LONGEST_NAME]
    return speakers.setdefault(name, Speaker(len(speakers) + 1, name)).id if name else None


def transcript_of(
    raw: Iterable[RawCue], language: str, repairs: Repairs | None = None, preamble: str = ""
) -> Transcript:
    """Make a transcript from cues of a file: sorted by time, with their lines, words spread over
    their time."""
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
    """Return when a cue begins, whichever way round its times are."""
    return min(cue.start, cue.end)


def _timed(
    tokens: Sequence[str], start: int, end: int, marks: Sequence[tuple[int, int]]
) -> tuple[Word, ...]:
    """Return words spread over a cue, or between the times that the file gives within it."""
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
    """Return a start and an end in the right order and apart."""
    if end < start:
        start, end = end, start
    return min(start, LATEST - 1), max(min(end, LATEST), min(start, LATEST - 1) + 1)


def names_of(transcript: Transcript) -> dict[int | None, str | None]:
    """Return the name to write for each speaker id; None for no speaker."""
    names: dict[int | None, str | None] = {s.id: s.label for s in transcript.speakers}
    names[None] = None
    return names

"""Read and write plain transcripts (.txt): paragraphs, with or without speakers and times."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Collection, Sequence
from dataclasses import replace
from itertools import pairwise

from tamarind.formats.captionfile import FormatError, RawCue, Repairs, transcript_of
from tamarind.formats.format import DocumentKind, Format
from tamarind.formats.reading.paragraphs import PLAIN, TextOptions, paragraphs
from tamarind.formats.timecode import clock, parse_time
from tamarind.transcript.fields import Holds
from tamarind.transcript.model import Transcript
from tamarind.transcript.takeback import Part

_MS_A_LETTER = 65
_STAMP = re.compile(r"^\[\d+(?::\d\d){1,2}(?:[.,]\d+)?\]\s*")
_LABEL = re.compile(r"^([^:\[\]]{1,60}):\s+")
_MOST_WORDS_OF_A_NAME = 4


def write(transcript: Transcript, options: TextOptions = PLAIN) -> str:
    """Write paragraphs separated by blank lines, each with time and speaker as the options say, and
    headings."""
    blocks = []
    for paragraph in paragraphs(transcript, options):
        said = " ".join(filter(None, (paragraph.stamp, paragraph.label, paragraph.text)))
        blocks += [paragraph.heading, said] if paragraph.heading else [said]
    return "\n\n".join(blocks) + ("\n" if blocks else "")


def read(text: str, language: str, repairs: Repairs | None = None) -> Transcript:
    """Read one cue a paragraph. Labels that stand before several paragraphs, or in capitals, are
    speakers; a time stamp is the start of its paragraph, others get times by length."""
    repairs = Repairs() if repairs is None else repairs
    blocks = [" ".join(block.split()) for block in blocks_of(text)]
    names = _names_in(blocks)
    raw: list[RawCue] = []
    stamped: list[int] = []
    for block in filter(None, blocks):
        stamp = _STAMP.match(block)
        time = None
        if stamp:
            block = block[stamp.end() :]
            try:
                time = parse_time(stamp[0].strip(" []"))
            except ValueError as error:
                repairs.note(f"{error} The paragraph there follows on.")
        label = _LABEL.match(block)
        speaker = None
        if label and label[1].casefold() in names:
            speaker, block = label[1], block[label.end() :]
        if block:
            if time is not None:
                stamped.append(len(raw))
            raw.append(RawCue(time or 0, 0, (block,), speaker))
    if not raw:
        raise FormatError("The file holds no text.")
    return with_paragraphs(transcript_of(_laid(raw, stamped, repairs), language, repairs))


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


def with_paragraphs(transcript: Transcript) -> Transcript:
    """Return the transcript with a paragraph opened at every cue."""
    cues = tuple(replace(cue, opens_paragraph=True) for cue in transcript.cues)
    return replace(transcript, cues=cues)


def _names_in(blocks: Sequence[str]) -> set[str]:
    """Return the labels that are names: used twice, or in capitals."""
    labels: Counter[str] = Counter()
    shouted: set[str] = set()
    for block in blocks:
        label = _LABEL.match(_STAMP.sub("", block))
        words = label[1].split() if label else []
        if label and 0 < len(words) <= _MOST_WORDS_OF_A_NAME:
            if all(word[:1].isupper() or word[:1].isdigit() for word in words):
                labels[label[1].casefold()] += 1
            if label[1].isupper():
                shouted.add(label[1].casefold())
    return {label for label, count in labels.items() if count > 1} | shouted


def blocks_of(text: str) -> list[str]:
    """Return the parts of a text between blank lines."""
    return re.split(r"\n[^\S\n]*(?:\n[^\S\n]*)+", text)


def read_parts(text: str, names: Collection[str], headings: Collection[str] = ()) -> list[Part]:
    """Return the paragraphs of a transcript that was written with speakers and perhaps edited.

    ``names`` are the speakers that are known; another label counts as a name where there are any
    and all its words begin with a capital. A paragraph that is one of the ``headings`` is left out.
    """
    known = {name.casefold() for name in names}
    parts: list[Part] = []
    for paragraph in blocks_of(text):
        line = _STAMP.sub("", " ".join(paragraph.split()))
        if line in headings:
            continue
        label = _LABEL.match(line)
        if label and _is_name(label[1], known):
            parts.append(Part(line[label.end() :], label[1]))
        elif line:
            parts.append(Part(line))
    return parts


def _is_name(label: str, known: Collection[str]) -> bool:
    if label.casefold() in known:
        return True
    words = label.split()
    few = 0 < len(words) <= _MOST_WORDS_OF_A_NAME
    return bool(known) and few and all(word[:1].isupper() for word in words)


FORMAT = Format(
    ("txt",),
    "Plain transcript",
    DocumentKind.READING,
    read=read,
    write=lambda transcript, source, options: write(transcript, options.text),
    holds=frozenset({Holds.SPEAKER}),
    rank=1,
)
FORMATS = (FORMAT,)

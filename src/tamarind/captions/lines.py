"""Break the text of cues into lines."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tamarind.captions.limits import Limits
from tamarind.captions.phrases import in_phrases
from tamarind.captions.syntax import border_costs
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.tokens import Glued, joined

EVENNESS = 2.0
"""What a line that is empty would cost, on the scale of ``syntax``; it falls with the square."""


def break_lines(words: Sequence[str], limits: Limits, language: str = "en") -> tuple[int, ...]:
    """Return the indices of the words that begin a new line.

    The fewest lines that hold the text, then the least sum of border costs and squared unevenness,
    by dynamic programming over break points (after Knuth and Plass, 1981). A single word longer
    than a line stands alone on one that is too long.
    """
    count = len(words)
    if limits.width(joined(words)) <= limits.line_length or count < 2:
        return ()
    borders = border_costs(words, language)
    spaces = [not isinstance(word, Glued) for word in words]
    lengths = [0.0]
    for word, space in zip(words, spaces, strict=True):
        lengths.append(lengths[-1] + limits.width(word) + space)
    best: list[tuple[int, float]] = [(0, 0.0)]
    origin = [0] * (count + 1)
    for end in range(1, count + 1):
        options: list[tuple[int, float, int]] = []
        for start in range(end - 1, -1, -1):
            length = lengths[end] - lengths[start] - spaces[start]
            if length > limits.line_length and start < end - 1:
                break
            uneven = ((limits.line_length - length) / limits.line_length) ** 2
            lines, cost = best[start]
            options.append((lines + 1, cost + EVENNESS * uneven + float(borders[end]), start))
        lines, cost, start = min(options)
        best.append((lines, cost))
        origin[end] = start
    breaks: list[int] = []
    place = origin[count]
    while place > 0:
        breaks.append(place)
        place = origin[place]
    return tuple(breaks[::-1])


def fits(words: Sequence[str], limits: Limits) -> bool:
    """Whether the words fit into the lines that a cue may have."""
    if limits.width(joined(words)) > (limits.line_length + 1) * limits.lines:
        return False
    return len(break_lines(words, limits)) < limits.lines


def with_breaks(transcript: Transcript, limits: Limits) -> Transcript:
    """Return the transcript with line breaks in every cue that has none of its own."""
    language = transcript.language
    return replace(
        transcript, cues=tuple(_broken(cue, limits, language) for cue in transcript.cues)
    )


def within_columns(transcript: Transcript, limits: Limits, columns: int) -> Transcript:
    """Return the transcript with lines broken again where they are longer than the picture's
    columns; all cues must have their line breaks."""
    narrow = replace(limits, line_length=min(limits.line_length, columns))
    cues = tuple(
        _broken(replace(cue, breaks=None), narrow, transcript.language)
        if any(len(line) > columns for line in cue.lines)
        else cue
        for cue in transcript.cues
    )
    return replace(transcript, cues=cues)


def as_read(transcript: Transcript, first: int, last: int, limits: Limits) -> str:
    """Return cues as a viewer sees them: their lines, then how long they stand, with an empty line
    between cues."""
    part = with_breaks(replace(transcript, cues=transcript.cues[first:last]), limits)
    return "\n\n".join(
        "\n".join(cue.lines) + f"\n{(cue.end - cue.start) / 1000:.2f} s" for cue in part.cues
    )


def _broken(cue: Cue, limits: Limits, language: str) -> Cue:
    if cue.breaks is not None:
        return cue
    cue = replace(cue, words=in_phrases(cue.words))
    breaks = break_lines([word.token for word in cue.words], limits, language)
    return replace(cue, breaks=breaks)

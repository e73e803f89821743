"""Rules of captions: lines, times, and reading speed."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import pairwise

from tamarind.captions.frames import ceiled, floored, is_on_frame
from tamarind.captions.limits import Limits
from tamarind.captions.lines import break_lines
from tamarind.checks.finding import Finding, Fix, Rebreak, Recut, Relook, Retime
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.tokens import joined, tokens_of

CONTRAST = 4.5
"""To 1, between letters and what is behind them (WCAG 2.2, 1.4.3)."""


def findings(cue: Cue, following: Cue | None, limits: Limits, language: str) -> Iterator[Finding]:
    """What breaks the limits in a cue with words, or between it and the next."""
    yield from _lines(cue, limits, language)
    yield from _times(cue, following, limits)
    if following is not None:
        yield from _apart(cue, following, limits)
        if following.text == cue.text and cue.speaker == following.speaker:
            yield _finding("same-text", cue, "the next cue says just the same", ())
    if not is_on_frame(cue.start, limits.frame_rate) or not is_on_frame(cue.end, limits.frame_rate):
        start = floored(cue.start, limits.frame_rate)
        end = ceiled(cue.end, limits.frame_rate)
        end = end if following is None or end <= following.start else cue.end
        yield _finding("frames", cue, "not on a frame", (Retime(cue.id, start, end),))


def _lines(cue: Cue, limits: Limits, language: str) -> Iterator[Finding]:
    texts = [word.token for word in cue.words]
    ruled = break_lines(texts, limits, language)
    lines = cue.lines if cue.breaks is not None else _lines_at(texts, ruled)
    longest = max(map(limits.width, lines))
    fits = len(ruled) < limits.lines and (
        max(map(limits.width, _lines_at(texts, ruled))) <= limits.line_length
    )
    # Laying out the lines is enough where they fit; else the cue has to be cut.
    fixes: tuple[Fix, ...] = (Rebreak(cue.id),) if fits else (Recut(cue.id),)
    if longest > limits.line_length:
        line = max(lines, key=limits.width)
        alone = len(tokens_of(line)) < 2
        reason = limits.too_long(line)
        yield Finding("line-length", cue.id, cue.start, reason, line, fixes=() if alone else fixes)
    if len(lines) > limits.lines:
        reason = f"{len(lines)} lines, {limits.lines} at most"
        yield _finding("line-count", cue, reason, fixes)


def _lines_at(texts: list[str], breaks: tuple[int, ...]) -> tuple[str, ...]:
    edges = [0, *breaks, len(texts)]
    return tuple(joined(texts[a:b]) for a, b in pairwise(edges))


def _times(cue: Cue, following: Cue | None, limits: Limits) -> Iterator[Finding]:
    length = cue.end - cue.start
    room = following.start - limits.gap if following is not None else cue.start + limits.longest
    if length < limits.shortest:
        wanted = min(cue.start + limits.shortest, room)
        fixes: tuple[Fix, ...] = (Retime(cue.id, cue.start, wanted),) if wanted > cue.end else ()
        reason = f"{length / 1000:.2f} s, {limits.shortest / 1000:g} s at least"
        yield _finding("too-short", cue, reason, fixes)
    if length > limits.longest:
        end = cue.start + limits.longest
        spoken = cue.words[-1].end
        shorter = (Retime(cue.id, cue.start, end),) if end >= spoken else (Recut(cue.id),)
        reason = f"{length / 1000:.1f} s, {limits.longest / 1000:g} s at most"
        yield _finding("too-long", cue, reason, shorter)
    if limits.is_too_fast(cue.text, cue.start, cue.end):
        wanted = min(cue.start + limits.reading_time(cue.text), room, cue.start + limits.longest)
        short = limits.is_too_fast(cue.text, cue.start, max(wanted, cue.end))
        longer: tuple[Fix, ...] = () if short else (Retime(cue.id, cue.start, wanted),)
        reason = limits.too_fast(cue.text, cue.start, cue.end)
        yield _finding("reading-speed", cue, reason, longer or (Recut(cue.id),))


def _apart(cue: Cue, following: Cue, limits: Limits) -> Iterator[Finding]:
    between = following.start - cue.end
    if between >= limits.gap:
        return
    end = following.start - limits.gap
    least = cue.words[-1].start + (cue.words[-1].end - cue.words[-1].start) // 2
    fixes = (Retime(cue.id, cue.start, end),) if end >= least else ()
    if between < 0:
        yield _finding("overlap", cue, f"ends {-between / 1000:.2f} s after the next begins", fixes)
    else:
        yield _finding("gap", cue, f"{between} ms to the next, {limits.gap} at least", fixes)


def contrasts(
    transcript: Transcript, measured: Sequence[tuple[int, float]], readable: str
) -> Iterator[Finding]:
    """Cues whose letters do not stand out on the picture behind them, by when their captions begin;
    a box makes them."""
    told: set[int] = set()
    for start, ratio in measured:
        place = transcript.place_at(start)
        if ratio >= CONTRAST or place is None or place in told:
            continue
        told.add(place)
        cue = transcript.cues[place]
        reason = f"contrast {ratio:.1f} to 1, {CONTRAST} is wanted"
        fixes = () if cue.look == readable else (Relook(cue.id, readable),)
        yield Finding("contrast", cue.id, cue.start, reason, cue.text, fixes=fixes)


def _finding(rule: str, cue: Cue, reason: str, fixes: tuple[Fix, ...]) -> Finding:
    return Finding(rule, cue.id, cue.start, reason, cue.text, fixes=fixes)

"""Checks of captions: line lengths, times, reading speed, contrast."""

from __future__ import annotations

from collections.abc import Iterator

from tamarind.captions.frames import ceiled, floored, is_on_frame
from tamarind.checks.check import Around, CaptionCheck, CheckContext, CheckMemory
from tamarind.checks.finding import Finding, Fix, Rebreak, Recut, Relook, Retime
from tamarind.language.housestyle import Level
from tamarind.picture.looks import LEAST_CONTRAST
from tamarind.transcript.model import Transcript
from tamarind.transcript.tokens import tokens_of


class ReadingSpeedCheck(CaptionCheck):
    """A caption is shown for less time than it takes to read. Fix: show it longer, or cut it."""

    key, title = "reading-speed", "too fast to read"

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Compare with the characters per second of the style."""
        cue, limits = around.cue, around.limits
        text = around.text
        if not limits.is_too_fast(text, cue.start, cue.end):
            return
        wanted = cue.start + min(limits.reading_time(text), limits.longest)
        wanted = min(wanted, _room(around))
        still = limits.is_too_fast(text, cue.start, max(wanted, cue.end))
        fix = Recut(cue.id) if still else Retime(cue.id, cue.start, wanted)
        yield self.found(cue, limits.too_fast(text, cue.start, cue.end), fix)


class LineLengthCheck(CaptionCheck):
    """A line has too many characters."""

    key, title = "line-length", "line too long"

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Measure the longest line."""
        limits = around.limits
        line = max(around.lines, key=limits.width)
        if limits.width(line) > limits.line_length:
            alone = len(tokens_of(line)) < 2
            fixes = () if alone else (_relined(around),)
            cue = around.cue
            reason = limits.too_long(line)
            yield Finding(self.key, cue.id, cue.start, reason, line, fixes=fixes)


class LineCountCheck(CaptionCheck):
    """A caption has too many lines."""

    key, title = "line-count", "too many lines"

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Count the lines."""
        count, most = len(around.lines), around.limits.lines
        if count > most:
            yield self.found(around.cue, f"{count} lines, {most} at most", _relined(around))


class TooShortCheck(CaptionCheck):
    """A caption is shown too briefly."""

    key, title, level = "too-short", "shown too briefly", Level.HINT

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Compare with the shortest duration of the style."""
        cue, limits = around.cue, around.limits
        if cue.end - cue.start >= limits.shortest:
            return
        wanted = min(cue.start + limits.shortest, _room(around))
        fixes = (Retime(cue.id, cue.start, wanted),) if wanted > cue.end else ()
        reason = f"{(cue.end - cue.start) / 1000:.2f} s, {limits.shortest / 1000:g} s at least"
        yield self.found(cue, reason, *fixes)


class TooLongCheck(CaptionCheck):
    """A caption is shown too long. Fix: end it earlier if its words allow it, or cut it."""

    key, title = "too-long", "shown too long"

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Compare with the longest duration of the style."""
        cue, limits = around.cue, around.limits
        if cue.end - cue.start <= limits.longest:
            return
        end = cue.start + limits.longest
        fix = Retime(cue.id, cue.start, end) if end >= cue.words[-1].end else Recut(cue.id)
        reason = f"{(cue.end - cue.start) / 1000:.1f} s, {limits.longest / 1000:g} s at most"
        yield self.found(cue, reason, fix)


class OverlapCheck(CaptionCheck):
    """A caption is still shown when the next one starts."""

    key, title = "overlap", "overlaps the next cue"

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Compare with the start of the next cue."""
        over = -_gap(around)
        if over > 0 and around.following is not None:
            reason = f"ends {over / 1000:.2f} s after the next begins"
            yield self.found(around.cue, reason, *_apart(around))


class GapCheck(CaptionCheck):
    """Two captions follow each other too closely."""

    key, title = "gap", "gap too small"

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Compare with the gap of the style."""
        gap, least = _gap(around), around.limits.gap
        if 0 <= gap < least:
            reason = f"{gap} ms to the next, {least} at least"
            yield self.found(around.cue, reason, *_apart(around))


class SameTextCheck(CaptionCheck):
    """Two captions in a row of the same speaker have the same text."""

    key, title, level, certain = "same-text", "the same text twice", Level.HINT, False

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Compare with the text of the next cue."""
        cue, following = around.cue, around.following
        if following is None or following.speaker != cue.speaker:
            return
        if following.text == around.text:
            yield self.found(cue, "the next cue says just the same")


class FramesCheck(CaptionCheck):
    """A time is not on a frame of the style's rate."""

    key, title, level = "frames", "time off the frames", Level.HINT

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Compare both times with the nearest frames."""
        cue, following, rate = around.cue, around.following, around.limits.frame_rate
        if rate is None:
            return
        if is_on_frame(cue.start, rate) and is_on_frame(cue.end, rate):
            return
        start, end = floored(cue.start, rate), ceiled(cue.end, rate)
        end = end if following is None or end <= following.start else cue.end
        yield self.found(cue, "not on a frame", Retime(cue.id, start, end))


class ContrastCheck(CaptionCheck):
    """Letters do not stand out against the picture behind them. Fix: put a box behind them."""

    key, title, level, uses = "contrast", "too little contrast", Level.HINT, ()

    def in_text(
        self, text: Transcript, context: CheckContext, memory: CheckMemory
    ) -> Iterator[Finding]:
        """Look at the measured ratios, by start time."""
        told: set[int] = set()
        for start, ratio in context.contrasts:
            place = text.place_at(start)
            if ratio >= LEAST_CONTRAST or place is None or place in told:
                continue
            told.add(place)
            cue = text.cues[place]
            boxed = cue.look == context.readable
            fixes = () if boxed else (Relook(cue.id, context.readable),)
            yield self.found(cue, f"contrast {ratio:.1f} to 1, {LEAST_CONTRAST} is wanted", *fixes)


def _relined(around: Around) -> Fix:
    """Return the fix for a cue's lines: break them again if they fit, else cut the cue."""
    limits, cue = around.limits, around.cue
    fits = len(around.ruled) < limits.lines and (
        max(map(limits.width, around.ruled_lines)) <= limits.line_length
    )
    return Rebreak(cue.id) if fits else Recut(cue.id)


def _room(around: Around) -> int:
    """Return the time (ms) until which a cue may stand."""
    limits, following = around.limits, around.following
    if following is None:
        return around.cue.start + limits.longest
    return following.start - limits.gap


def _gap(around: Around) -> int:
    """Return the time from the end of a cue to the next; the least gap where there is none."""
    limits = around.limits
    if around.following is None:
        return limits.gap
    return around.following.start - around.cue.end


def _apart(around: Around) -> tuple[Fix, ...]:
    cue, following = around.cue, around.following
    if following is None:
        return ()
    end, last = following.start - around.limits.gap, cue.words[-1]
    least = last.start + (last.end - last.start) // 2
    return (Retime(cue.id, cue.start, end),) if end >= least else ()

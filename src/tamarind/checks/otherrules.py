"""Rules of what goes out: translations, and what a file's encoding cannot hold."""

from __future__ import annotations

import re
from collections.abc import Iterator

from tamarind.captions.limits import Limits
from tamarind.checks.finding import Finding
from tamarind.formats.encoding import unheld
from tamarind.transcript.model import Cue
from tamarind.translation.tracks import Track

_NUMBER = re.compile(r"\d+(?:[.,:/\u00a0\u202f’' ]\d+)*")


def _numbers(text: str) -> set[str]:
    """The figures of its numbers, times and dates, whatever stands between them."""
    return {re.sub(r"\D", "", found) for found in _NUMBER.findall(text)}


def characters(cue: Cue, encoding: str) -> Iterator[Finding]:
    """Words with letters that an encoding does not have."""
    if not unheld(cue.text, encoding):
        return
    for place, word in enumerate(cue.words):
        missing = unheld(word.text, encoding)
        if missing:
            reason = f"{encoding} has no “{missing}”"
            yield Finding("characters", cue.id, word.start, reason, word.text, place, place + 1)


def translations(cue: Cue, track: Track, limits: Limits) -> Iterator[Finding]:
    """What is wrong with the translation of a cue that has words."""
    if track.is_missing(cue):
        yield Finding("untranslated", cue.id, cue.start, f"nothing in {track.language}", cue.text)
        return
    text = track.text(cue.id)
    if track.is_stale(cue):
        reason = f"its text has changed since ({track.language})"
        yield Finding("stale", cue.id, cue.start, reason, text)
    missing = _numbers(cue.text) - _numbers(text)
    if missing:
        said = ", ".join(sorted(missing))
        reason = f"{said} is not in the text in {track.language}"
        yield Finding("translation-numbers", cue.id, cue.start, reason, text)
    speed = limits.speed(text, cue.start, cue.end)
    if limits.is_too_fast(text, cue.start, cue.end):
        reason = f"{speed:.0f} characters a second in {track.language}"
        yield Finding("translation-speed", cue.id, cue.start, reason, text)

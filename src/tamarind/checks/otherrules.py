"""Rules of what goes out: translations, and what a file's encoding cannot hold."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

from tamarind.captions.limits import Limits
from tamarind.captions.lines import with_breaks
from tamarind.checks.finding import Finding
from tamarind.checks.spellingrules import by_dictionary
from tamarind.formats.documents import WRITTEN
from tamarind.formats.encoding import unheld
from tamarind.formats.format import Lack, Options
from tamarind.language.housestyle import HouseStyle
from tamarind.language.publishing import Ways, published
from tamarind.transcript.languages import name_of
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.reconcile import letters_of, spread
from tamarind.transcript.tokens import tokens_of
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


def lacking(
    transcript: Transcript, style: HouseStyle, suffixes: Sequence[str], options: Options
) -> Iterator[Finding]:
    """What of cues the files that will be written cannot hold: rows, letters, time for sending."""
    texts = {cue.id: cue.text for cue in transcript.cues}
    for suffix in suffixes:
        known = WRITTEN[suffix].lacks
        if known is None:
            continue
        text = published(transcript, suffix, style, Ways(options.rows))
        lacks = [*_more_rows(transcript, text, style.captions), *known(text, options)]
        for lack in lacks:
            reason = f"{WRITTEN[suffix].label}: {lack.reason}"
            yield Finding("file-limits", lack.cue, lack.time, reason, texts.get(lack.cue, ""))


def _more_rows(text: Transcript, written: Transcript, limits: Limits) -> Iterator[Lack]:
    """Cues whose lines are broken anew for a narrow picture, and are more than the style allows."""
    for cue, new in zip(with_breaks(text, limits).cues, written.cues, strict=True):
        rows = len(new.lines)
        if rows > max(len(cue.lines), limits.lines):
            yield Lack(cue.id, cue.start, f"it takes {rows} rows, its lines are too long")


def translations(cue: Cue, track: Track, limits: Limits) -> Iterator[Finding]:
    """What is wrong with the translation of a cue that has words."""
    language, name = track.language, name_of(track.language)
    if track.is_missing(cue):
        reason = f"nothing in {name}"
        yield Finding("untranslated", cue.id, cue.start, reason, cue.text, language=language)
        return
    text = track.text(cue.id)
    if track.is_stale(cue):
        reason = f"its text has changed since ({name})"
        yield Finding("stale", cue.id, cue.start, reason, text, language=language)
    missing = _numbers(cue.text) - _numbers(text)
    if missing:
        said = ", ".join(sorted(missing))
        reason = f"{said} is not in the text in {name}"
        yield Finding("translation-numbers", cue.id, cue.start, reason, text, language=language)
    speed = limits.speed(text, cue.start, cue.end)
    if limits.is_too_fast(text, cue.start, cue.end):
        reason = f"{speed:.0f} characters a second in {name}"
        yield Finding("translation-speed", cue.id, cue.start, reason, text, language=language)


def translation_spelling(
    cue: Cue, track: Track, knows: Callable[[str], bool], right: frozenset[str]
) -> Iterator[Finding]:
    """Words of a translation that a dictionary does not know, but for those that the source has
    too."""
    text = track.text(cue.id)
    tokens = tokens_of(text)
    if not tokens:
        return
    own = replace(cue, words=tuple(spread(tokens, cue.start, cue.end)))
    kept = right | {letters_of(word.text) for word in cue.words}
    for found in by_dictionary(own, knows, kept):
        reason = f"not in the {name_of(track.language)} dictionary"
        yield replace(
            found, rule="translation-spelling", reason=reason, start=cue.start,
            language=track.language,
        )  # fmt: skip

"""Checks of the output: translations, and what a file format cannot hold."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import partial

from tamarind.captions.limits import Limits
from tamarind.captions.lines import with_breaks
from tamarind.checks.check import OUTPUT, Around, Check, CheckContext, CheckMemory
from tamarind.checks.finding import Finding
from tamarind.checks.spellingchecks import unknown_words
from tamarind.formats.documents import WRITTEN
from tamarind.formats.encoding import unheld
from tamarind.formats.format import Lack
from tamarind.language.dictionaries import dictionary
from tamarind.language.housestyle import Level
from tamarind.language.publishing import Ways, published
from tamarind.transcript.languages import name_of
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.reconcile import letters_of, spread
from tamarind.transcript.tokens import tokens_of
from tamarind.translation.tracks import Track

_NUMBER = re.compile(r"\d+(?:[.,:/\u00a0\u202f’' ]\d+)*")
_TRACKS = ("languages",)


class OutputCheck(Check):
    """A check of the output."""

    group = OUTPUT

    def translated(self, around: Around, track: Track, reason: str) -> Finding:
        """Make a finding about the translation of a cue."""
        cue = around.cue
        text = track.text(cue.id) or cue.text
        return Finding(self.key, cue.id, cue.start, reason, text, language=track.language)


class CharactersCheck(OutputCheck):
    """A word has characters that the encoding of the files lacks."""

    key, title, level = "characters", "characters the file cannot hold", Level.MUST
    uses = ("encoding",)

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Try to encode each word."""
        cue, encoding = around.cue, around.context.encoding
        if not unheld(around.text, encoding):
            return
        for place, word in enumerate(cue.words):
            missing = unheld(word.text, encoding)
            if missing:
                yield self.at(cue, place, place + 1, f"{encoding} has no “{missing}”")


class FileLimitsCheck(OutputCheck):
    """A file format cannot hold a cue: rows, characters, time for sending."""

    key, title, level = "file-limits", "too much for the file", Level.MUST

    def in_text(
        self, text: Transcript, context: CheckContext, memory: CheckMemory
    ) -> Iterator[Finding]:
        """Ask each format that has limits."""
        texts = {cue.id: cue.text for cue in text.cues}
        for suffix in context.files:
            form = WRITTEN[suffix]
            if form.lacks is None:
                continue
            written = published(text, suffix, context.style, Ways(context.file_options.rows))
            lacks = form.lacks(written, context.file_options)
            for lack in (*_more_rows(text, written, context.style.captions), *lacks):
                reason = f"{form.label}: {lack.reason}"
                yield Finding(self.key, lack.cue, lack.time, reason, texts.get(lack.cue, ""))


class UntranslatedCheck(OutputCheck):
    """A cue has no translation."""

    key, title, level = "untranslated", "translation missing", Level.MUST
    uses = _TRACKS

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Look into each track."""
        for track in around.context.tracks:
            if track.is_missing(around.cue):
                reason = f"nothing in {name_of(track.language)}"
                cue = around.cue
                yield replace(self.found(cue, reason), language=track.language)


class StaleCheck(OutputCheck):
    """The text of a cue has changed since it was translated."""

    key, title, level, uses = "stale", "translation of an older text", Level.MUST, _TRACKS

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Compare with the text that was translated."""
        for track in _translating(around):
            if track.is_stale(around.cue):
                reason = f"its text has changed since ({name_of(track.language)})"
                yield self.translated(around, track, reason)


class TranslationNumbersCheck(OutputCheck):
    """A number of the text is missing from its translation."""

    key, title = "translation-numbers", "number missing in a translation"
    uses = _TRACKS

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Compare the digits of numbers, times and dates, ignoring separators."""
        own = _numbers(around.text) if around.context.tracks else set()
        for track in _translating(around) if own else ():
            missing = own - _numbers(track.text(around.cue.id))
            if missing:
                told = ", ".join(sorted(missing))
                reason = f"{told} is not in the text in {name_of(track.language)}"
                yield self.translated(around, track, reason)


class TranslationSpellingCheck(OutputCheck):
    """A word of a translation is neither in a dictionary of its language nor in the source."""

    key, title = "translation-spelling", "spelling in a translation"

    def in_text(
        self, text: Transcript, context: CheckContext, memory: CheckMemory
    ) -> Iterator[Finding]:
        """Use the dictionaries that are installed for the tracks' languages."""
        for track in context.tracks:
            words = dictionary(track.language)
            for cue in text.cues if words is not None else ():
                if memory.stopped():
                    return
                assert words is not None
                about = cue, track.texts.get(cue.id), context.terms
                find = partial(self._unknown, cue, track, words.knows, context.right)
                yield from memory.findings((track.language, cue.id), about, find)

    def _unknown(
        self, cue: Cue, track: Track, knows: Callable[[str], bool], right: frozenset[str]
    ) -> Iterator[Finding]:
        tokens = tokens_of(track.text(cue.id))
        if not tokens:
            return
        own = replace(cue, words=tuple(spread(tokens, cue.start, cue.end)))
        kept = right | {letters_of(word.text) for word in cue.words}
        reason = f"not in the {name_of(track.language)} dictionary"
        for place in unknown_words(own, knows, kept):
            found = self.at(own, place, place + 1, reason)
            yield replace(found, start=cue.start, language=track.language)


class TranslationSpeedCheck(OutputCheck):
    """A translation cannot be read while its cue is shown."""

    key, title = "translation-speed", "translation too long for its time"
    uses = ("languages", "track_limits", "style.captions")

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Compare with the characters per second of the translation's style."""
        cue, context = around.cue, around.context
        for track in _translating(around):
            limits = context.track_limits.get(track.language, context.style.captions)
            text = track.text(cue.id)
            if limits.is_too_fast(text, cue.start, cue.end):
                speed = limits.speed(text, cue.start, cue.end)
                reason = f"{speed:.0f} characters per second in {name_of(track.language)}"
                yield self.translated(around, track, reason)


def _translating(around: Around) -> Iterator[Track]:
    """Yield the tracks that have a translation of a cue."""
    return (track for track in around.context.tracks if not track.is_missing(around.cue))


def _numbers(text: str) -> set[str]:
    return {re.sub(r"\D", "", found) for found in _NUMBER.findall(text)}


def _more_rows(text: Transcript, written: Transcript, limits: Limits) -> Iterator[Lack]:
    """Return the cues that have more lines than the style allows once they are broken for a narrow
    picture."""
    for cue, new in zip(with_breaks(text, limits).cues, written.cues, strict=True):
        rows = len(new.lines)
        if rows > max(len(cue.lines), limits.lines):
            yield Lack(cue.id, cue.start, f"it takes {rows} rows, its lines are too long")

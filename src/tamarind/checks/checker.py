"""All rules over a text; a text that was changed since is checked at the cost of the change."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import groupby

from tamarind.captions.limits import Limits
from tamarind.checks import captionrules, otherrules, soundrules, spellingrules, wordrules
from tamarind.checks.finding import Finding, PlacedFinding
from tamarind.checks.rules import RULES, level_of
from tamarind.formats.documents import USUAL
from tamarind.formats.format import Options
from tamarind.language.dictionaries import dictionary
from tamarind.language.grammar import Grammar, Issue, kept_grammar
from tamarind.language.housestyle import HouseStyle, Level
from tamarind.transcript.edits import opens_paragraph
from tamarind.transcript.languages import base_of
from tamarind.transcript.model import DOUBTFUL_BELOW, Cue, Transcript
from tamarind.transcript.reconcile import letters_of
from tamarind.transcript.sentences import ends_sentence
from tamarind.translation.tracks import Track

Span = tuple[int, int]
LONG, LONGEST = 80, 300
"""Words after which a passage ends with its sentence, and at the latest."""


@dataclass(frozen=True)
class CheckContext:
    """What a text is checked with: its style, translations, the terms that are always right, and
    where somebody speaks (None if that is not known; ``unheard`` is what hearing told then)."""

    style: HouseStyle
    tracks: tuple[Track, ...] = ()
    terms: tuple[str, ...] = ()
    speech: tuple[Span, ...] | None = None
    unheard: tuple[Span, ...] = ()
    threshold: float = DOUBTFUL_BELOW
    encoding: str = "utf-8"
    files: tuple[str, ...] = ()
    """Suffixes of the files that will be written, with ``file_options``."""

    file_options: Options = USUAL
    track_limits: Mapping[str, Limits] = field(default_factory=dict)
    """Of translations by their languages; where there are none they are the style's."""

    at_once: tuple[Span, ...] = ()
    """Where two speak at the same time, as far as hearing could tell."""

    contrasts: tuple[tuple[int, float], ...] = ()
    """How well captions stand out on their pictures (1 to 21), by when they begin (ms);
    ``readable`` is the key of a look that does."""

    readable: str = ""
    captions: bool = True
    """Whether the text will be shown as captions; else rules of lines and times do not count."""


@dataclass
class _Kept:
    """What was found in a cue, as long as it, its neighbours and its translations are the same."""

    around: tuple[object, ...]
    findings: tuple[Finding, ...]


_KeptParagraph = tuple[tuple[Cue, ...], tuple[Finding, ...]]


@dataclass
class Checker:
    """Checks one text after the other; grammar is asked for by ``grammar_for`` when first wanted.

    Not to be used by two threads at a time.
    """

    grammar_for: Callable[[str, tuple[str, ...]], Grammar] = kept_grammar
    _cues: dict[int, _Kept] = field(default_factory=dict)
    _paragraphs: dict[int, _KeptParagraph] = field(default_factory=dict)
    _grammar: tuple[tuple[str, tuple[str, ...]], Grammar] | None = None
    _spelled: dict[tuple[str, int], tuple[object, tuple[Finding, ...]]] = field(
        default_factory=dict
    )
    _rules: tuple[object, str] | None = None

    def check(
        self,
        transcript: Transcript,
        context: CheckContext,
        stopped: Callable[[], bool] = lambda: False,
    ) -> list[PlacedFinding]:
        """Every finding whose rule counts, in the order of the text.

        ``stopped`` is asked between cues; nothing is told then.
        """
        self._prepare(context, transcript.language)
        levels = {rule: level_of(context.style, rule) for rule in RULES}
        places = {cue.id: place for place, cue in enumerate(transcript.cues)}
        found: list[Finding] = []
        cues = transcript.cues
        for place, cue in enumerate(cues):
            if stopped():
                return []
            before = cues[place - 1] if place else None
            following = cues[place + 1] if place + 1 < len(cues) else None
            found += self._in_cue(before, cue, following, transcript.language, context)
        found += self._in_text(transcript, context)
        if {levels["spelling"], levels["grammar"]} != {Level.OFF}:
            found += self._spelling(transcript, context, stopped)
        if levels["translation-spelling"] is not Level.OFF:
            found += self._translation_spelling(transcript, context, stopped)
        if stopped():
            return []
        told = [
            PlacedFinding(finding, levels[finding.rule], places.get(finding.cue, 0))
            for finding in found
            if levels[finding.rule] is not Level.OFF
        ]
        return sorted(told, key=lambda one: (one.place, one.finding.first, one.finding.start))

    def _prepare(self, context: CheckContext, language: str) -> None:
        """Forget what was found by other rules."""
        rules = (_by_cue(context), language)
        if self._rules is not None and self._rules != rules:
            self._cues.clear()
        self._rules = rules
        key = context.style.wording.spelling, context.terms
        if self._grammar is not None and self._grammar[0] != key:
            self._grammar = None
            self._paragraphs.clear()

    def _in_cue(
        self,
        before: Cue | None,
        cue: Cue,
        following: Cue | None,
        language: str,
        context: CheckContext,
    ) -> tuple[Finding, ...]:
        kept = self._cues.get(cue.id)
        around = before, cue, following, *(track.texts.get(cue.id) for track in context.tracks)
        if kept is None or not _same(kept.around, around):
            found = tuple(self._found(before, cue, following, language, context))
            kept = self._cues[cue.id] = _Kept(around, found)
        return kept.findings

    def _found(
        self,
        before: Cue | None,
        cue: Cue,
        following: Cue | None,
        language: str,
        context: CheckContext,
    ) -> Iterator[Finding]:
        if not cue.words:
            return
        style = context.style
        language = cue.language or language
        if context.captions:
            yield from captionrules.findings(cue, following, style.captions, language)
        yield from wordrules.findings(
            cue, before, following, style.wording, language, _right(context)
        )
        yield from wordrules.doubts(cue, context.threshold)
        yield from otherrules.characters(cue, context.encoding)
        for track in context.tracks:
            limits = context.track_limits.get(track.language, style.captions)
            yield from otherrules.translations(cue, track, limits)
        if context.speech is not None:
            silent = soundrules.silent_text(cue, context.speech)
            if silent is not None:
                yield silent

    def _in_text(self, transcript: Transcript, context: CheckContext) -> Iterator[Finding]:
        yield from wordrules.quotes(transcript)
        yield from wordrules.speakers(transcript)
        speech = context.unheard if context.speech is None else context.speech
        yield from soundrules.unheard(transcript, speech)
        yield from soundrules.at_once(transcript, context.at_once)
        yield from captionrules.contrasts(transcript, context.contrasts, context.readable)
        yield from otherrules.lacking(
            transcript, context.style, context.files, context.file_options
        )

    def _spelling(
        self, transcript: Transcript, context: CheckContext, stopped: Callable[[], bool]
    ) -> Iterator[Finding]:
        right = _right(context)
        for language, cues in _by_language(transcript):
            if base_of(language) == "en":
                yield from self._grammar_of(cues, context, right, stopped)
                continue
            words = dictionary(language)
            for cue in cues if words is not None else ():
                if stopped():
                    return
                assert words is not None
                yield from spellingrules.by_dictionary(cue, words.knows, right)

    def _grammar_of(
        self,
        cues: Sequence[Cue],
        context: CheckContext,
        right: frozenset[str],
        stopped: Callable[[], bool],
    ) -> Iterator[Finding]:
        for own in _passages(cues):
            if stopped():
                return
            known = self._paragraphs.get(own[0].id)
            if known is None or not _same(known[0], own):
                known = own, tuple(spellingrules.grammar(own, self._issues(context), right))
                self._paragraphs[own[0].id] = known
            yield from known[1]

    def _translation_spelling(
        self, transcript: Transcript, context: CheckContext, stopped: Callable[[], bool]
    ) -> Iterator[Finding]:
        """By the dictionaries of the tracks' languages that are here."""
        right = _right(context)
        for track in context.tracks:
            words = dictionary(track.language)
            for cue in transcript.cues if words is not None else ():
                if stopped():
                    return
                assert words is not None
                about = cue, track.texts.get(cue.id), right
                known = self._spelled.get((track.language, cue.id))
                if known is None or known[0] != about:
                    found = otherrules.translation_spelling(cue, track, words.knows, right)
                    known = self._spelled[track.language, cue.id] = about, tuple(found)
                yield from known[1]

    def _issues(self, context: CheckContext) -> Callable[[str], Sequence[Issue]]:
        key = context.style.wording.spelling, context.terms
        if self._grammar is None:
            self._grammar = key, self.grammar_for(*key)
        return self._grammar[1].issues


def _right(context: CheckContext) -> frozenset[str]:
    """Words of terms, which are never wrong."""
    return frozenset(letters_of(word) for term in context.terms for word in term.split())


def _by_language(transcript: Transcript) -> Iterator[tuple[str, Sequence[Cue]]]:
    """Runs of cues in one language: a cue may have one of its own."""
    for language, own in groupby(transcript.cues, lambda cue: cue.language or transcript.language):
        yield language, tuple(own)


def _passages(cues: Sequence[Cue]) -> Iterator[tuple[Cue, ...]]:
    """Paragraphs, and parts of them that end with a sentence where they are long: so that an edit
    in a text without paragraphs does not have all of it checked again."""
    first = words = 0
    for place, cue in enumerate(cues):
        before = cues[place - 1] if place else None
        over = before is not None and bool(before.words) and ends_sentence(before.words[-1].text)
        if place > first and (
            opens_paragraph(cues, place) or (over and words >= LONG) or words >= LONGEST
        ):
            yield tuple(cues[first:place])
            first, words = place, 0
        words += len(cue.words)
    if first < len(cues):
        yield tuple(cues[first:])


def _same(one: Sequence[object], other: Sequence[object]) -> bool:
    """Whether two runs hold the very same things."""
    return len(one) == len(other) and all(a is b for a, b in zip(one, other, strict=True))


def _by_cue(context: CheckContext) -> tuple[object, ...]:
    """All that what is found in a cue hangs on, besides the cue and its translations."""
    return (
        context.style.captions,
        context.style.wording,
        tuple(track.language for track in context.tracks),
        context.speech,
        context.threshold,
        context.encoding,
        context.captions,
        context.track_limits,
        context.terms,
    )

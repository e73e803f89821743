"""Rules of wording that can be told from a few words: repeats, fillers, marks, numbers, doubts."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from tamarind.checks.finding import Finding, Fix, Reword
from tamarind.language.clean import Kind, disfluencies
from tamarind.language.housestyle import Wording
from tamarind.language.numbers import changes
from tamarind.language.typography import restyled
from tamarind.transcript.capitals import with_capital
from tamarind.transcript.languages import base_of
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.reconcile import letters_of
from tamarind.transcript.sentences import CLOSERS, OPENERS, ends_sentence
from tamarind.transcript.unspaced import UNMARKED

_OPENED_LANGUAGES = ("es", "gl", "ast")
_OPENED = {"?": "¿", "!": "¡"}
_BRACKETS = {")": "(", "]": "[", "}": "{"}
_SENTENCE_PAUSE_MS = 2_000


def findings(
    cue: Cue,
    before: Cue | None,
    following: Cue | None,
    wording: Wording,
    language: str,
    kept: frozenset[str] = frozenset(),
) -> Iterator[Finding]:
    """What breaks the rules of wording in a cue with words, next to its neighbours' words; ``kept``
    are words of terms, in small letters."""
    texts = [word.text for word in cue.words]
    yield from _disfluencies(cue, texts, before, wording)
    yield from _sentences(cue, before, following, language)
    if base_of(cue.language or language) in _OPENED_LANGUAGES:
        yield from _opening_marks(cue, before)
    yield from _brackets(cue, texts)
    for change in changes(texts, wording, cue.language or language):
        found = _reword("numbers", cue, change.first, change.last, f"as {change.new}", change.new)
        own = cue.words[change.first : change.last]
        unsure = any(letters_of(word.text) in kept for word in own)
        yield replace(found, is_guess=True) if unsure else found
    new = restyled(cue.text, wording, cue.language or language)
    if new != cue.text:
        yield _reword("typography", cue, 0, len(texts), "other marks than the style's", new)


def doubts(cue: Cue, threshold: float) -> Iterator[Finding]:
    """Words that nobody has settled."""
    for place, word in enumerate(cue.words):
        if word.is_doubt(threshold):
            reason = f"heard with a certainty of {word.confidence:.2f}"
            fixes = tuple(
                Reword(cue.id, place, (word.text,), reading)
                for reading in word.alternatives
                if reading
            )
            yield Finding("doubt", cue.id, word.start, reason, word.text, place, place + 1, fixes)


def speakers(transcript: Transcript) -> Iterator[Finding]:
    """Voices that have no name, at the first cue of each; nobody, where others are named."""
    seen: set[int | None] = set()
    nameless = {speaker.id for speaker in transcript.speakers if not speaker.name}
    named = len(nameless) < len(transcript.speakers)
    for cue in transcript.cues:
        if cue.speaker in seen or not cue.words:
            continue
        seen.add(cue.speaker)
        if cue.speaker in nameless:
            yield Finding("speaker", cue.id, cue.start, "a voice without a name", cue.text)
        elif cue.speaker is None and named:
            yield Finding("speaker", cue.id, cue.start, "nobody is said to speak here", cue.text)


def quotes(transcript: Transcript) -> Iterator[Finding]:
    """Double quotation marks that are opened or closed alone, paragraph by paragraph."""
    opened: tuple[Cue, int] | None = None
    for place, cue in enumerate(transcript.cues):
        starts = place == 0 or cue.opens_paragraph
        starts = starts or cue.speaker != transcript.cues[place - 1].speaker
        if starts and opened is not None:
            yield _quote(*opened, "opened and not closed in its paragraph")
            opened = None
        for number, word in enumerate(cue.words):
            for index, mark in enumerate(word.text):
                if mark in "“«„" or (mark == '"' and opened is None):
                    if opened is not None:
                        yield _quote(*opened, "opened and not closed before the next")
                    opened = cue, number
                elif mark in "”»" or mark == '"':
                    if opened is None and (index or mark != '"'):
                        yield _quote(cue, number, "closed and not opened")
                    opened = None
    if opened is not None:
        yield _quote(*opened, "opened and not closed")


def _quote(cue: Cue, place: int, reason: str) -> Finding:
    word = cue.words[place]
    return Finding("quotes", cue.id, word.start, reason, word.text, place, place + 1)


def _disfluencies(
    cue: Cue, texts: Sequence[str], before: Cue | None, wording: Wording
) -> Iterator[Finding]:
    last = before.words[-1].text if before is not None and before.words else ""
    own = disfluencies(texts, wording.fillers)
    for one in own:
        if one.kind is Kind.REPEAT:
            yield _reword("repeated", cue, one.first, one.last, "said twice", "")
        elif wording.clean:
            new = ""
            found = _reword("filler", cue, one.first, one.last, f"a {one.kind.value}", new)
            # Whether a start was false, or something was said twice on purpose, nobody can tell.
            yield found if one.kind is Kind.FILLER else replace(found, is_guess=True)
    if last and texts and disfluencies([last, texts[0]], ()) and last[-1:].isalnum():
        yield _reword("repeated", cue, 0, 1, "the cue before ends with the same word", "")


def _sentences(
    cue: Cue, before: Cue | None, following: Cue | None, language: str
) -> Iterator[Finding]:
    starts = before is None or not before.words or _is_over(before)
    for place, word in enumerate(cue.words):
        letters = word.text.lstrip(OPENERS)
        if starts and letters[:1].islower():
            at = len(word.text) - len(letters)
            new = word.text[:at] + with_capital(letters, cue.language or language)
            yield _reword("sentence-start", cue, place, place + 1, "a sentence starts here", new)
        starts = ends_sentence(word.text)
    last = cue.words[-1]
    if language.partition("-")[0] in UNMARKED:
        return
    if not _ends(last.text) and (following is None or _begins_anew(cue, following)):
        bare = last.text.rstrip(",;:–—-") if len(last.text) > 1 else last.text
        place = len(cue.words) - 1
        yield _reword(
            "sentence-end", cue, place, place + 1, "no mark ends the sentence", bare + "."
        )


def _opening_marks(cue: Cue, before: Cue | None) -> Iterator[Finding]:
    """Questions and exclamations that begin in a cue without their first mark."""
    first: int | None = 0 if before is None or not before.words or _is_over(before) else None
    opened = ""
    for place, word in enumerate(cue.words):
        opened += word.text
        for closing, opening in _OPENED.items():
            if closing in word.text and opening not in opened and first is not None:
                text = cue.words[first].text
                at = len(text) - len(text.lstrip(OPENERS))
                new = text[:at] + opening + text[at:]
                reason = f"“{closing}” without “{opening}”"
                yield _reword("opening-marks", cue, first, first + 1, reason, new)
        if ends_sentence(word.text):
            first, opened = place + 1, ""


def _is_over(before: Cue) -> bool:
    return ends_sentence(before.words[-1].text)


def _begins_anew(cue: Cue, following: Cue) -> bool:
    """Whether a sentence must have ended: by speaker, paragraph, or a pause before a capital."""
    if following.speaker != cue.speaker or following.opens_paragraph:
        return True
    quiet = following.start - cue.end >= _SENTENCE_PAUSE_MS
    return quiet and bool(following.words) and following.words[0].text[:1].isupper()


def _ends(word: str) -> bool:
    bare = word.rstrip(CLOSERS)
    if ends_sentence(word) or word.endswith("]"):
        return True
    return bare.endswith((".", ":", "：", "—", "–", "-", "♪"))


def _brackets(cue: Cue, texts: Sequence[str]) -> Iterator[Finding]:
    opened: list[tuple[str, int]] = []
    for place, text in enumerate(texts):
        for mark in text:
            if mark in "([{":
                opened.append((mark, place))
            elif mark in _BRACKETS:
                if opened and opened[-1][0] == _BRACKETS[mark]:
                    opened.pop()
                else:
                    yield _alone(cue, place, f"“{mark}” closes nothing")
    for mark, place in opened:
        yield _alone(cue, place, f"“{mark}” is not closed in its cue")


def _alone(cue: Cue, place: int, reason: str) -> Finding:
    word = cue.words[place]
    return Finding("brackets", cue.id, word.start, reason, word.text, place, place + 1)


def _reword(rule: str, cue: Cue, first: int, last: int, reason: str, new: str) -> Finding:
    old = tuple(word.text for word in cue.words[first:last])
    fix: Fix = Reword(cue.id, first, old, new)
    return Finding(rule, cue.id, cue.words[first].start, reason, " ".join(old), first, last, (fix,))

"""Checks of wording that need a few words only: repetitions, fillers, punctuation, numbers."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from tamarind.checks.check import WORDING, Around, Check, CheckContext, CheckMemory
from tamarind.checks.finding import Finding
from tamarind.language.clean import DisfluencyKind, disfluencies
from tamarind.language.housestyle import Level
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


class WordingCheck(Check):
    """A check of wording."""

    group = WORDING


class RepeatedCheck(WordingCheck):
    """A word is said twice in a row."""

    key, title, uses = "repeated", "repeated word", ("style.wording",)

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Look within the cue, and at the last word of the cue before."""
        cue, before = around.cue, around.before
        for one in around.disfluencies:
            if one.kind is DisfluencyKind.REPEAT:
                yield self.reword(cue, one.first, one.last, "said twice", "")
        last = before.words[-1].text if before is not None and before.words else ""
        if last[-1:].isalnum() and disfluencies([last, around.texts[0]], ()):
            yield self.reword(cue, 0, 1, "the cue before ends with the same word", "")


class FillerCheck(WordingCheck):
    """A filler or a false start stands where the style asks for clean wording."""

    key, title, certain = "filler", "filler or false start", True
    uses = ("style.wording",)

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Report fillers with a fix; whether a start was false nobody can tell for certain."""
        for one in around.disfluencies if around.asks_for_clean else ():
            if one.kind is DisfluencyKind.REPEAT:
                continue
            found = self.reword(around.cue, one.first, one.last, f"a {one.kind.value}", "")
            yield found if one.kind is DisfluencyKind.FILLER else replace(found, is_guess=True)


class QuotesCheck(WordingCheck):
    """A double quotation mark is opened or closed without its partner in a paragraph."""

    key, title, level = "quotes", "unbalanced quotes", Level.MUST

    def in_text(
        self, text: Transcript, context: CheckContext, memory: CheckMemory
    ) -> Iterator[Finding]:
        """Pair the marks."""
        opened: tuple[Cue, int] | None = None
        for place, cue in enumerate(text.cues):
            starts = place == 0 or cue.opens_paragraph
            starts = starts or cue.speaker != text.cues[place - 1].speaker
            if starts and opened is not None:
                yield self._told(opened, "opened and not closed in its paragraph")
                opened = None
            for number, word in enumerate(cue.words):
                for index, mark in enumerate(word.text):
                    if mark in "“«„" or (mark == '"' and opened is None):
                        if opened is not None:
                            yield self._told(opened, "opened and not closed before the next")
                        opened = cue, number
                    elif mark in "”»" or mark == '"':
                        if opened is None and (index or mark != '"'):
                            yield self._told((cue, number), "closed and not opened")
                        opened = None
        if opened is not None:
            yield self._told(opened, "opened and not closed")

    def _told(self, at: tuple[Cue, int], reason: str) -> Finding:
        cue, place = at
        return self.at(cue, place, place + 1, reason)


class BracketsCheck(WordingCheck):
    """A bracket is opened or closed without its partner in a cue."""

    key, title, level = "brackets", "unbalanced brackets", Level.MUST

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Pair the brackets."""
        opened: list[tuple[str, int]] = []
        for place, text in enumerate(around.texts):
            for mark in text:
                if mark in "([{":
                    opened.append((mark, place))
                elif mark in _BRACKETS:
                    if opened and opened[-1][0] == _BRACKETS[mark]:
                        opened.pop()
                    else:
                        yield self.at(around.cue, place, place + 1, f"“{mark}” closes nothing")
        for mark, place in opened:
            reason = f"“{mark}” is not closed in its cue"
            yield self.at(around.cue, place, place + 1, reason)


class TypographyCheck(WordingCheck):
    """Quotation marks or dashes are not those of the style."""

    key, title, certain = "typography", "quotes or dashes of another style", True
    uses = ("style.wording",)

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Compare with the text in the style's typography."""
        cue = around.cue
        new = restyled(around.text, around.context.style.wording, around.language)
        if new != around.text:
            yield self.reword(cue, 0, len(cue.words), "other marks than the style's", new)


class NumbersCheck(WordingCheck):
    """A number, date, time or amount is not written in the style's way."""

    key, title, certain = "numbers", "number against the style", True
    uses = ("style.wording", "terms")

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Compare with the style's way; within a term no fix is offered."""
        cue, context = around.cue, around.context
        for change in changes(around.texts, context.style.wording, around.language):
            found = self.reword(cue, change.first, change.last, f"as {change.new}", change.new)
            own = cue.words[change.first : change.last]
            unsure = any(letters_of(word.text) in context.right for word in own)
            yield replace(found, is_guess=True) if unsure else found


class SentenceStartCheck(WordingCheck):
    """A sentence begins in lower case."""

    key, title, certain = "sentence-start", "lower-case sentence start", True

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Look at the first letter of each sentence."""
        starts = _begins_sentence(around)
        for place, word in enumerate(around.cue.words):
            letters = word.text.lstrip(OPENERS)
            if starts and letters[:1].islower():
                at = len(word.text) - len(letters)
                new = word.text[:at] + with_capital(letters, around.language)
                yield self.reword(around.cue, place, place + 1, "a sentence starts here", new)
            starts = ends_sentence(word.text)


class SentenceEndCheck(WordingCheck):
    """A sentence has ended without a mark."""

    key, title = "sentence-end", "missing sentence end"

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Look at the last word of the cue."""
        cue, following = around.cue, around.following
        if base_of(around.language) in UNMARKED:
            return
        last = cue.words[-1].text
        if not _ends(last) and (following is None or _begins_anew(cue, following)):
            bare = last.rstrip(",;:–—-") if len(last) > 1 else last
            count = len(cue.words)
            yield self.reword(cue, count - 1, count, "no mark ends the sentence", f"{bare}.")


class OpeningMarksCheck(WordingCheck):
    """A Spanish question or exclamation lacks its opening mark."""

    key, title, certain = "opening-marks", "question or exclamation not opened", True

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Look back from each closing mark to the start of its sentence."""
        if base_of(around.language) not in _OPENED_LANGUAGES:
            return
        cue = around.cue
        first: int | None = 0 if _begins_sentence(around) else None
        opened = ""
        for place, word in enumerate(cue.words):
            opened += word.text
            for closing, opening in _OPENED.items():
                if closing in word.text and opening not in opened and first is not None:
                    text = cue.words[first].text
                    at = len(text) - len(text.lstrip(OPENERS))
                    new = text[:at] + opening + text[at:]
                    reason = f"“{closing}” without “{opening}”"
                    yield self.reword(cue, first, first + 1, reason, new)
            if ends_sentence(word.text):
                first, opened = place + 1, ""


def _begins_sentence(around: Around) -> bool:
    """Whether the first word of a cue begins a sentence."""
    before = around.before
    return before is None or not before.words or ends_sentence(before.words[-1].text)


def _begins_anew(cue: Cue, following: Cue) -> bool:
    """Whether a sentence must have ended: the speaker or paragraph changes, or a capital follows a
    pause."""
    if following.speaker != cue.speaker or following.opens_paragraph:
        return True
    quiet = following.start - cue.end >= _SENTENCE_PAUSE_MS
    return quiet and bool(following.words) and following.words[0].text[:1].isupper()


def _ends(word: str) -> bool:
    bare = word.rstrip(CLOSERS)
    if ends_sentence(word) or word.endswith("]"):
        return True
    return bare.endswith((".", ":", "：", "—", "–", "-", "♪"))

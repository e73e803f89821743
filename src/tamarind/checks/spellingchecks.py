"""Checks of spelling and grammar: English by passages, other languages by dictionaries."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from functools import partial
from itertools import groupby

from tamarind.checks.check import WORDING, Check, CheckContext, CheckMemory
from tamarind.checks.finding import Finding, Fix, Reword
from tamarind.language.dictionaries import dictionary
from tamarind.language.grammar import SPELLING, Issue, kept_grammar, letters_to_words
from tamarind.transcript.edits import opens_paragraph
from tamarind.transcript.languages import base_of
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.reconcile import letters_of
from tamarind.transcript.sentences import OPENERS, ends_sentence

LONG, LONGEST = 80, 300
"""Words after which a passage ends with its sentence, and at the latest."""

Issues = Callable[[str], Sequence[Issue]]


class SpellingCheck(Check):
    """A word is misspelled, by the dictionary of its language or the English checker."""

    key, title, group = "spelling", "spelling", WORDING

    def in_text(
        self, text: Transcript, context: CheckContext, memory: CheckMemory
    ) -> Iterator[Finding]:
        """Check each run of a language; with a dictionary alone, names within a sentence are
        skipped."""
        yield from (one for one in _in_english(text, context, memory) if one.rule == self.key)
        for language, cues in _by_language(text):
            words = None if base_of(language) == "en" else dictionary(language)
            for cue in cues if words is not None else ():
                if memory.stopped():
                    return
                assert words is not None
                for place in unknown_words(cue, words.knows, context.right):
                    yield self.at(cue, place, place + 1, "not in the dictionary")


class GrammarCheck(Check):
    """English grammar is wrong."""

    key, title, group = "grammar", "grammar", WORDING

    def in_text(
        self, text: Transcript, context: CheckContext, memory: CheckMemory
    ) -> Iterator[Finding]:
        """Use the results of the spelling check, which reads both."""
        return (one for one in _in_english(text, context, memory) if one.rule == self.key)


def unknown_words(cue: Cue, knows: Callable[[str], bool], right: frozenset[str]) -> Iterator[int]:
    """Yield the indices of words that a dictionary does not have, except names within a
    sentence."""
    starts = True
    for place, word in enumerate(cue.words):
        letters = letters_of(word.text)
        name = word.text.lstrip(OPENERS)[:1].isupper() and not starts
        if letters and letters not in right and not name and not knows(word.text):
            yield place
        starts = word.text[-1:] in ".?!…:"


def _in_english(text: Transcript, context: CheckContext, memory: CheckMemory) -> Iterator[Finding]:
    issues: Issues | None = None
    spelling, terms = context.style.wording.spelling, context.terms
    for language, cues in _by_language(text):
        if base_of(language) != "en":
            continue
        for own in _passages(cues):
            if memory.stopped():
                return
            issues = issues or kept_grammar(spelling, terms).issues
            find = partial(_in_passage, own, issues, context.right)
            yield from memory.findings(("passage", own[0].id), (own, spelling, terms), find)


def _in_passage(cues: Sequence[Cue], issues: Issues, right: frozenset[str]) -> Iterator[Finding]:
    """Return the findings of both checks in the cues of one passage."""
    owners = [(cue, place) for cue in cues for place in range(len(cue.words))]
    texts = [cue.words[place].text for cue, place in owners]
    spans = letters_to_words(texts)
    whole = " ".join(texts)
    for issue in issues(whole):
        touched = [n for n, (a, b) in enumerate(spans) if a < issue.end and b > issue.start]
        if not touched or all(letters_of(texts[n]) in right for n in touched):
            continue
        cue, first = owners[touched[0]]
        own = [n for n in touched if owners[n][0] is cue]
        begin, end = spans[own[0]][0], spans[own[-1]][1]
        fixes: tuple[Fix, ...] = ()
        if len(own) == len(touched):
            head, tail = whole[begin : issue.start], whole[issue.end : end]
            options = (f"{head}{suggestion}{tail}" for suggestion in issue.suggestions[:4])
            old = tuple(texts[n] for n in own)
            fixes = tuple(Reword(cue.id, first, old, new) for new in options)
        check = Check.all["spelling" if issue.kind == SPELLING else "grammar"]
        yield check.at(cue, first, first + len(own), issue.message.rstrip("."), *fixes)


def _by_language(text: Transcript) -> Iterator[tuple[str, Sequence[Cue]]]:
    """Yield runs of cues in one language, since a cue may have one of its own."""
    for language, own in groupby(text.cues, lambda cue: cue.language or text.language):
        yield language, tuple(own)


def _passages(cues: Sequence[Cue]) -> Iterator[tuple[Cue, ...]]:
    """Yield paragraphs, long ones split at the ends of sentences, so that an edit in a text without
    paragraphs does not have all of it checked again."""
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

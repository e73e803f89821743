"""Spelling and grammar, a paragraph at a time, mapped back to cues and words."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from tamarind.checks.finding import Finding, Fix, Reword
from tamarind.language.grammar import SPELLING, Issue, letters_to_words
from tamarind.transcript.model import Cue
from tamarind.transcript.reconcile import letters_of
from tamarind.transcript.sentences import OPENERS


def grammar(
    cues: Sequence[Cue], issues: Callable[[str], Sequence[Issue]], right: frozenset[str]
) -> Iterator[Finding]:
    """Findings in the cues of one paragraph.

    ``issues`` checks a text; ``right`` are words (letters only, small) that are never wrong.
    """
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
        last = first + len(own)
        begin, end = spans[own[0]][0], spans[own[-1]][1]
        old = tuple(texts[n] for n in own)
        fixes: tuple[Fix, ...] = ()
        if len(own) == len(touched):
            head, tail = whole[begin : issue.start], whole[issue.end : end]
            options = (f"{head}{suggestion}{tail}" for suggestion in issue.suggestions[:4])
            fixes = tuple(Reword(cue.id, first, old, new) for new in options)
        rule = "spelling" if issue.kind == SPELLING else "grammar"
        yield Finding(
            rule, cue.id, cue.words[first].start, issue.message.rstrip("."), " ".join(old),
            first, last, fixes,
        )  # fmt: skip


def by_dictionary(
    cue: Cue, knows: Callable[[str], bool], right: frozenset[str]
) -> Iterator[Finding]:
    """Words of a cue that a dictionary does not know, but for names within a sentence."""
    starts = True
    for place, word in enumerate(cue.words):
        letters = letters_of(word.text)
        name = word.text.lstrip(OPENERS)[:1].isupper() and not starts
        if letters and letters not in right and not name and not knows(word.text):
            reason = "not in the dictionary"
            yield Finding("spelling", cue.id, word.start, reason, word.text, place, place + 1)
        starts = word.text[-1:] in ".?!…:"

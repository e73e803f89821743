"""Compare a text with its draft: what changed, and how many words were wrong.

The word error rate is the one of speech recognition: words that were put in, left out or heard as
others, for each word of the right text, by the least number of changes (Levenshtein, 1966). Marks
and capitals make no error.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tamarind.transcript.model import Cue, Word, text_of
from tamarind.transcript.reconcile import letters_of, runs


@dataclass(frozen=True, slots=True)
class Changed:
    """Changed words, at index ``place`` of the text's cues, said at ``start`` (ms).

    ``errors`` is how many words of the draft were wrong there, 0 for marks and capitals.
    """

    place: int
    start: int
    before: str
    after: str
    errors: int


@dataclass(frozen=True, slots=True)
class Comparison:
    """All changes in order; ``words`` is the number in the text."""

    changes: tuple[Changed, ...]
    words: int

    @property
    def errors(self) -> int:
        """The words of the draft that were wrong, missing or inserted."""
        return sum(change.errors for change in self.changes)

    @property
    def error_rate(self) -> float:
        """Errors divided by the words of the text."""
        return self.errors / max(self.words, 1)


def compare(draft: Sequence[Cue], text: Sequence[Cue], only_settled: bool = False) -> Comparison:
    """Compare a draft with the text made from it; ``only_settled`` counts only what is proofed."""
    old = [word for cue in draft for word in cue.words]
    new = [(place, word) for place, cue in enumerate(text) for word in cue.words]
    changes: list[Changed] = []
    before: list[Word] = []
    after: list[tuple[int, Word]] = []
    at = 0
    settled_at = [cue.settled for cue in text]

    def close() -> None:
        if not before and not after:
            return
        place, start = (after[0][0], after[0][1].start) if after else _where(before, new, at)
        if settled_at[place] or not only_settled:
            errors = _distance(
                [letters_of(word.text) for word in before],
                [letters_of(word.text) for _, word in after],
            )
            changes.append(
                Changed(
                    place,
                    start,
                    text_of(before),
                    text_of([word for _, word in after]),
                    errors,
                )
            )
        before.clear()
        after.clear()

    for old_run, new_run in runs(old, [word.text for _, word in new]):
        own = new[at : at + len(new_run)]
        if [word.text for word in old_run] == list(new_run):
            close()
        else:
            if after and own and own[0][0] != after[-1][0]:
                close()
            before.extend(old_run)
            after.extend(own)
        at += len(new_run)
    close()
    counted = sum(
        bool(letters_of(word.text)) for place, word in new if settled_at[place] or not only_settled
    )
    return Comparison(tuple(changes), counted)


def _where(before: Sequence[Word], new: Sequence[tuple[int, Word]], at: int) -> tuple[int, int]:
    """Return the cue where words of the draft are missing, and when they were said."""
    if not new:
        return 0, before[0].start
    return new[min(max(at - 1, 0), len(new) - 1)][0], before[0].start


def _distance(old: Sequence[str], new: Sequence[str]) -> int:
    """Return the least number of words inserted, deleted or replaced; tokens without letters do not
    count."""
    old, new = list(filter(None, old)), list(filter(None, new))
    row = list(range(len(new) + 1))
    for i, word in enumerate(old, 1):
        diagonal, row[0] = row[0], i
        for j, other in enumerate(new, 1):
            diagonal, row[j] = (
                row[j],
                min(diagonal + (word != other), row[j] + 1, row[j - 1] + 1),
            )
    return row[-1]

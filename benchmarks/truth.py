"""Compare what was recognised with what was said, word by word."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tamarind.speech.pronunciation import spoken_forms

_SAME = {"mr": "mister", "mrs": "missus", "ok": "okay"}


@dataclass(frozen=True, slots=True)
class Form:
    """One plain spoken word and the index of the written word that it is part of."""

    text: str
    owner: int


def plain(words: Sequence[str]) -> list[Form]:
    """Return lower-case words without punctuation; numbers and hyphenated words as they are
    spoken."""
    forms = []
    for owner, word in enumerate(words):
        text = re.sub(r"[-–—]", " ", word.lower().replace("’", "'"))
        for part in re.sub(r"[^\w' ]", " ", text).split():
            spoken = spoken_forms(part) if any(map(str.isdigit, part)) else [part.strip("'")]
            forms += [Form(_SAME.get(form, form), owner) for form in spoken if form]
    return forms


def matched(truth: Sequence[str], heard: Sequence[str]) -> list[tuple[int | None, int | None]]:
    """Return the cheapest alignment (Levenshtein 1966): pairs of indices, None for no partner."""
    rows, columns = len(truth), len(heard)
    numbers = {word: number for number, word in enumerate({*truth, *heard})}
    theirs = np.array([numbers[word] for word in heard], np.int64)
    cost = np.zeros((rows + 1, columns + 1), np.int32)
    cost[0] = np.arange(columns + 1)
    across = np.arange(columns + 1)
    for row, word in enumerate(truth, 1):
        step = cost[row - 1] + 1
        step[1:] = np.minimum(step[1:], cost[row - 1, :-1] + (theirs != numbers[word]))
        cost[row] = np.minimum.accumulate(step - across) + across
    pairs: list[tuple[int | None, int | None]] = []
    row, column = rows, columns
    while row or column:
        here = cost[row, column]
        same = row and column and truth[row - 1] == heard[column - 1]
        if row and column and here == cost[row - 1, column - 1] + (not same):
            row, column = row - 1, column - 1
            pairs.append((row, column))
        elif row and here == cost[row - 1, column] + 1:
            row -= 1
            pairs.append((row, None))
        else:
            column -= 1
            pairs.append((None, column))
    return pairs[::-1]


def word_errors(truth: str, heard: str) -> tuple[int, int]:
    """Count wrong, missing and added words, and the words that there should be."""
    a, b = ([form.text for form in plain(text.split())] for text in (truth, heard))
    wrong = sum(x is None or y is None or a[x] != b[y] for x, y in matched(a, b))
    return wrong, len(a)


def right_words(truth: Sequence[str], heard: Sequence[str]) -> list[bool]:
    """Return for each recognised word whether it was said there."""
    a, b = plain(truth), plain(heard)
    right = [True] * len(heard)
    for x, y in matched([f.text for f in a], [f.text for f in b]):
        if y is not None and (x is None or a[x].text != b[y].text):
            right[b[y].owner] = False
    return right

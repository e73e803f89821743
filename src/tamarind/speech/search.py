"""Searching the decoder for the text of each chunk: tokens with their log probabilities."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]
Ints = NDArray[np.int64]


class Stepper(Protocol):
    """A batch of texts that grow by one token a step."""

    def step(self, tokens: Ints) -> Floats:
        """Append a token to each row; the logits (rows, vocabulary) of what comes next."""

    def keep(self, rows: Ints) -> None:
        """Go on with these rows only."""


@dataclass(frozen=True, slots=True)
class Hypothesis:
    """Tokens without the sentinels, the log probability of each, and that of ending there."""

    tokens: tuple[int, ...]
    log_probabilities: tuple[float, ...]
    end_log_probability: float
    ended: bool


def greedy(
    state: Stepper,
    limits: Ints,
    begin: int,
    end: int,
    on_step: Callable[[], None] = lambda: None,
) -> list[Hypothesis]:
    """The likeliest token at every step, for all rows at once; a row that ends leaves the batch.

    ``limits`` (rows,) is the most tokens for each row; a row cut off there has ``ended`` False.
    """
    rows = np.arange(len(limits))
    tokens: list[list[int]] = [[] for _ in limits]
    scores: list[list[float]] = [[] for _ in limits]
    endings = np.zeros(len(limits), np.float32)
    ended = np.zeros(len(limits), bool)
    last = np.full(len(limits), begin, np.int64)
    while len(rows):
        logits = state.step(last)
        best = logits.argmax(axis=1)
        score = log_probability(logits, best)
        for row, token, value in zip(rows, best, score, strict=True):
            if token == end:
                endings[row], ended[row] = value, True
            else:
                tokens[row].append(int(token))
                scores[row].append(float(value))
        full = np.array([len(tokens[row]) >= limits[row] for row in rows])
        going = np.flatnonzero((best != end) & ~full)
        if len(going) < len(rows):
            rows = rows[going]
            if len(rows):
                state.keep(going)
        last = best[going]
        on_step()
    return [
        Hypothesis(tuple(t), tuple(s), float(e), bool(d))
        for t, s, e, d in zip(tokens, scores, endings, ended, strict=True)
    ]


def log_probability(logits: Floats, tokens: Ints) -> Floats:
    """Natural log of the softmax at one token a row: (rows, vocabulary), (rows,) -> (rows,)."""
    top = logits.max(axis=1)
    total = np.exp(logits - top[:, None]).sum(axis=1)
    chosen: Floats = logits[np.arange(len(tokens)), tokens]
    result: Floats = chosen - top - np.log(total)
    return result

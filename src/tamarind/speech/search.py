"""Beam search over the decoder's tokens for the texts of each sound, in batches.

Graves 2012, "Sequence Transduction with Recurrent Neural Networks", and Freitag and Al-Onaizan
2017, "Beam Search Strategies for Neural Machine Translation", describe the search; a width of one
is the greedy one. A ``Bias`` may favour some texts over others while they grow (shallow fusion,
Gulcehre et al. 2015).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]
Ints = NDArray[np.int64]

NEAR = 4
"""So many of the likeliest tokens are remembered at every place."""

_BLOCK = 64
_IMPOSSIBLE = np.float32(-1e9)


class Stepper(Protocol):
    """The texts of several sounds, the same number for each, that grow by one token a step."""

    def step(self, tokens: Ints) -> Floats:
        """Append a token to each row; return the log probabilities (rows, vocabulary) of the
        next."""

    def follow(self, parents: Ints) -> None:
        """Continue row ``i`` from the text of row ``parents[i]``, which has the same sound."""

    def keep_sounds(self, sounds: Ints) -> None:
        """Continue with these sounds only."""


class Bias(Protocol):
    """Favours some texts; a state (any number) stands for what a text may be in the middle of."""

    def start(self) -> int:
        """Return the state of the empty text."""

    def wanted(self, states: Ints) -> Ints:
        """Return tokens that might continue something favoured: (rows, any number), -1 for none."""

    def moves(self, states: Ints, tokens: Ints) -> tuple[Ints, Floats]:
        """Return the states after states (rows,) and tokens (rows, columns), and what each adds to
        the score (natural log)."""


@dataclass(frozen=True, slots=True)
class TokenHypothesis:
    """Tokens without the sentinels and what the search saw of each.

    ``log_probabilities`` are natural logs; ``margins`` say by how much a token's is over that of
    the best other one (negative if another was likelier); ``near`` has for each the likeliest
    tokens in its place with their logs. ``ended`` False: cut off at the limit.
    """

    tokens: tuple[int, ...]
    log_probabilities: tuple[float, ...]
    margins: tuple[float, ...]
    near: tuple[tuple[tuple[int, float], ...], ...]
    end_log_probability: float
    score: float
    ended: bool


def one_after_the_other(first: TokenHypothesis, second: TokenHypothesis) -> TokenHypothesis:
    """Join the texts of two sounds to that of both."""
    return TokenHypothesis(
        first.tokens + second.tokens,
        first.log_probabilities + second.log_probabilities,
        first.margins + second.margins,
        near=first.near + second.near,
        end_log_probability=second.end_log_probability,
        score=first.score + second.score,
        ended=first.ended and second.ended,
    )


class _Beams:
    """The live texts: arrays (sounds, beams) and (sounds, beams, steps)."""

    def __init__(self, sounds: int, beams: int, steps: int, state: int) -> None:
        self.scores = np.full((sounds, beams), _IMPOSSIBLE, np.float32)
        self.scores[:, 0] = 0.0
        self.tokens = np.zeros((sounds, beams, steps), np.int64)
        self.logs = np.zeros((sounds, beams, steps), np.float32)
        self.margins = np.zeros((sounds, beams, steps), np.float32)
        self.near = np.zeros((sounds, beams, steps, NEAR), np.int64)
        self.near_logs = np.zeros((sounds, beams, steps, NEAR), np.float32)
        self.states = np.full((sounds, beams), state, np.int64)

    def keep_sounds(self, sounds: Ints) -> None:
        for name, value in vars(self).items():
            setattr(self, name, value[sounds])

    def follow(self, parents: Ints, scores: Floats) -> None:
        """Continue from the beams ``parents`` (sounds, beams) of the same sound; ``scores`` are
        those of the longer texts."""
        sounds = np.arange(len(parents))[:, None]
        for name, value in vars(self).items():
            setattr(self, name, value[sounds, parents])
        self.scores = scores

    def note(
        self, step: int, where: tuple[Ints, Ints, Ints], tokens: Ints, logs: Floats, margins: Floats
    ) -> None:
        """Record the choice of a step: ``where`` are rows (sounds, 1), indices among the candidates
        of all beams, and the beams that these continue (sounds, beams)."""
        rows, chosen, parents = where
        sounds, beams = self.scores.shape
        near = (sounds, beams, -1)
        for kept, candidates in (
            (self.tokens, tokens), (self.logs, logs), (self.margins, margins),
        ):  # fmt: skip
            kept[:, :, step] = candidates.reshape(sounds, -1)[rows, chosen]
        self.near[:, :, step] = tokens[:, :NEAR].reshape(near)[rows, parents]
        self.near_logs[:, :, step] = logs[:, :NEAR].reshape(near)[rows, parents]

    def finished(
        self, sound: int, beam: int, length: int, end: float, ended: bool
    ) -> TokenHypothesis:
        place = (sound, beam, slice(0, length))
        return TokenHypothesis(
            tuple(self.tokens[place].tolist()),
            tuple(self.logs[place].tolist()),
            tuple(self.margins[place].tolist()),
            near=tuple(
                tuple(zip(*pair, strict=True))
                for pair in zip(
                    self.near[place].tolist(), self.near_logs[place].tolist(), strict=True
                )
            ),
            end_log_probability=end,
            score=float(self.scores[sound, beam]) + end,
            ended=ended,
        )


def _scored(
    following: Floats, live: _Beams, bias: Bias | None
) -> tuple[Ints, Floats, Floats, Ints, Floats]:
    """Return the candidates of all beams (sounds * beams, candidates): tokens, log probabilities,
    margins, states of the bias, and the scores of their texts (sounds, beams * candidates)."""
    sounds, beams = live.scores.shape
    tokens, logs, margins = _candidates(following, max(beams + 1, NEAR), live, bias)
    added, states = _favoured(tokens, live, bias)
    totals = (live.scores.reshape(-1, 1) + logs + added).reshape((sounds, -1))
    return tokens, logs, margins, states, totals


def _going(
    results: Sequence[list[TokenHypothesis]],
    sounds: Ints,
    live: _Beams,
    limits: Ints,
    length: int,
    by_length: bool,
) -> Ints:
    """Return the rows of sounds whose live texts may still become the best; those at their greatest
    length end, with at least one text."""
    beams = live.scores.shape[1]
    slack = 0.0 if by_length else _slack(beams)
    going = []
    for row, sound in enumerate(sounds):
        full = length >= limits[sound]
        if full and not results[sound]:
            results[sound].append(live.finished(row, 0, length, 0.0, ended=False))
        best = max((_rank(text, by_length) for text in results[sound]), default=-np.inf)
        hope = live.scores[row, 0] / length if by_length else live.scores[row, 0]
        if not full and len(results[sound]) < beams and hope > best - slack:
            going.append(row)
    return np.array(going, np.int64)


def search(
    stepper: Stepper,
    limits: Ints,
    beams: int,
    begin: int,
    end: int,
    bias: Bias | None = None,
    on_step: Callable[[], None] = lambda: None,
    by_length: bool = False,
    least: int = 0,
) -> list[list[TokenHypothesis]]:
    """Return the likeliest texts of each sound, best first, at most ``beams`` of them, of at least
    ``least`` tokens.

    A network that likes to end early is searched ``by_length``: its texts are ranked by the mean of
    their tokens (Wu et al. 2016, "Google's Neural Machine Translation System", section 7), and
    scored as if all were as long as the best.

    ``limits`` (sounds,) is the most tokens for each sound. A sound leaves the batch when as many
    texts as beams have ended, or when no live text can still become the best.
    """
    results: list[list[TokenHypothesis]] = [[] for _ in limits]
    sounds, length = np.arange(len(limits)), 0
    live = _Beams(len(limits), beams, int(limits.max(initial=1)), bias.start() if bias else 0)
    last = np.full((len(limits), beams), begin, np.int64)
    while len(sounds):
        shape = (len(sounds), -1)
        following = stepper.step(last.reshape(-1))
        tokens, logs, margins, states, totals = _scored(following, live, bias)
        ends = (tokens == end).reshape(shape)
        totals[ends & (length < least)] = _IMPOSSIBLE
        order = np.argsort(-totals, axis=1, kind="stable")
        _collect(results, sounds, live, order[:, :beams], ends, logs, tokens.shape[1], length)
        chosen = _live_choices(order, ends, beams)
        parents = chosen // tokens.shape[1]
        rows = np.arange(len(sounds))[:, None]
        live.follow(parents, np.take_along_axis(totals, chosen, axis=1))
        last = tokens.reshape(shape)[rows, chosen]
        live.note(length, (rows, chosen, parents), tokens, logs, margins)
        live.states = states.reshape(shape)[rows, chosen]
        length += 1
        going = _going(results, sounds, live, limits, length, by_length)
        stepper.follow((rows * beams + parents).reshape(-1))
        if len(going) < len(sounds):
            sounds, last = sounds[going], last[going]
            live.keep_sounds(going)
            if len(going):
                stepper.keep_sounds(going)
        on_step()
    return [_ranked(texts, by_length) for texts in results]


def _rank(text: TokenHypothesis, by_length: bool) -> float:
    return text.score / (len(text.tokens) + 1) if by_length else text.score


def _ranked(texts: list[TokenHypothesis], by_length: bool) -> list[TokenHypothesis]:
    """Sort texts, best first; all of the same length as the best, if length is normalised."""
    texts = sorted(texts, key=lambda text: -_rank(text, by_length))
    if not by_length:
        return texts
    length = len(texts[0].tokens) + 1
    return [replace(text, score=_rank(text, True) * length) for text in texts]


def _slack(beams: int) -> float:
    """Return how much longer a wide search goes on to find alternatives."""
    return 3.0 if beams > 2 else 0.0


def _collect(
    results: list[list[TokenHypothesis]],
    sounds: Ints,
    live: _Beams,
    best: Ints,
    ends: NDArray[np.bool_],
    logs: Floats,
    width: int,
    length: int,
) -> None:
    """Take out the texts that end among each sound's best candidates."""
    flat = logs.reshape(len(sounds), -1)
    for row, column in zip(*np.nonzero(np.take_along_axis(ends, best, axis=1)), strict=True):
        candidate = int(best[row, column])
        beam = candidate // width
        if live.scores[row, beam] > _IMPOSSIBLE / 2:
            text = live.finished(row, beam, length, float(flat[row, candidate]), ended=True)
            results[sounds[row]].append(text)


def _live_choices(order: Ints, ends: NDArray[np.bool_], beams: int) -> Ints:
    """Return the first candidates of each sound, in order, that do not end the text."""
    going_on = ~np.take_along_axis(ends, order, axis=1)
    first = np.argsort(~going_on, axis=1, kind="stable")[:, :beams]
    return np.take_along_axis(order, first, axis=1)


def _candidates(
    following: Floats, count: int, live: _Beams, bias: Bias | None
) -> tuple[Ints, Floats, Floats]:
    """Return for each row the likeliest and the wanted tokens: token, log probability, margin."""
    tokens = _top(following, count)
    rows = np.arange(len(following))[:, None]
    best = following[rows, tokens]
    if bias is not None:
        extra = bias.wanted(live.states.reshape(-1))
        if extra.size:
            logs = np.where(extra >= 0, following[rows, extra], _IMPOSSIBLE)
            logs[(extra[:, :, None] == tokens[:, None, :]).any(axis=2)] = _IMPOSSIBLE
            tokens = np.concatenate([tokens, np.maximum(extra, 0)], axis=1)
            logs = np.concatenate([best, logs], axis=1)
            return tokens, logs, _margins(logs, best)
    return tokens, best, _margins(best, best)


def _margins(logs: Floats, best: Floats) -> Floats:
    first, second = best[:, :1], best[:, 1:2]
    return np.asarray(np.where(logs >= first, logs - second, logs - first), np.float32)


def _favoured(tokens: Ints, live: _Beams, bias: Bias | None) -> tuple[Floats, Ints]:
    if bias is None:
        return np.zeros(tokens.shape, np.float32), np.zeros(tokens.shape, np.int64)
    states, added = bias.moves(live.states.reshape(-1), tokens)
    return added, states


def _top(values: Floats, count: int) -> Ints:
    """Return the ``count`` highest of each row, best first; by blocks first, since few can
    matter."""
    rows, size = values.shape
    if size // _BLOCK <= count:
        return np.argsort(-values, axis=1, kind="stable")[:, :count]
    whole = size // _BLOCK * _BLOCK
    blocks = values[:, :whole].reshape(rows, -1, _BLOCK)
    highest = np.argpartition(-blocks.max(axis=2), count, axis=1)[:, :count]
    places = (highest[:, :, None] * _BLOCK + np.arange(_BLOCK)).reshape(rows, -1)
    rest = np.broadcast_to(np.arange(whole, size), (rows, size - whole))
    places = np.concatenate([places, rest], axis=1)
    best = np.take_along_axis(values, places, axis=1)
    order = np.argsort(-best, axis=1, kind="stable")[:, :count]
    found: Ints = np.take_along_axis(places, order, axis=1)
    return found

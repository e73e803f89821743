"""Combine the hypotheses of different recognisers for one segment into one.

Their words are aligned by the cheapest path, as in ROVER (Fiscus 1997, "A post-processing system to
yield reduced word error rates") and in confusion networks (Mangu, Brill and Stolcke 2000); places
where they say the same are one slot of the network, stretches where they do not are another. Case,
marks, figures and ways of spelling are no differences. In each slot the side wins that is likelier
right, by the votes of further recognisers where there are any, else by logistic regression on what
both know; what the other had is a reading of the words that
won, or of a neighbour where nothing won.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from tamarind.speech.confidence import log_odds, logistic
from tamarind.speech.consensus import MOST_OTHERS, bare, shared_out
from tamarind.speech.pronunciation import spoken_forms
from tamarind.speech.recognisers.base import HeardWord, Hypothesis
from tamarind.transcript.languages import base_of
from tamarind.transcript.tokens import joined

ONE_MORE, OTHER = 0.75, 1.0
"""What a form without a partner costs, and one that has another."""

# Fitted by ``benchmarks/second_opinion.py`` on recordings with known texts.
CHOICE_WEIGHTS = (0.606, -0.657, 0.564, -0.850, -0.494, -0.039, -0.028, 0.023)
"""For ``choice_features``: how much speaks for the second."""

AGREEMENT_WEIGHTS = (0.783, 0.358, 0.636)
"""For the constant and the least log odds of both: whether what both say is right."""

TRUST_WEIGHTS = (-0.981, 0.327, 0.572)
"""For the constant, the log odds of the choice, and the least of the words that won: whether they
are right, since where both differ neither may be."""

MOST_SURE = 0.8
"""Where they differ there is always a doubt, whatever the sound says."""

LEAST_CERTAIN = 1e-3
LARGEST_FIT = 20.0

_SPELLINGS = tuple(
    (re.compile(pattern), plain)
    for pattern, plain in (
        (r"^(centi|milli|kilo)met(?:er|re)s?$", r"\1m"),
        (r"^centim$", "cm"),
        (r"^millim$", "mm"),
        (r"^kilom$", "km"),
        (r"^kilogram(?:me)?s?$|^kilos?$|^kgs?$", "kg"),
        (r"(?<=\w{3})our(?=(?:s|ed|ing|ite|ites|hood|able|ably|al|ally)?$)", "or"),
        (r"(?<=\w{3})is(?=(?:e|es|ed|er|ers|ing|ation|ations)$)", "iz"),
        (r"(?<=\w{2}[tb])re(?=s?$)", "er"),
        (r"(?<=\w{3}l)l(?=(?:ed|ing|er|ers)$)", ""),
        (r"^grey", "gray"),
        (r"ogue(?=s?$)", "og"),
        (r"^(?:okay)$", "ok"),
        (r"^mister$", "mr"),
        (r"^missus$", "mrs"),
        (r"^programme(?=s?$)", "program"),
    )
)
"""British and American ways to write a word, and units short or long, made one; what comes of it
need not be a word."""


@dataclass(frozen=True, slots=True)
class Slot:
    """Words of both sides that correspond: [``first``, ``last``) of each. ``same`` says that they
    are the same words."""

    first: tuple[int, int]
    second: tuple[int, int]
    same: bool


@dataclass(frozen=True, slots=True)
class Rivals:
    """The evidence for the sides of a slot that differ: the least confidences of their words (0.5
    for none), their number of words, and their mean log likelihood in place. ``fit`` is by how much
    the second fits the sound better than the first (natural log), 0 if nothing tells."""

    certainties: tuple[float, float]
    counts: tuple[int, int]
    likelihoods: tuple[float, float]
    fit: float = 0.0


Likelihoods = Callable[[Sequence[str]], Sequence[float]]
"""For each word of a text the log probability of it and of the one after it."""

Words = tuple[HeardWord, ...]
Placed = tuple[Slot, tuple[Words, Words], Rivals]
"""A slot, the words of both sides, and what is known of them."""

Fits = Callable[[Sequence[Sequence[str]]], Sequence[float]]
"""How well each of some texts fits the sound of the segment (natural log)."""


def forms_of(word: str, language: str) -> list[str]:
    """Return the plain words of a written one, in one spelling."""
    if base_of(language) == "en":
        return [_spelled(form) for form in spoken_forms(re.sub("[-–—]", " ", word))]
    parts = (bare(part) for part in re.split(r"[-–—\s]", word))
    return [part for part in parts if part]


def _spelled(form: str) -> str:
    for pattern, plain in _SPELLINGS:
        form = pattern.sub(plain, form)
    return form


def slots(first: Sequence[str], second: Sequence[str], language: str) -> list[Slot]:
    """Return all words of both texts in order, aligned."""
    one, other = (
        [(form, place) for place, word in enumerate(words) for form in forms_of(word, language)]
        for words in (first, second)
    )
    pairs = _aligned([form for form, _ in one], [form for form, _ in other])
    # A border lies where a word ends on both sides; what lies between two is a slot.
    found: list[Slot] = []
    begun = (0, 0)
    at = [0, 0]
    same = True
    for number, (i, j) in enumerate(pairs):
        same = same and i is not None and j is not None and one[i][0] == other[j][0]
        at = [at[0] + (i is not None), at[1] + (j is not None)]
        ends = []
        for forms, place in ((one, at[0]), (other, at[1])):
            inside = 0 < place < len(forms) and forms[place][1] == forms[place - 1][1]
            ends.append(None if inside else forms[place - 1][1] + 1 if place else 0)
        if None in ends and number + 1 < len(pairs):
            continue
        stop = (ends[0] or 0, ends[1] or 0)
        found.append(Slot((begun[0], stop[0]), (begun[1], stop[1]), same))
        begun, same = stop, True
    found.append(Slot((begun[0], len(first)), (begun[1], len(second)), True))
    return _runs(found)


def _runs(found: Sequence[Slot]) -> list[Slot]:
    """Merge neighbouring slots that differ, and drop those without words."""
    runs: list[Slot] = []
    for slot in found:
        if slot.first[0] == slot.first[1] and slot.second[0] == slot.second[1]:
            continue
        if runs and not runs[-1].same and not slot.same:
            before = runs[-1]
            slot = Slot((before.first[0], slot.first[1]), (before.second[0], slot.second[1]), False)
            runs.pop()
        runs.append(slot)
    return runs


def _aligned(one: Sequence[str], other: Sequence[str]) -> list[tuple[int | None, int | None]]:
    """Return the cheapest alignment (Levenshtein 1966) as pairs of indices, None for no partner."""
    rows, columns = len(one), len(other)
    cost = [[ONE_MORE * column for column in range(columns + 1)]]
    for row in range(1, rows + 1):
        above = cost[-1]
        line = [ONE_MORE * row]
        for column in range(1, columns + 1):
            same = one[row - 1] == other[column - 1]
            line.append(
                min(
                    above[column - 1] + (0.0 if same else OTHER),
                    above[column] + ONE_MORE,
                    line[column - 1] + ONE_MORE,
                )
            )
        cost.append(line)
    pairs: list[tuple[int | None, int | None]] = []
    row, column = rows, columns
    while row or column:
        here = cost[row][column]
        if row and column:
            same = one[row - 1] == other[column - 1]
            if here == cost[row - 1][column - 1] + (0.0 if same else OTHER):
                row, column = row - 1, column - 1
                pairs.append((row, column))
                continue
        if row and here == cost[row - 1][column] + ONE_MORE:
            row -= 1
            pairs.append((row, None))
        else:
            column -= 1
            pairs.append((None, column))
    return pairs[::-1]


def combined(
    first: Hypothesis,
    second: Hypothesis,
    language: str,
    likelihoods: Likelihoods,
    fits: Fits | None = None,
    terms: Sequence[str] = (),
    more: Sequence[Hypothesis] = (),
) -> Hypothesis:
    """Return one hypothesis of both. Words that differ become doubts, with the other side as first
    alternative. ``fits`` is asked where they differ. A side that alone has one of the ``terms``
    wins, since nobody hears those by chance; else the side that most of ``more`` hypotheses agree
    with, since several recognisers of different kinds rarely make the same mistake."""
    words: list[HeardWord] = []
    missing = ""
    known = [" ".join(forms_of(term, language)) for term in terms]
    for slot, sides, rivals in network(first, second, language, likelihoods, fits):
        if slot.same:
            new = _agreed(*sides)
        else:
            better = _with_term(sides, known)
            if better is None:
                better = _by_vote(slot, first, second, more, language)
            new = _chosen(sides, rivals, better)
        if missing and new:
            # What one side alone has, and which was left out, is a reading of its neighbour.
            new[0] = _offering(new[0], f"{missing} {new[0].text}")
            missing = ""
        if not new:
            missing = joined(word.text for word in (*sides[0], *sides[1]))
        words += new
    if missing and words:
        words[-1] = _offering(words[-1], f"{words[-1].text} {missing}")
    elif not words:
        # Nothing that may have been said is left out without a trace.
        words = [_disputed(word) for word in first.words or second.words]
    return Hypothesis(tuple(words), max(first.score, second.score))


def _agreed(one: Words, other: Words) -> list[HeardWord]:
    """Return the words in which both agree, as the second writes them."""
    sure = logistic(AGREEMENT_WEIGHTS, agreement_features(one, other))
    nothing: tuple[str, ...] = ()
    readings = [w.others for w in one] if len(one) == len(other) else [nothing] * len(other)
    return [
        replace(word, confidence=sure, others=_together(word.text, word.others, more))
        for word, more in zip(other, readings, strict=True)
    ]


def _with_term(sides: tuple[Words, Words], terms: Sequence[str]) -> float | None:
    """Return 1 if only the second side has a term, 0 if only the first has, else None."""
    one, other = (
        any(f" {term} " in f" {text} " for term in terms)
        for text in (" ".join(bare(word.text) for word in words) for words in sides)
    )
    return None if one == other else float(other)


def _by_vote(
    slot: Slot,
    first: Hypothesis,
    second: Hypothesis,
    more: Sequence[Hypothesis],
    language: str,
) -> float | None:
    """Return 1 if more of the others agree with the second side, 0 if more agree with the first,
    None on a tie."""
    votes = sum(
        _has(second, slot.second, third, language) - _has(first, slot.first, third, language)
        for third in more
    )
    return None if not votes else float(votes > 0)


def _has(side: Hypothesis, place: tuple[int, int], third: Hypothesis, language: str) -> bool:
    """Whether a hypothesis has the words of a side in place, next to the same neighbours."""
    texts = [word.text for word in side.words]
    low, high = max(place[0] - 1, 0), min(place[1] + 1, len(texts))
    same = [
        slot
        for slot in slots(texts, [word.text for word in third.words], language)
        if slot.same and low <= slot.first[0] and slot.first[1] <= high
    ]
    covered = sum(slot.first[1] - slot.first[0] for slot in same)
    follows = all(one.second[1] == other.second[0] for one, other in pairwise(same))
    return bool(same) and covered == high - low and follows


def _chosen(
    sides: tuple[Words, Words], rivals: Rivals, known: float | None = None
) -> list[HeardWord]:
    """Return the words of the side that is likelier right, or ``known`` to be better, with the
    other side as alternatives."""
    odds = logistic(CHOICE_WEIGHTS, choice_features(rivals)) if known is None else known
    winner, loser = (sides[1], sides[0]) if odds > 0.5 else (sides[0], sides[1])
    choice = _log_odds(max(odds, 1 - odds))
    trust = logistic(TRUST_WEIGHTS, (1.0, choice, _log_odds(_least(winner))))
    sure = min(trust, MOST_SURE)
    texts = [word.text for word in winner]
    shares = shared_out(texts, [word.text for word in loser]) if winner else []
    found = []
    for word, share in zip(winner, shares, strict=True):
        others = _together(word.text, (joined(share),), word.others)
        found.append(replace(word, confidence=sure, others=others, at_most=MOST_SURE))
    return found


def _disputed(word: HeardWord) -> HeardWord:
    return replace(word, confidence=min(word.confidence, MOST_SURE), at_most=MOST_SURE)


def _offering(word: HeardWord, reading: str) -> HeardWord:
    """Return a word before or after which another may be missing."""
    others = _together(word.text, (reading,), word.others)
    return replace(_disputed(word), others=others)


def _together(text: str, first: Sequence[str], more: Sequence[str]) -> tuple[str, ...]:
    """Return the alternatives that are not the word itself, each once."""
    found: dict[str, str] = {}
    for one in (*first, *more):
        if bare(one) != bare(text):
            found.setdefault(bare(one), one)
    return tuple(found.values())[:MOST_OTHERS]


def agreement_features(one: Words, other: Words) -> tuple[float, ...]:
    """Return the numbers that ``AGREEMENT_WEIGHTS`` are for."""
    return 1.0, _log_odds(_least(one)), _log_odds(_least(other))


def choice_features(rivals: Rivals) -> tuple[float, ...]:
    """Return the numbers that ``CHOICE_WEIGHTS`` are for."""
    one, other = rivals.counts
    likelier = rivals.likelihoods[1] - rivals.likelihoods[0] if one and other else 0.0
    return (
        1.0,
        _log_odds(rivals.certainties[0]),
        _log_odds(rivals.certainties[1]),
        float(one == 0),
        float(other == 0),
        float(other - one),
        likelier,
        max(min(rivals.fit, LARGEST_FIT), -LARGEST_FIT),
    )


def _log_odds(confidence: float) -> float:
    return log_odds(confidence, LEAST_CERTAIN)


def network(
    first: Hypothesis,
    second: Hypothesis,
    language: str,
    likelihoods: Likelihoods,
    fits: Fits | None = None,
) -> list[Placed]:
    """Return the slots of both in order, with their words and evidence."""
    one, other = ([word.text for word in side.words] for side in (first, second))
    likely = list(likelihoods(one)), list(likelihoods(other))
    aligned = slots(one, other, language)
    better = _better(aligned, one, other, fits) if fits is not None else {}
    found: list[Placed] = []
    for slot in aligned:
        sides = first.words[slice(*slot.first)], second.words[slice(*slot.second)]
        own = likely[0][slice(*slot.first)], likely[1][slice(*slot.second)]
        rivals = Rivals(
            (_least(sides[0]), _least(sides[1])),
            (len(sides[0]), len(sides[1])),
            (_mean(own[0]), _mean(own[1])),
            better.get(slot, 0.0),
        )
        found.append((slot, sides, rivals))
    return found


def _better(
    aligned: Sequence[Slot], one: Sequence[str], other: Sequence[str], fits: Fits
) -> dict[Slot, float]:
    """Return for each slot that differs by how much the second's words fit better, in the first's
    text and in the second's."""
    differing = [slot for slot in aligned if not slot.same]
    if not differing:
        return {}
    texts = [list(one), list(other)]
    for slot in differing:
        (a, b), (c, d) = slot.first, slot.second
        texts.append([*one[:a], *other[c:d], *one[b:]])
        texts.append([*other[:c], *one[a:b], *other[d:]])
    found = fits(texts)
    return {
        slot: found[2 + 2 * place] - found[0] + found[1] - found[3 + 2 * place]
        for place, slot in enumerate(differing)
    }


def _least(words: Sequence[HeardWord]) -> float:
    return min((word.confidence for word in words), default=0.5)


def _mean(values: Sequence[float]) -> float:
    return sum(values) / len(values) if values else 0.0

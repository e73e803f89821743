"""Make the chain of states of a text, with optional pauses between words.

Phones are states between their neighbours (triphones, within words and across them, as in Young
et al. 2006, "The HTK Book"); a word of several pronunciations is several ways side by side; a
pause between words is silence or noise, or is skipped.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from math import log

from tamarind.speech.acoustic.model import NOISE, SILENCE, STATES, AcousticModel
from tamarind.speech.pronouncing import Phones

PAUSE = -1
"""Stands for a pause where the number of a form is asked for."""

PAUSE_COST, NOISE_COST = -log(0.2), -log(1e-4)


@dataclass(slots=True)
class Chain:
    """States in order; ``starts`` and ``ends`` are those where a text may begin and end.

    ``entries`` are the first states of words and pauses: (state, states before it, cost).
    """

    senones: list[int] = field(default_factory=list)
    stay: list[float] = field(default_factory=list)
    leave: list[float] = field(default_factory=list)
    forms: list[int] = field(default_factory=list)
    starts: list[tuple[int, float]] = field(default_factory=list)
    ends: list[int] = field(default_factory=list)
    entries: list[tuple[int, list[int], float]] = field(default_factory=list)


def chain_of(
    model: AcousticModel, forms: Sequence[Sequence[Phones]], pauses: Sequence[bool]
) -> Chain:
    """Return the chain of a text of at least one form, each with all its pronunciations.

    ``pauses`` tells after which forms a pause is likely: the words beside it then sound as they
    do beside silence.
    """
    chain = Chain()
    fillers = ((model.phone(SILENCE), PAUSE_COST), (model.phone(NOISE), NOISE_COST))
    before: list[int] = []
    for place in range(len(forms) + 1):
        exits = list(before)
        for filler, cost in fillers:
            senones = [list(model.senones_alone(filler))]
            exits.append(_append(chain, model, [filler], senones, PAUSE, before, cost))
        if place == len(forms):
            chain.ends = exits
            break
        before = []
        for phones in forms[place]:
            numbers = [model.phone(phone) for phone in phones]
            left = forms[place - 1][0][-1] if place and not pauses[place - 1] else SILENCE
            follows = place + 1 < len(forms) and not pauses[place]
            right = forms[place + 1][0][0] if follows else SILENCE
            around = [model.phone(left), *numbers, model.phone(right)]
            last = len(numbers) - 1
            senones = [
                list(model.senones(number, around[at], around[at + 2], at == 0, at == last))
                for at, number in enumerate(numbers)
            ]
            before.append(_append(chain, model, numbers, senones, place, exits, 0.0))
    return chain


def _append(
    chain: Chain,
    model: AcousticModel,
    phones: Sequence[int],
    senones: Sequence[Sequence[int]],
    form: int,
    before: Sequence[int],
    cost: float,
) -> int:
    """Append a path of phones after ``before`` (none: the text's start); return its last state."""
    first = len(chain.senones)
    if before:
        chain.entries.append((first, list(before), cost))
    else:
        chain.starts.append((first, cost))
    for phone, states in zip(phones, senones, strict=True):
        chain.senones += states
        chain.stay += model.stay[phone].tolist()
        chain.leave += model.leave[phone].tolist()
        chain.forms += [form] * STATES
    return len(chain.senones) - 1

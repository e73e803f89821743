"""Compare two recognisers on the same recordings: each alone, and both combined.

    .venv/bin/python benchmarks/second_opinion.py [WORDS OF NAMES ...]

On recordings with known texts, those whose name has one of the words if any are given (such as
``clean``): word errors and speed of both recognisers, quick and thorough; in how many words they
differ, and how many of the wrong words those are; errors together, with weights fitted on the other
recordings, and as far as a perfect choice between the two would come; at last the weights to be put
into ``tamarind.speech.combining``.
"""

from __future__ import annotations

import sys
import time
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np

HERE = Path(__file__).parent
sys.path[:0] = [str(HERE.parent), str(HERE.parent / "demo")]

from calibrate import fit  # noqa: E402
from material import Known, known_recordings  # noqa: E402
from tamarind.audio import soundcache  # noqa: E402
from tamarind.speech.activity import ActivityMeter  # noqa: E402
from tamarind.speech.alignment import Aligner  # noqa: E402
from tamarind.speech.combining import (  # noqa: E402
    CHOICE_WEIGHTS,
    agreement_features,
    choice_features,
    forms_of,
    network,
)
from tamarind.speech.cores import on_one_core_each  # noqa: E402
from tamarind.speech.detector import FRAME  # noqa: E402
from tamarind.speech.hearingoptions import Care, HearingOptions  # noqa: E402
from tamarind.speech.lexicon import lexicon_of  # noqa: E402
from tamarind.speech.pronouncer import ENGLISH as SAID_BY  # noqa: E402
from tamarind.speech.recognisers.catalogue import ENGLISH, MANY, load  # noqa: E402
from tamarind.speech.recognisers.searching import levelled  # noqa: E402
from tamarind.speech.segments import cut  # noqa: E402
from truth import matched  # noqa: E402

Table = np.ndarray
WAYS = [(name, care) for name in (ENGLISH, MANY) for care in (Care.QUICK, Care.THOROUGH)]


@dataclass
class Heard:
    """One recording: its number of words, errors and seconds by way of recognising, and for every
    place its evidence and the errors of both there."""

    name: str
    condition: str
    words: int
    seconds: float
    errors: dict[tuple[str, Care], float] = field(default_factory=dict)
    took: dict[tuple[str, Care], float] = field(default_factory=dict)
    rows: list[tuple[float, ...]] = field(default_factory=list)
    same: list[bool] = field(default_factory=list)
    wrong: list[tuple[float, float]] = field(default_factory=list)
    sizes: list[int] = field(default_factory=list)


def errors_of(truth: list[str], heard: list[str]) -> tuple[Table, Table]:
    """Return errors at each recognised word, and missing words before each, and at the end."""
    one, other = (
        [(form, place) for place, word in enumerate(words) for form in forms_of(word, "en")]
        for words in (truth, heard)
    )
    wrong, missing = np.zeros(len(heard)), np.zeros(len(heard) + 1)
    at = 0
    for x, y in matched([form for form, _ in one], [form for form, _ in other]):
        if y is None:
            missing[at] += 1
            continue
        owner = other[y][1]
        at = owner if y + 1 < len(other) and other[y + 1][1] == owner else owner + 1
        wrong[owner] += x is None or one[x][0] != other[y][0]
    return wrong, missing


def gather(recording: Known, recognisers: dict[str, object], aligner: Aligner) -> Heard:
    """Collect everything recognised in a recording by both."""
    samples = soundcache.fetch(recording.path).samples()
    segments = cut(ActivityMeter().measure(samples))
    sounds = [samples[c.first * FRAME : c.last * FRAME] for c in segments]
    truth = recording.text.split()
    count = sum(len(forms_of(word, "en")) for word in truth)
    heard = Heard(recording.name, recording.condition, count, len(samples) / 16_000)
    best = {}
    for name, care in WAYS:
        begun = time.monotonic()
        best[name, care] = [h[0] for h in recognisers[name].hear(sounds, HearingOptions(care=care))]
        heard.took[name, care] = time.monotonic() - begun
        texts = [word.text for hypothesis in best[name, care] for word in hypothesis.words]
        heard.errors[name, care] = sum(part.sum() for part in errors_of(truth, texts))
    sides = [best[name, Care.THOROUGH] for name in (ENGLISH, MANY)]
    marks = [errors_of(truth, [w.text for h in side for w in h.words]) for side in sides]
    likelihoods = lexicon_of("en").likelihoods
    begun = [0, 0]
    for sound, one, other in zip(sounds, *sides, strict=True):
        level = levelled(sound)
        placed = network(
            one, other, "en", likelihoods, lambda texts, s=level: aligner.fits(s, texts, SAID_BY)
        )
        for slot, words, rivals in placed:
            wrong = []
            for (bad, missing), at, (first, last) in zip(
                marks, begun, (slot.first, slot.second), strict=True
            ):
                first, last = first + at, last + at
                gaps = 0.0 if slot.same else missing[first : last + 1].sum()
                wrong.append(bad[first:last].sum() + gaps)
            features = agreement_features(*words) if slot.same else choice_features(rivals)
            heard.rows.append(features)
            heard.same.append(slot.same)
            heard.wrong.append((wrong[0], wrong[1]))
            heard.sizes.append(len(words[1]))
        begun = [begun[0] + len(one.words), begun[1] + len(other.words)]
    return heard


def decided(recordings: list[Heard]) -> tuple[Table, Table]:
    """Return features of the places where one side was better, and whether that was the second."""
    rows, second = [], []
    for heard in recordings:
        for row, same, (one, other) in zip(heard.rows, heard.same, heard.wrong, strict=True):
            if not same and one != other:
                rows.append(row)
                second.append(other < one)
    return np.array(rows), np.array(second, float)


def choice_of(recordings: list[Heard]) -> Table:
    """Return the weights of the choice; the existing ones if nothing was to be chosen."""
    rows, second = decided(recordings)
    return fit(rows, second) if len(rows) else np.array(CHOICE_WEIGHTS)


def together(heard: Heard, weights: Table) -> tuple[float, float]:
    """Return the errors of a recording with these weights, and with the better side everywhere."""
    base = heard.errors[ENGLISH, Care.THOROUGH]
    chosen = perfect = 0.0
    for row, same, (one, other) in zip(heard.rows, heard.same, heard.wrong, strict=True):
        if not same:
            base -= one
            chosen += other if np.dot(row, weights) > 0 else one
            perfect += min(one, other)
    return base + chosen, base + perfect


def main() -> None:
    """Transcribe, print, fit."""
    on_one_core_each()
    aligner = Aligner()
    recognisers = {name: load(name, aligner) for name in (ENGLISH, MANY)}
    wanted = sys.argv[1:]
    recordings = []
    for known in known_recordings():
        if not wanted or any(word in f"{known.name} {known.condition}" for word in wanted):
            recordings.append(gather(known, recognisers, aligner))
            print(f"{known.name} is heard", file=sys.stderr)
    print("recordings: words; " + "; ".join(f"{n} {c.value}" for n, c in WAYS), end="")
    print("; together, if perfect; places that differ, and their share of the wrong words")
    for condition in [*dict.fromkeys(one.condition for one in recordings), ""]:
        own = [one for one in recordings if condition in ("", one.condition)]
        words = sum(one.words for one in own)
        told = [f"{condition or 'all'}: {words}"]
        for way in WAYS:
            share = sum(one.errors[way] for one in own) / words
            speed = sum(one.seconds for one in own) / sum(one.took[way] for one in own)
            told.append(f"{share:.2%} {speed:.0f}×")
        both = np.zeros(2)
        for one in own:
            others = [other for other in recordings if other is not one] or [one]
            both += together(one, choice_of(others))
        told.append(f"{both[0] / words:.2%}, {both[1] / words:.2%}")
        places = sum(not same for one in own for same in one.same)
        wrong = sum(w[1] for one in own for w in one.wrong)
        theirs = sum(w[1] for one in own for w, s in zip(one.wrong, one.same, strict=True) if not s)
        told.append(f"{places / words:.2%}, {theirs / max(wrong, 1):.0%}")
        print("; ".join(told))
    print("CHOICE_WEIGHTS =", tuple(choice_of(recordings).round(3).tolist()))
    agreed = [
        (row, wrong[1] == 0)
        for one in recordings
        for row, same, wrong in zip(one.rows, one.same, one.wrong, strict=True)
        if same
    ]
    rows, right = zip(*agreed, strict=True)
    weights = fit(np.array(rows), np.array(right, float))
    print("AGREEMENT_WEIGHTS =", tuple(weights.round(3).tolist()))
    choice = choice_of(recordings)
    trusted = []
    for one in recordings:
        for row, same, wrong in zip(one.rows, one.same, one.wrong, strict=True):
            if not same:
                odds = float(np.dot(row, choice))
                winner = row[2] if odds > 0 else row[1]
                trusted.append(((1.0, abs(odds), winner), wrong[odds > 0] == 0))
    rows, right = zip(*trusted, strict=True)
    weights = fit(np.array(rows), np.array(right, float))
    print("TRUST_WEIGHTS =", tuple(weights.round(3).tolist()))


if __name__ == "__main__":
    main()

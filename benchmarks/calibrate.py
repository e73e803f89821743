"""Fit the weights of ``tamarind.speech.certainty`` on recordings with known texts.

    .venv/bin/python benchmarks/calibrate.py

Prints the weights to be put there, and how well they sort right words from wrong ones: on the
half of the recordings that they were not fitted on, both ways round.
"""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

HERE = Path(__file__).parent
sys.path[:0] = [str(HERE.parent), str(HERE.parent / "demo")]

from material import Known, known_recordings  # noqa: E402
from tamarind.audio import soundcache  # noqa: E402
from tamarind.speech import certainty  # noqa: E402
from tamarind.speech.activity import FRAME, ActivityMeter  # noqa: E402
from tamarind.speech.chunks import cut  # noqa: E402
from tamarind.speech.recognisers import builtin  # noqa: E402
from tamarind.speech.recognisers.base import Care, Hints  # noqa: E402
from truth import right_words  # noqa: E402

Table = NDArray[np.float64]

DAMPING = 1.0


def gather(
    recording: Known, care: Care, recogniser: builtin.BuiltinRecogniser
) -> tuple[Table, Table]:
    """Features (words, features) and truth (words,) of all that is heard in a recording."""
    rows: list[tuple[float, ...]] = []
    keep = builtin.certainty

    def note(evidence: certainty.Evidence, word: str) -> float:
        key = float(len(rows))
        rows.append(certainty.features(evidence, word))
        return key

    samples = soundcache.fetch(recording.path).samples()
    chunks = cut(ActivityMeter().measure(samples))
    sounds = [samples[c.first * FRAME : c.last * FRAME] for c in chunks]
    builtin.certainty = note
    try:
        readings = recogniser.hear(sounds, Hints(care=care))
    finally:
        builtin.certainty = keep
    words = [word for best, *_ in readings for word in best.words]
    right = right_words(recording.text.split(), [word.text for word in words])
    order = [int(word.certainty) for word in words]
    return np.array(rows)[order], np.array(right, float)


def fit(features: Table, right: Table) -> Table:
    """Logistic regression by Newton's method with a little ridge."""
    weights = np.zeros(features.shape[1])
    for _ in range(30):
        p = 1 / (1 + np.exp(-features @ weights))
        slope = features.T @ (right - p) - DAMPING * weights
        bend = (features * (p * (1 - p))[:, None]).T @ features + DAMPING * np.eye(len(weights))
        weights += np.linalg.solve(bend, slope)
    return weights


def report(name: str, sure: Table, right: Table) -> None:
    """How many wrong words lie in the least sure tenth, and how true the figures are."""
    order = np.argsort(sure)
    wrong = 1 - right[order]
    tenth, fifth = len(order) // 10, len(order) // 5
    bins = np.clip((sure * 10).astype(int), 0, 9)
    gaps = [
        abs(sure[bins == b].mean() - right[bins == b].mean()) * (bins == b).mean()
        for b in range(10)
        if (bins == b).any()
    ]
    print(f"{name}: {len(right)} words, {1 - right.mean():.1%} wrong; least sure 10 %: "
          f"{wrong[:tenth].sum() / wrong.sum():.0%} of the wrong (at best "
          f"{min(tenth / wrong.sum(), 1):.0%}), 20 %: {wrong[:fifth].sum() / wrong.sum():.0%}; "
          f"calibration error {sum(gaps):.3f}")  # fmt: skip


def main() -> None:
    """Fit on both kinds of care together, since one set of weights serves both."""
    recogniser = builtin.BuiltinRecogniser()
    tables = []
    for care in Care:
        for number, recording in enumerate(known_recordings()):
            tables.append((number, recording, care, *gather(recording, care, recogniser)))
            print(f"\r{care.value} {number}", end="", flush=True)
    print()
    for part in (0, 1):
        seen = [t for t in tables if t[0] % 2 == part]
        new = [t for t in tables if t[0] % 2 != part]
        weights = fit(np.concatenate([t[3] for t in seen]), np.concatenate([t[4] for t in seen]))
        for care in Care:
            own = [t for t in new if t[2] is care]
            x, y = np.concatenate([t[3] for t in own]), np.concatenate([t[4] for t in own])
            report(f"held out, {care.value}", 1 / (1 + np.exp(-x @ weights)), y)
            easy = [t for t in own if t[1].condition not in ("noise", "clipped")]
            x, y = np.concatenate([t[3] for t in easy]), np.concatenate([t[4] for t in easy])
            report(f"  without noise and clipping, {care.value}", 1 / (1 + np.exp(-x @ weights)), y)
    x, y = np.concatenate([t[3] for t in tables]), np.concatenate([t[4] for t in tables])
    weights = fit(x, y)
    report("plain probability", np.exp(x[:, 1]), y)
    report("all", 1 / (1 + np.exp(-x @ weights)), y)
    for name, weight in zip(certainty.NAMES, weights, strict=True):
        print(f"    {weight:.3f},  # {name}")


if __name__ == "__main__":
    main()

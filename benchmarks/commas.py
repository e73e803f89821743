"""Learn when a recogniser's comma should be a full stop, and measure how well.

From folders of prose (``docs/benchmarks.md`` says which): every comma and full stop is one example,
with the clauses on both sides. Printed are the weights for ``speech/commas.py``, and how many full
stops and how many commas of the texts that the benchmarks use would be taken for one.

    .venv/bin/python -m benchmarks.commas FOLDER…
"""

from __future__ import annotations

import random
import re
import sys
from pathlib import Path

import numpy as np
from scipy.optimize import minimize

from tamarind.speech.commas import FEATURES, LIKELY, features
from tamarind.transcript.sentences import bare, ends_sentence

HERE = Path(__file__).parent
FILES = 25
_BRACKETS = re.compile(r"\s*\[[^\]]*\]")


def examples(text: str) -> tuple[list[list[float]], list[bool]]:
    """Yield the features of every comma and full stop, and whether it is a full stop."""
    clauses: list[list[str]] = [[]]
    marks: list[str] = []
    for word in _BRACKETS.sub("", text).split():
        if not bare(word):
            continue
        clauses[-1].append(bare(word))
        end = word.rstrip("\"'”’)]")[-1:]
        if end in ".,;:?!" and (end != "." or ends_sentence(word)):
            marks.append(end)
            clauses.append([])
    rows, stops = [], []
    for place, mark in enumerate(marks[:-1]):
        if mark in ".,":
            begins = place == 0 or marks[place - 1] in ".?!"
            rows.append(features(clauses[place], clauses[place + 1], begins))
            stops.append(mark == ".")
    return rows, stops


def gathered(paths: list[Path]) -> tuple[np.ndarray, np.ndarray]:
    """Return all examples of some files: a one and the features, and the truth."""
    rows, stops = [], []
    for path in paths:
        own, are = examples(path.read_text(encoding="utf-8", errors="replace"))
        rows += own
        stops += are
    return np.column_stack([np.ones(len(rows)), rows]), np.array(stops, float)


def main() -> None:
    """Print weights and figures."""
    paths: list[Path] = []
    for folder in map(Path, sys.argv[1:]):
        files = sorted(folder.glob("*.txt"))
        random.Random(2).shuffle(files)
        paths += files[:FILES]
    x, y = gathered(paths)

    def loss(weights: np.ndarray) -> tuple[float, np.ndarray]:
        sums = x @ weights
        value = (np.logaddexp(0, sums) - y * sums).sum() + (weights[1:] ** 2).sum()
        slope = x.T @ (1 / (1 + np.exp(-sums)) - y) + 2 * np.append(0.0, weights[1:])
        return float(value), slope

    weights = minimize(loss, np.zeros(x.shape[1]), jac=True).x
    print(f"from {len(y)} marks\nBIAS = {weights[0]:.2f}")
    print("WEIGHTS =", ", ".join(f"{weight:.2f}" for weight in weights[1:]))
    for name, weight in zip(FEATURES, weights[1:], strict=True):
        print(f"  {name:18s} {weight:+.2f}")
    x, y = gathered(sorted((HERE / "texts").glob("[hm]*.txt")))
    taken = 1 / (1 + np.exp(-(x @ weights))) >= LIKELY
    print(f"texts of the benchmarks: {int(taken[y == 1].sum())} of {int(y.sum())} full stops told, "
          f"{int(taken[y == 0].sum())} of {int((y == 0).sum())} commas taken for one")  # fmt: skip


if __name__ == "__main__":
    main()

"""Fit the weights of ``tamarind.speech.confidence`` on recordings with known texts.

    .venv/bin/python benchmarks/calibrate.py [builtin|many|FOLDER] [quick|thorough ...]

FOLDER holds a model in the format of the multilingual one. Prints how the weights that are there
do, then the weights to be put there, and how well they sort right words from wrong ones: on the
half of the recordings that they were not fitted on, both ways round.
"""

from __future__ import annotations

import sys
import threading
from dataclasses import dataclass
from itertools import pairwise
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

HERE = Path(__file__).parent
sys.path[:0] = [str(HERE.parent), str(HERE.parent / "demo")]

from material import Known, known_recordings  # noqa: E402
from tamarind.audio import soundcache  # noqa: E402
from tamarind.speech import confidence  # noqa: E402
from tamarind.speech.activity import Activity, ActivityMeter, find_speech, in_ms  # noqa: E402
from tamarind.speech.alignment import Aligner  # noqa: E402
from tamarind.speech.detector import FRAME  # noqa: E402
from tamarind.speech.hearing import soundings  # noqa: E402
from tamarind.speech.hearingoptions import Care, HearingOptions  # noqa: E402
from tamarind.speech.recognisers.builtin import BuiltinRecogniser  # noqa: E402
from tamarind.speech.recognisers.catalogue import BUILTIN, MANY  # noqa: E402
from tamarind.speech.recognisers.multilingual import carried  # noqa: E402
from tamarind.speech.recognisers.multilingual.recogniser import MultilingualRecogniser  # noqa: E402
from tamarind.speech.recognisers.searching import SearchingRecogniser  # noqa: E402
from tamarind.speech.segments import Segment, cut  # noqa: E402
from truth import right_words  # noqa: E402

Table = NDArray[np.float64]

DAMPING = 1.0
ALIGNER = Aligner()
SOUND = np.array(confidence.SOUND_WEIGHTS)


@dataclass(frozen=True, slots=True)
class Heard:
    """What was recognised in one recording, word by word: features of the search, how each word
    lies in the sound, the truth.

    ``segments`` are the places of the words of each segment.
    """

    number: int
    condition: str
    care: Care
    search: Table
    soundings: list[confidence.Sounding]
    segments: list[slice]
    right: Table

    def with_sound(self, weights: Table) -> Table:
        """The features of the second step, for weights of the first."""
        sure = logistic(self.search @ weights)
        rows = [
            confidence.sound_features(sure[c].tolist(), self.soundings[c]) for c in self.segments
        ]
        return np.array([row for segment in rows for row in segment])


def part_of(activity: Activity, segment: Segment) -> Activity:
    """Return the measurements of a segment."""
    part = slice(segment.first, segment.last)
    return Activity(activity.probability[part], activity.level[part])


class Notes:
    """Replaces the recogniser's confidence function: gives words numbers and keeps their
    evidence."""

    def __init__(self) -> None:
        self.rows: list[tuple[float, ...]] = []
        self._lock = threading.Lock()

    def __call__(self, evidence: confidence.WordEvidence, word: str) -> float:
        with self._lock:
            self.rows.append(confidence.features(evidence, word))
            return len(self.rows) - 1


def gather(
    number: int, recording: Known, care: Care, notes: Notes, recogniser: SearchingRecogniser
) -> Heard:
    """Collect everything recognised in a recording."""
    samples = soundcache.fetch(recording.path).samples()
    activity = ActivityMeter().measure(samples)
    segments = cut(activity)
    sounds = [samples[c.first * FRAME : c.last * FRAME] for c in segments]
    notes.rows.clear()
    hypotheses = [best.words for best, *_ in recogniser.hear(sounds, HearingOptions(care=care))]
    texts = [[word.text for word in words] for words in hypotheses]
    times = ALIGNER.align(sounds, texts, [[] for _ in sounds])
    lying = [
        soundings(text, own, in_ms(find_speech(part_of(activity, segment))))
        for text, own, segment in zip(texts, times, segments, strict=True)
    ]
    edges = np.cumsum([0, *map(len, texts)])
    return Heard(
        number,
        recording.condition,
        care,
        end=np.array([notes.rows[int(word.confidence)] for words in hypotheses for word in words]),
        work=[one for own in lying for one in own],
        unheard=[slice(a, b) for a, b in pairwise(edges.tolist())],
        bookmark=np.array(
            right_words(recording.text.split(), [t for text in texts for t in text]), float
        ),
    )


def logistic(x: Table) -> Table:
    """From log odds to probability."""
    return np.asarray(1 / (1 + np.exp(-x)))


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
    """Print how many wrong words are in the least sure tenth, and how well the confidences are
    calibrated."""
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


def fitted(heard: list[Heard]) -> tuple[Table, Table]:
    """Return the weights of both steps."""
    right = np.concatenate([h.right for h in heard])
    search = fit(np.concatenate([h.search for h in heard]), right)
    return search, fit(np.concatenate([h.with_sound(search) for h in heard]), right)


def main() -> None:
    """Fit on both qualities together, since one set of weights serves both."""
    notes = Notes()
    name, *ways = sys.argv[1:] or [BUILTIN]
    search_now = confidence.BUILTIN_WEIGHTS if name == BUILTIN else confidence.MANY_WEIGHTS
    cares = [Care(way) for way in ways] or list(Care)
    recogniser: SearchingRecogniser
    if name == BUILTIN:
        recogniser = BuiltinRecogniser(judge=notes)
    else:
        folder = carried.folder() if name == MANY else Path(name)
        recogniser = MultilingualRecogniser(folder, ALIGNER, notes)
    heard = []
    for care in cares:
        for number, recording in enumerate(known_recordings()):
            heard.append(gather(number, recording, care, notes, recogniser))
            print(f"\r{care.value} {number}", end="", flush=True)
    print()
    for care in cares:
        own = [h for h in heard if h.care is care]
        right = np.concatenate([h.right for h in own])
        now = [logistic(h.with_sound(np.array(search_now)) @ SOUND) for h in own]
        report(f"as it is, {care.value}", np.concatenate(now), right)
    for care in cares:
        for name, left_out in (("all", ()), ("without noise and clipping", ("noise", "clipped"))):
            steps: list[list[Table]] = [[], [], []]
            for part in (0, 1):
                weights = fitted([h for h in heard if h.number % 2 == part])
                for h in heard:
                    if h.number % 2 != part and h.care is care and h.condition not in left_out:
                        steps[0].append(h.right)
                        steps[1].append(logistic(h.search @ weights[0]))
                        steps[2].append(logistic(h.with_sound(weights[0]) @ weights[1]))
            right, search, sound = map(np.concatenate, steps)
            report(f"held out, {care.value}, {name}, search alone", search, right)
            report(f"held out, {care.value}, {name}, with the sound", sound, right)
    search, sound = fitted(heard)
    for names, weights in (
        (confidence.SEARCH_NAMES, search),
        (confidence.SOUND_NAMES, sound),
    ):
        print("   ", ", ".join(f"{w:.3f} {n}" for n, w in zip(names, weights, strict=True)))


if __name__ == "__main__":
    main()

"""Measure how many speakers are found, and whose the time is, in conversations of people.

    .venv/bin/python benchmarks/voices.py FOLDER [--fit]

FOLDER holds lines that people said in dialogues, one in each file, named
``DIALOGUE-SPEAKER-NUMBER.wav`` in their order. Dialogues of two people are put together with pauses
of -0.3 (both speak) to 1 s, in clean sound, as over a telephone, in a room and in noise; also each
person alone, and three and four from several dialogues. Printed: how many were counted, how many of
them right, the share of time that is given to the wrong speaker, and the same with the number
given.

With ``--fit`` what decides is fitted on them, in five parts by dialogue, and tried on the part that
was left out: the space of the encoder, which goes to ``voice_space.npz``, and the weights, which
are printed and belong in ``clustering.py``.
"""

from __future__ import annotations

import argparse
import sys
import wave
from collections import Counter, defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import linear_sum_assignment, minimize

HERE = Path(__file__).parent
sys.path[:0] = [str(HERE.parent), str(HERE)]

from evaluation_set import spoilt  # noqa: E402
from tamarind.speech.cores import on_one_core_each  # noqa: E402
from tamarind.speech.diarisation import clustering  # noqa: E402
from tamarind.speech.diarisation import encoder as encoding  # noqa: E402
from tamarind.speech.diarisation.evidence import STEP_MS, evidence_of  # noqa: E402
from tamarind.speech.diarisation.windows import EmbeddedSpans, joined, points_of  # noqa: E402

Floats = NDArray[np.float32]
RATE = 16_000
CONDITIONS = ("clean", "telephone", "room", "noise")
MOST = 12
FOLDS = 5
ADDED = 0.5
"""So much of the mean variance is added to every direction's."""
LEAST_ALONE_S = 20
FEW_WEIGHTS = 1e-3


@dataclass(frozen=True)
class Talk:
    """A conversation: its points, and its turns (from, to, speaker)."""

    dialogues: tuple[str, ...]
    condition: str
    points: EmbeddedSpans
    turns: tuple[tuple[int, int, str], ...]

    @property
    def speakers(self) -> list[str]:
        return sorted({speaker for *_, speaker in self.turns})

    @property
    def owners(self) -> NDArray[np.int64]:
        """The speaker of each point, a place in ``speakers``; -1 where nobody's turn is."""
        owners = np.full(len(self.points), -1)
        for place, (start, end) in enumerate(self.points.spans):
            shared = [(min(end, b) - max(start, a), who) for a, b, who in self.turns]
            most, who = max(shared)
            if most > 0:
                owners[place] = self.speakers.index(who)
        return owners


def lines(folder: Path) -> dict[str, list[tuple[str, Floats]]]:
    """Yield the lines (speaker, sound) of each dialogue."""
    found: dict[str, list[tuple[str, Floats]]] = defaultdict(list)
    for path in sorted(
        folder.glob("*-*-*.wav"), key=lambda p: (p.stem.split("-")[0], p.stem.split("-")[2])
    ):
        dialogue, speaker, _number = path.stem.split("-")
        with wave.open(str(path)) as file:
            assert (file.getframerate(), file.getnchannels()) == (RATE, 1), path
            sound = np.frombuffer(file.readframes(file.getnframes()), "<i2") / 32768
        found[dialogue].append((f"{dialogue}{speaker}", sound.astype(np.float32)))
    return dict(found)


def talk(said: Sequence[tuple[str, Floats]], condition: str, rng: np.random.Generator) -> Talk:
    """Return lines one after the other, with this quality of sound."""
    at, before = RATE // 2, ""
    placed: list[tuple[int, Floats, str]] = []
    for speaker, sound in said:
        gap = rng.uniform(0.1, 0.6) if speaker == before else rng.uniform(-0.3, 1.0)
        at = max(at + int(gap * RATE), 0) if before else at
        placed.append((at, sound, speaker))
        at, before = at + len(sound), speaker
    whole = np.zeros(max(start + len(sound) for start, sound, _ in placed) + RATE // 2, np.float32)
    for start, sound, _speaker in placed:
        whole[start : start + len(sound)] += sound
    whole *= 0.08 / max(float(np.sqrt(np.mean(whole**2))), 1e-6)
    if condition != "clean":
        whole = spoilt(whole, condition, rng).astype(np.float32)
    points = joined([p for _share, p in points_of(whole, encoding.VoiceEncoder(), 2)])
    turns = tuple(
        (start * 1000 // RATE, (start + len(sound)) * 1000 // RATE, speaker)
        for start, sound, speaker in placed
    )
    dialogues = tuple(sorted({speaker[:-1] for *_, speaker in placed}))
    return Talk(dialogues, condition, points, turns)


def talks(known: dict[str, list[tuple[str, Floats]]]) -> Iterator[Talk]:
    """Yield conversations of two people, each of them alone, and of three and four."""
    rng = np.random.default_rng(5)
    for place, said in enumerate(known.values()):
        condition = CONDITIONS[place % len(CONDITIONS)]
        yield talk(said, condition, rng)
        for one in sorted({speaker for speaker, _ in said}):
            alone = [line for line in said if line[0] == one]
            if sum(len(sound) for _, sound in alone) > LEAST_ALONE_S * RATE:
                yield talk(alone, condition, rng)
    for people in (3, 4):
        for place in range(len(known) // 3):
            chosen = rng.choice(sorted(known), people - 1, replace=False).tolist()
            # Whoever speaks first in a dialogue may be the same person in all of them.
            queues = {
                speaker: [line for line in known[dialogue] if line[0] == speaker]
                for dialogue in chosen
                for speaker in sorted({s for s, _ in known[dialogue]})[dialogue != chosen[0] :]
            }
            said: list[tuple[str, Floats]] = []
            while all(queues.values()) and sum(len(s) for _, s in said) < 240 * RATE:
                speaker = str(rng.choice(list(queues)))
                for _line in range(min(int(rng.integers(1, 3)), len(queues[speaker]))):
                    said.append(queues[speaker].pop(0))
            yield talk(said, CONDITIONS[place % len(CONDITIONS)], rng)


def wrong_time(one: Talk, middles: Floats) -> float:
    """Return the share of the time given to the wrong speaker, with the best matching of voices."""
    end = max(until for _, until, _ in one.turns)
    weights = evidence_of(one.points, middles, 0, end).weights
    true = np.full(len(weights), -1)
    for start, until, speaker in one.turns:
        true[start // STEP_MS : until // STEP_MS] = one.speakers.index(speaker)
    heard = (true >= 0) & (weights.sum(axis=1) > 0)
    table = np.zeros((len(middles), len(one.speakers)))
    np.add.at(table, (weights.argmax(axis=1)[heard], true[heard]), 1)
    rows, columns = linear_sum_assignment(-table)
    return float(1 - table[rows, columns].sum() / max(heard.sum(), 1))


def report(title: str, all_talks: Sequence[Talk]) -> None:
    """Print counts and times, by number of speakers."""
    print(f"\n{title}\n| speak | talks | counted right | counted | told as a doubt | time wrong |"
          " with the number given |\n|---|---|---|---|---|---|---|")  # fmt: skip
    for people in sorted({len(one.speakers) for one in all_talks}):
        own = [one for one in all_talks if len(one.speakers) == people]
        found = [clustering.found_among(one.points, MOST) for one in own]
        counts = Counter(len(f.middles) for f in found)
        doubts = sum(f.perhaps == people for f in found if len(f.middles) != people)
        wrong = [wrong_time(one, f.middles) for one, f in zip(own, found, strict=True)]
        given = [wrong_time(one, clustering.voices_among(one.points, MOST, people)) for one in own]
        print(f"| {people} | {len(own)} | {counts[people] / len(own):.2f} |"
              f" {dict(sorted(counts.items()))} | {doubts} | {np.mean(wrong):.3f},"
              f" median {np.median(wrong):.3f} | {np.mean(given):.3f},"
              f" median {np.median(given):.3f} |")  # fmt: skip


def fitted_space(all_talks: Sequence[Talk]) -> tuple[Floats, Floats]:
    """Return the mean of the speakers' means, and the matrix that shrinks the variation within a
    speaker, from raw points of the network."""
    within = np.zeros((encoding.WIDTH, encoding.WIDTH))
    count, middles = 0, []
    for one in all_talks:
        owners = one.owners
        for place in range(len(one.speakers)):
            own = one.points.vectors[owners == place].astype(float)
            if len(own) >= clustering.LEAST_POINTS:
                middles.append(own.mean(axis=0))
                within += (own - middles[-1]).T @ (own - middles[-1])
                count += len(own)
    within /= count
    within = (1 - ADDED) * within + ADDED * np.trace(within) / len(within) * np.eye(len(within))
    values, directions = np.linalg.eigh(within)
    matrix = (directions / np.sqrt(values)) @ directions.T
    return np.mean(middles, axis=0).astype(np.float16), matrix.astype(np.float16)


def in_space(one: Talk, space: tuple[Floats, Floats]) -> Talk:
    """Return a conversation whose raw points are transformed by a space."""
    middle, matrix = (part.astype(np.float32) for part in space)
    vectors = encoding.unit((one.points.vectors - middle) @ matrix)
    return replace(one, points=EmbeddedSpans(vectors, one.points.spans))


def fitted_weights(all_talks: Sequence[Talk]) -> tuple[list[float], list[float]]:
    """Return weights for one voice or two, and for two of more clusters."""
    of_two: list[tuple[Sequence[float], bool]] = []
    of_pairs: list[tuple[Sequence[float], bool]] = []
    for one in all_talks:
        if len(one.speakers) <= 2:
            of_two += [
                (features, len(one.speakers) == 2) for features, _different in _pairs(one, 2)
            ][:1]
        count = clustering.count_of(one.points, MOST)
        if count > 2:
            of_pairs += _pairs(one, count)
    return _logistic(of_two), _logistic(of_pairs + of_two)


def _pairs(one: Talk, count: int) -> Iterator[tuple[Sequence[float], bool]]:
    """Return how far apart each two clusters are, and whether they are two people's."""
    middles = clustering.voices_among(one.points, MOST, count)
    labels, owners = (one.points.vectors @ middles.T).argmax(axis=1), one.owners
    for first in range(len(middles)):
        for second in range(first):
            sides = [owners[labels == place] for place in (first, second)]
            if min(map(len, sides)) < clustering.LEAST_OF_A_VOICE:
                continue
            (who, most), (other, fewer) = (
                Counter(side.tolist()).most_common(1)[0] for side in sides
            )
            pure = min(most / len(sides[0]), fewer / len(sides[1]))
            if who == other or pure > 0.75:
                yield (
                    clustering.features_of(one.points, labels, middles, first, second),
                    who != other,
                )


def _logistic(rows: Sequence[tuple[Sequence[float], bool]]) -> list[float]:
    x = np.array([[1.0, *features] for features, _ in rows])
    sign = np.array([1.0 if different else -1.0 for _, different in rows])
    scale = x.std(axis=0) + (x.std(axis=0) == 0)
    scale[0] = 1.0

    def loss(weights: NDArray[np.float64]) -> float:
        z = sign * (x / scale @ weights)
        return float(np.mean(np.logaddexp(0, -z)) + FEW_WEIGHTS * np.sum(weights[1:] ** 2))

    return [round(float(w), 3) for w in minimize(loss, np.zeros(x.shape[1])).x / scale]


def fit(all_talks: Sequence[Talk]) -> None:
    """Fit in parts by dialogue, test on what was left out, then fit on all."""
    dialogues = sorted({name for one in all_talks for name in one.dialogues})
    part = {name: place % FOLDS for place, name in enumerate(dialogues)}
    left_out: list[Talk] = []
    for fold in range(FOLDS):
        learnt = [one for one in all_talks if all(part[name] != fold for name in one.dialogues)]
        space = fitted_space(learnt)
        _use(*fitted_weights([in_space(one, space) for one in learnt]))
        tried = [in_space(one, space) for one in all_talks if part[one.dialogues[0]] == fold]
        report(f"Part {fold + 1}, left out", tried)
        left_out += tried
    space = fitted_space(all_talks)
    placed = [in_space(one, space) for one in all_talks]
    two, pairs = fitted_weights(placed)
    target = Path(encoding.__file__).with_name("voice_space.npz")
    np.savez(target, mean=space[0], matrix=space[1])
    print(f"\nTWO_WEIGHTS = {tuple(two)}\nPAIR_WEIGHTS = {tuple(pairs)}\nwritten: {target.name}")
    _use(two, pairs)
    report("All, fitted on the same", placed)


def _use(two: Sequence[float], pairs: Sequence[float]) -> None:
    vars(clustering).update(TWO_WEIGHTS=tuple(two), PAIR_WEIGHTS=tuple(pairs))


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", type=Path)
    parser.add_argument("--fit", action="store_true")
    options = parser.parse_args()
    on_one_core_each()
    if options.fit:
        encoding.VoiceEncoder.__call__ = encoding.VoiceEncoder.raw
    made = list(talks(lines(options.folder)))
    if options.fit:
        fit(made)
    else:
        report("As it is", made)


if __name__ == "__main__":
    main()

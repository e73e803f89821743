"""Measure how well paragraphs are found, against prose whose paragraphs are known; and learn the
weights.

Bodies of prose are folders of text files with blank lines between paragraphs, none of which are
part of the project (``docs/benchmarks.md`` says which were used, and where they come from). Each
text is read aloud in thought: words of 300 ms, and after every sentence a pause drawn from one of
four readers, who differ in how much longer they rest after a paragraph; one paragraph in five ends
with a pause like any other. Printed are Pk (Beeferman, Berger, Lafferty 1999) and WindowDiff
(Pevzner, Hearst 2002) over words, of what is found and of the rule that parts a text at pauses of
1.8 s, and the ratio of both Pk. ``--learn`` prints weights learnt from all folders alike.

    .venv/bin/python -m benchmarks.paragraphs [--learn] [--wish WORDS] FOLDER…
"""

from __future__ import annotations

import argparse
import random
import re
from collections.abc import Iterator
from pathlib import Path

import numpy as np
from scipy.optimize import minimize

from tamarind.captions.layout import PARAGRAPH_PAUSE_MS
from tamarind.language.paragraphing import (
    FEATURES,
    USUAL_WORDS,
    Paragraphing,
    features,
    sentences_of,
)
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.sentences import ends_sentence

TEXT_WORDS = 1_500
TEXTS = 40
CUE_WORDS = 14
WORD_MS, SENTENCE_MS, SPREAD, UNPAUSED = 300, 550, 0.35, 0.2
READERS = {"no longer": 550, "a little longer": 750, "longer": 1_050, "a rest": 2_000}

_BRACKETS = re.compile(r"\s*\[[^\]]*\]")

Paragraph = list[list[str]]
"""Its sentences, each its words."""


def texts_of(folder: Path) -> list[list[Paragraph]]:
    """Yield texts of about so many words, in paragraphs; always the same ones."""
    found = []
    for path in sorted(folder.glob("*.txt")):
        whole = path.read_text(encoding="utf-8", errors="replace")
        text: list[Paragraph] = []
        for block in re.split(r"\n\s*\n", whole):
            words = _BRACKETS.sub(" ", block).split()
            if len(words) >= 5 and ends_sentence(words[-1]):
                text.append(list(_sentences(words)))
            if sum(len(s) for p in text for s in p) >= TEXT_WORDS:
                found.append(text)
                text = []
    random.Random(1).shuffle(found)
    return [text for text in found if len(text) >= 4][:TEXTS]


def _sentences(words: list[str]) -> Iterator[list[str]]:
    sentence: list[str] = []
    for word in words:
        sentence.append(word)
        if ends_sentence(word):
            yield sentence
            sentence = []
    if sentence:
        yield sentence


def read_aloud(text: list[Paragraph], rest: int, chance: np.random.Generator) -> Transcript:
    """Return the text with times, in cues; the true paragraphs are those that its cues open."""
    cues: list[Cue] = []
    at = 0
    for paragraph in text:
        for place, sentence in enumerate(paragraph):
            for first in range(0, len(sentence), CUE_WORDS):
                part = sentence[first : first + CUE_WORDS]
                words = tuple(
                    Word(word, at + n * WORD_MS, at + (n + 1) * WORD_MS, 1.0)
                    for n, word in enumerate(part)
                )
                opens = place == 0 and first == 0
                cues.append(Cue(len(cues) + 1, at, words[-1].end, words, None, opens))
                at = words[-1].end
            ends = place == len(paragraph) - 1 and chance.random() >= UNPAUSED
            pause = rest if ends else SENTENCE_MS
            at += round(pause * float(np.exp(SPREAD * chance.standard_normal())))
    return Transcript("en", tuple(cues))


def by_pauses(text: Transcript) -> list[bool]:
    """Return the paragraphs of a rule by pauses."""
    opens, end = [], -PARAGRAPH_PAUSE_MS
    for cue in text.cues:
        opens.append(cue.start - end >= PARAGRAPH_PAUSE_MS)
        end = cue.end
    return opens


def errors(text: Transcript, opens: list[bool]) -> tuple[float, float]:
    """Return Pk and WindowDiff over words, with half a paragraph as the window."""
    sizes = [len(cue.words) for cue in text.cues]
    true = np.repeat(np.cumsum([cue.opens_paragraph for cue in text.cues]), sizes)
    found = np.repeat(np.cumsum(opens), sizes)
    window = max(round(len(true) / int(true[-1]) / 2), 2)
    true, found = true[window:] - true[:-window], found[window:] - found[:-window]
    return float(np.mean((true == 0) != (found == 0))), float(np.mean(true != found))


def learnt(bodies: dict[str, list[list[Paragraph]]]) -> np.ndarray:
    """Return weights by logistic regression, every folder counting alike."""
    rows, borders, counts = [], [], []
    for texts in bodies.values():
        own = []
        for text in texts:
            spoken = read_aloud(text, SENTENCE_MS, np.random.default_rng(1))
            cues = spoken.cues
            found = sentences_of(cues, np.zeros(len(cues), bool))
            own.append((features(found, "en"), [cues[s.first].opens_paragraph for s in found[1:]]))
        rows += [row for row, _ in own]
        borders += [border for _, border in own]
        counts += [1 / sum(len(border) for _, border in own)] * sum(len(b) for _, b in own)
    x = np.column_stack([np.ones(len(counts)), np.concatenate(rows)])
    y, share = np.concatenate(borders).astype(float), np.array(counts)

    def loss(weights: np.ndarray) -> tuple[float, np.ndarray]:
        sums = x @ weights
        value = float(share @ (np.logaddexp(0, sums) - y * sums)) + 1e-4 * float(weights @ weights)
        return value, x.T @ (share * (1 / (1 + np.exp(-sums)) - y)) + 2e-4 * weights

    return np.asarray(minimize(loss, np.zeros(x.shape[1]), jac=True).x)


def main() -> None:
    """Print the figures, or the weights."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folders", nargs="+", type=Path)
    parser.add_argument("--learn", action="store_true")
    parser.add_argument("--wish", type=int, default=USUAL_WORDS)
    asked = parser.parse_args()
    bodies = {folder.name: texts_of(folder) for folder in asked.folders}
    if asked.learn:
        for name, weight in zip(("(none)", *FEATURES), learnt(bodies), strict=True):
            print(f"{name:14s} {weight:+.2f}")
        return
    print("reader           prose       paragraphs  pauses: Pk  WD     found: Pk  WD     ratio")
    for reader, rest in READERS.items():
        for name, texts in bodies.items():
            chance = np.random.default_rng(5)
            figures, counts = [], []
            for text in texts:
                spoken = read_aloud(text, rest, chance)
                parted = Paragraphing(spoken).parted(asked.wish)
                opens = [cue.opens_paragraph for cue in parted.cues]
                figures.append((*errors(spoken, by_pauses(spoken)), *errors(spoken, opens)))
                counts.append(sum(opens) / len(text))
            rule, rule_wd, ours, ours_wd = np.mean(figures, axis=0)
            print(
                f"{reader:16s} {name:12s} {np.mean(counts):5.2f} of true"
                f"   {rule:.3f}  {rule_wd:.3f}       {ours:.3f}  {ours_wd:.3f}    {ours / rule:.2f}"
            )


if __name__ == "__main__":
    main()

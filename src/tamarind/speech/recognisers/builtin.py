"""The built-in recogniser: the English model inside the moonshine-voice package, decoded by us."""

from __future__ import annotations

import importlib.util
import math
import os
from collections.abc import Callable, Sequence
from pathlib import Path

import numpy as np

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.speech.recognisers.base import HeardWord, Reading, RecogniserError
from tamarind.speech.recognisers.network import SpeechNetwork
from tamarind.speech.recognisers.tokens import BEGIN, END, Vocabulary
from tamarind.speech.search import Hypothesis, greedy

BATCH = 8
TOKENS_A_SECOND = 9
"""No one speaks faster than this; a text that goes on beyond it is a loop."""

_SHORTEST = SAMPLE_RATE // 4


def model_folder() -> Path:
    """Where the installed package keeps its model.

    Raises RecogniserError when the package is missing or carries none.
    """
    spec = importlib.util.find_spec("moonshine_voice")
    if spec is None or spec.origin is None:
        raise RecogniserError("The built-in recogniser is not installed; run scripts/start again.")
    folder = Path(spec.origin).parent / "assets" / "tiny-en"
    if not (folder / "encoder_model.ort").is_file():
        raise RecogniserError(
            "The installed moonshine-voice package carries no model; version 0.1.0 does."
        )
    return folder


class BuiltinRecogniser:
    """English, offline, on the processor; load once and hear many chunks."""

    languages: tuple[str, ...] = ("en",)

    def __init__(self, threads: int | None = None) -> None:
        folder = model_folder()
        self._network = SpeechNetwork(folder, threads or os.cpu_count() or 1)
        self._vocabulary = Vocabulary(folder / "tokenizer.bin")

    def hear(
        self,
        chunks: Sequence[Samples],
        language: str,
        on_step: Callable[[], None] = lambda: None,
    ) -> list[list[Reading]]:
        """Batches of alike length, so that little is padded; results in the order given."""
        if language.split("-")[0] not in self.languages:
            raise RecogniserError(f"The built-in recogniser hears English only, not “{language}”.")
        results: list[list[Reading]] = [[] for _ in chunks]
        by_length = sorted(range(len(chunks)), key=lambda index: len(chunks[index]))
        for start in range(0, len(by_length), BATCH):
            batch = by_length[start : start + BATCH]
            sound = [_long_enough(chunks[index]) for index in batch]
            limits = np.array(
                [math.ceil(len(chunk) / SAMPLE_RATE * TOKENS_A_SECOND) for chunk in sound]
            )
            texts = greedy(self._network.begin(sound), limits, BEGIN, END, on_step)
            for index, text in zip(batch, texts, strict=True):
                results[index] = [self._reading(text)]
        return results

    def _reading(self, text: Hypothesis) -> Reading:
        words = []
        for word, places in self._vocabulary.words(text.tokens):
            words.append(HeardWord(word, self._certainty(text, places)))
        return Reading(tuple(words), sum(text.log_probabilities) + text.end_log_probability)

    def _certainty(self, text: Hypothesis, places: range) -> float:
        """The probability of a word's letters; a doubtful comma does not make a word doubtful."""
        letters = [
            text.log_probabilities[place]
            for place in places
            if any(chr(b).isalnum() or b >= 128 for b in self._vocabulary.piece(text.tokens[place]))
        ]
        return (
            math.exp(sum(letters))
            if letters
            else math.exp(sum(text.log_probabilities[place] for place in places))
        )


def _long_enough(chunk: Samples) -> Samples:
    """The chunk, filled up with silence to the quarter second that the encoder needs."""
    if len(chunk) >= _SHORTEST:
        return chunk
    return np.concatenate([chunk, np.zeros(_SHORTEST - len(chunk), np.float32)])

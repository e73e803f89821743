"""What tests share: folders of their own, made sound, human recordings, and simple texts."""

from __future__ import annotations

import importlib.util
import os
import sqlite3
import tempfile
import unittest
import wave
from pathlib import Path
from typing import Any
from unittest.mock import patch

import numpy as np

from tamarind.batch.pool import NICE
from tamarind.job.store import JobStore
from tamarind.transcript.model import Cue, Speaker, Transcript, Word
from tests.inprocess import in_this_process

DEMO = Path(__file__).parent.parent / "demo"


class FolderTest(unittest.TestCase):
    """Gives every test an empty folder, and a cache in it."""

    real_workers = False
    """Whether a pool's workers are processes; few tests need them to be."""

    def setUp(self) -> None:
        # Beside other tests workers that step back would wait for minutes.
        level = patch.dict("tamarind.batch.pool.NICE", dict.fromkeys(NICE, 0))
        level.start()
        self.addCleanup(level.stop)
        if not self.real_workers:
            within = patch("tamarind.batch.pool.spawned", in_this_process)
            within.start()
            self.addCleanup(within.stop)
        holder = tempfile.TemporaryDirectory(ignore_cleanup_errors=True)
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name)
        for name in ("XDG_CACHE_HOME", "XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME"):
            before = os.environ.get(name)
            os.environ[name] = str(self.folder / name)
            self.addCleanup(_put_back, name, before)


def _put_back(name: str, value: str | None) -> None:
    if value is None:
        os.environ.pop(name, None)
    else:
        os.environ[name] = value


def database(store: JobStore) -> sqlite3.Connection:
    """The connection of a store, for tests that take its room or break what is in it."""
    return store._db


def human_recording(name: str) -> Path:
    """A recording of people that ships inside the recogniser's package."""
    spec = importlib.util.find_spec("moonshine_voice")
    assert spec is not None and spec.origin is not None
    return Path(spec.origin).parent / "assets" / name


def write_wav(path: Path, sound: np.ndarray, rate: int = 16_000) -> Path:
    """Write float sound (samples,) or (samples, channels) as 16-bit WAV."""
    data = (np.clip(sound, -1, 1) * 32767).astype("<i2")
    with wave.open(str(path), "wb") as out:
        out.setnchannels(1 if data.ndim == 1 else data.shape[1])
        out.setsampwidth(2)
        out.setframerate(rate)
        out.writeframes(data.tobytes())
    return path


def tone(seconds: float, frequency: float = 220.0, rate: int = 16_000) -> np.ndarray:
    """A tone, which is sound but no speech."""
    return 0.3 * np.sin(2 * np.pi * frequency * np.arange(int(seconds * rate)) / rate)


def words_of(
    text: str, start: int = 0, each: int = 300, confidence: float | None = 0.95
) -> tuple[Word, ...]:
    """Words of equal length, one after the other."""
    return tuple(
        Word(token, start + place * each, start + (place + 1) * each, confidence)
        for place, token in enumerate(text.split())
    )


def cue(number: int, text: str, start: int, **more: Any) -> Cue:
    """A cue with words of 300 ms each."""
    words = words_of(text, start)
    end = words[-1].end if words else start + 1000
    return Cue(number, start, end, words, **more)


def moor() -> Transcript:
    """A small text with two speakers and one doubt."""
    first = cue(1, "What did the moor look like?", 1000, speaker=1, opens_paragraph=True)
    second = cue(2, "Dry. You could walk to the pines.", 4000, speaker=2, opens_paragraph=True)
    third = cue(3, "Every winter the water ran away.", 8000, speaker=2)
    doubtful = tuple(
        Word(w.text, w.start, w.end, 0.3 if w.text == "pines." else w.confidence)
        for w in second.words
    )
    second = Cue(2, second.start, second.end, doubtful, 2, True)
    return Transcript(
        "en", (first, second, third), (Speaker(1, "Interviewer"), Speaker(2, "Warden"))
    )


def word_error_rate(truth: str, heard: str) -> float:
    """Word edits between two texts over the words of the first, marks and capitals aside."""
    a, b = ([_bare(w) for w in text.split() if _bare(w)] for text in (truth, heard))
    row = list(range(len(b) + 1))
    for i, one in enumerate(a, 1):
        diagonal, row[0] = row[0], i
        for j, other in enumerate(b, 1):
            diagonal, row[j] = row[j], min(row[j] + 1, row[j - 1] + 1, diagonal + (one != other))
    return row[-1] / max(len(a), 1)


def _bare(word: str) -> str:
    return "".join(letter for letter in word.lower() if letter.isalnum())

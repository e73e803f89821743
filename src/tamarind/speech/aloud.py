"""Read texts aloud with the system's synthesiser, to know how long they take and how they sound.

It is a stand-in for a person: what it says is never more than a draft.
"""

from __future__ import annotations

import io
import subprocess
import wave
from functools import lru_cache

import av
import numpy as np

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.speech import espeak
from tamarind.transcript.languages import base_of

PATIENCE_S = 30
WORDS_A_MINUTE = 160
LONGEST = 10_000


def can_speak(language: str) -> bool:
    """Whether the system has a voice for a language."""
    return _voice(language) is not None


def aloud(text: str, language: str) -> Samples | None:
    """Return the speech as mono float32 at 16 kHz, without silence at its ends; None if there is no
    voice."""
    voice = _voice(language)
    where = espeak.program()
    if voice is None or where is None or not text.strip():
        return None
    return _spoken(where, voice, text[:LONGEST])


def length_of(text: str, language: str) -> int | None:
    """Return how long reading the text aloud takes (ms); None if there is no voice."""
    samples = aloud(text, language)
    return None if samples is None else round(1000 * len(samples) / SAMPLE_RATE)


@lru_cache(200)
def _spoken(where: str, voice: str, text: str) -> Samples | None:
    try:
        done = subprocess.run(
            [where, "-v", voice, "-s", str(WORDS_A_MINUTE), "--stdin", "--stdout"],
            input=text.encode(), capture_output=True, check=False, timeout=PATIENCE_S,
        )  # fmt: skip
        with wave.open(io.BytesIO(done.stdout)) as file:
            rate = file.getframerate()
            # The program does not know yet how long it will be as it writes the head of the file.
            data = np.frombuffer(done.stdout[file._file.tell() :], np.int16)
    except (OSError, EOFError, wave.Error, subprocess.SubprocessError):
        return None
    return _trimmed(_at_our_rate(data, rate))


def _at_our_rate(data: np.ndarray, rate: int) -> Samples:
    if not len(data):
        return np.zeros(0, np.float32)
    resampler = av.AudioResampler("fltp", "mono", SAMPLE_RATE)
    frame = av.AudioFrame.from_ndarray(
        np.ascontiguousarray(data[None]), format="s16", layout="mono"
    )
    frame.sample_rate = rate
    pieces = [*resampler.resample(frame), *resampler.resample(None)]
    return np.concatenate([np.asarray(piece.to_ndarray()[0], np.float32) for piece in pieces])


def _trimmed(samples: Samples) -> Samples:
    loud = np.flatnonzero(np.abs(samples) > 0.005)
    return samples[loud[0] : loud[-1] + 1] if len(loud) else samples[:0]


def _voice(language: str) -> str | None:
    """Return the synthesiser's name of the voice for a language tag."""
    known = espeak.voices() if espeak.program() else frozenset()
    for tag in (language.lower(), base_of(language)):
        if tag in known:
            return tag
        found = sorted(voice for voice in known if base_of(voice) == tag)
        if found:
            return found[0]
    return None

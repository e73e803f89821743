"""Recordings with known words, made on demand for measuring how well hearing works.

    .venv/bin/python benchmarks/evaluation_set.py

The people's recordings come from the recogniser's package. The rest is synthesised with Debian's
``flite``: three made-up subjects in four voices, each clean and as over the telephone, in noise at
10 dB, in a reverberant room, with music underneath, very quiet and clipped, about 54 minutes in
all; and an hour without any speech. True word times come from the synthesiser's own segments. All
of it is kept in ``benchmarks/.made``, which may be deleted at any time.
"""

from __future__ import annotations

import json
import re
import subprocess
import wave
from dataclasses import dataclass
from functools import cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from scipy import signal

Floats = NDArray[np.float32]

HERE = Path(__file__).parent
MADE = HERE / ".made"
RATE = 16_000
CONDITIONS = ("clean", "telephone", "noise", "room", "music", "faint", "clipped")
VOICES = ("awb", "rms", "slt", "kal16")
SUBJECTS = {"hydrology": 1, "memories": 2, "meeting": 4}
"""Each subject's text, and how many voices take turns in it."""

LINES_A_TURN = 3
LEVEL = 0.08
"""Root mean square of the speech, full scale being 1."""

NOISE_BELOW_DB = 10


@dataclass(frozen=True, slots=True)
class TrueWord:
    """A word that was said; times in ms, None where the synthesiser's segments did not match."""

    text: str
    start: int | None
    end: int | None
    voice: str


@dataclass(frozen=True, slots=True)
class Made:
    """A recording of the set and its truth."""

    name: str
    condition: str
    path: Path
    words: tuple[TrueWord, ...]
    turns: tuple[tuple[int, int, str], ...]

    @property
    def text(self) -> str:
        """All that is said in it."""
        return " ".join(word.text for word in self.words)


def glossary_file() -> Path:
    """The names and terms that occur in the texts."""
    return HERE / "texts" / "glossary.txt"


def evaluation_set() -> list[Made]:
    """Return all synthesised recordings, made now unless they exist."""
    made = []
    for number, condition in enumerate(CONDITIONS):
        for subject, voices in SUBJECTS.items():
            name = f"{subject}-{condition}"
            path = MADE / f"{name}.wav"
            if not path.with_suffix(".json").exists():
                chosen = [VOICES[(number + voice) % len(VOICES)] for voice in range(voices)]
                _make(path, subject, chosen, condition, seed=number)
            truth = json.loads(path.with_suffix(".json").read_text())
            words = tuple(TrueWord(*word) for word in truth["words"])
            turns = tuple((a, b, voice) for a, b, voice in truth["turns"])
            made.append(Made(name, condition, path, words, turns))
    return made


def nothing_said() -> list[Path]:
    """Write an hour without speech: noise, wind, hum, music, clicks and near silence, 10 minutes
    each."""
    paths = []
    for name in ("noise", "wind", "hum", "music", "clicks", "quiet"):
        path = MADE / f"nothing-{name}.wav"
        if not path.exists():
            rng = np.random.default_rng(len(name))
            length = 600 * RATE
            t = np.arange(length) / RATE
            faint = 0.0005 * rng.standard_normal(length)
            if name == "noise":
                sound = 0.05 * _coloured(length, rng, 0.5)
            elif name == "wind":
                gusts = np.interp(t, np.arange(0, 602, 2), rng.uniform(0.1, 1, 301))
                sound = 0.1 * gusts * _coloured(length, rng, 1.2)
            elif name == "hum":
                sound = sum(0.04 / k * np.sin(2 * np.pi * 50 * k * t) for k in (1, 2, 3, 5, 7))
            elif name == "music":
                sound = 0.1 * _music(length, rng)
            elif name == "clicks":
                sound = np.zeros(length)
                for at in rng.integers(0, length - 4000, 900):
                    size = int(rng.integers(200, 4000))
                    decay = np.exp(-np.arange(size) / (size / 5))
                    sound[at : at + size] += (
                        rng.uniform(0.05, 0.5) * rng.standard_normal(size) * decay
                    )
            else:
                sound = np.zeros(length)
            _write(path, np.asarray(sound + faint, np.float32))
        paths.append(path)
    return paths


def _make(path: Path, subject: str, voices: list[str], condition: str, seed: int) -> None:
    """Speak a subject's lines, degrade the sound as the condition says, and write both."""
    rng = np.random.default_rng(seed)
    parts = [np.zeros(RATE // 2, np.float32)]
    words: list[tuple[str, int | None, int | None, str]] = []
    turns: list[tuple[int, int, str]] = []
    position = RATE // 2
    lines = (HERE / "texts" / f"{subject}.txt").read_text().splitlines()
    for number, line in enumerate(lines):
        voice = voices[number // LINES_A_TURN % len(voices)]
        sound, times = _speak(line, voice)
        start = position * 1000 // RATE
        for word, time in zip(line.split(), times, strict=True):
            known = (None, None) if time is None else (start + time[0], start + time[1])
            words.append((word, *known, voice))
        pause = int(rng.uniform(0.15, 0.9) * RATE)
        parts += [sound, np.zeros(pause, np.float32)]
        turns.append((start, start + len(sound) * 1000 // RATE, voice))
        position += len(sound) + pause
    speech = np.concatenate(parts)
    path.parent.mkdir(exist_ok=True)
    _write(path, spoilt(speech, condition, rng))
    path.with_suffix(".json").write_text(json.dumps({"words": words, "turns": turns}))


def _speak(line: str, voice: str) -> tuple[Floats, list[tuple[int, int] | None]]:
    """Return a line as sound at one level, and each word's (start, end) in ms."""
    path = MADE / "line.wav"
    printed = _flite(voice, line, "-psdur", path)
    with wave.open(str(path)) as file:
        rate = file.getframerate()
        sound = np.frombuffer(file.readframes(file.getnframes()), np.int16) / np.float32(32768)
    path.unlink()
    if rate != RATE:
        sound = signal.resample_poly(sound, RATE, rate)
    loudness = np.sqrt(np.mean(sound[np.abs(sound) > 0.01] ** 2))
    segments = [(name, float(end)) for name, end in (s.split(":") for s in printed.split())]
    return np.asarray(sound * (LEVEL / loudness), np.float32), _word_times(line, voice, segments)


def _word_times(
    line: str, voice: str, segments: list[tuple[str, float]]
) -> list[tuple[int, int] | None]:
    """Assign sounded segments to words, if their numbers agree with the words spoken alone."""
    sounded = [
        (before, end)
        for (name, end), (_, before) in zip(segments, [("", 0.0), *segments], strict=False)
        if name != "pau"
    ]
    counts = [_phones(word.strip(".,?!"), voice) for word in line.split()]
    if sum(counts) != len(sounded):
        return [None] * len(counts)
    times: list[tuple[int, int] | None] = []
    place = 0
    for count in counts:
        own = sounded[place : place + count]
        times.append((round(own[0][0] * 1000), round(own[-1][1] * 1000)) if own else None)
        place += count
    return times


@cache
def _phones(word: str, voice: str) -> int:
    """Count the sounds of a word spoken alone."""
    printed = _flite(voice, word, "-ps", Path("/dev/null"))
    return sum(name != "pau" for name in printed.split())


def _flite(voice: str, text: str, option: str, out: Path) -> str:
    MADE.mkdir(exist_ok=True)
    command = ["flite", "-voice", voice, option, "-t", text, "-o", str(out)]
    return subprocess.run(command, check=True, capture_output=True, text=True).stdout


def spoilt(speech: Floats, condition: str, rng: np.random.Generator) -> Floats:
    length = len(speech)
    below = LEVEL * 10 ** (-NOISE_BELOW_DB / 20)
    if condition == "telephone":
        band = signal.butter(6, (300, 3400), "bandpass", fs=RATE, output="sos")
        narrow = signal.resample_poly(signal.sosfilt(band, speech), 1, 2)
        coded = np.round(np.sign(narrow) * np.log1p(255 * np.abs(narrow)) / np.log(256) * 127) / 127
        heard = np.sign(coded) * (np.power(256, np.abs(coded)) - 1) / 255
        speech = np.asarray(signal.resample_poly(heard, 2, 1)[:length], np.float32)
        return speech + 0.0005 * rng.standard_normal(length).astype(np.float32)
    if condition == "noise":
        return speech + np.float32(below) * _coloured(length, rng, 0.5)
    if condition == "room":
        tail = np.arange(int(0.5 * RATE)) / RATE
        echo = rng.standard_normal(len(tail)) * np.exp(-tail * 6.9 / 0.5)
        echo *= 0.6 / np.sqrt(np.sum(echo**2))
        echo[0] = 1.0
        return np.asarray(signal.fftconvolve(speech, echo)[:length], np.float32)
    if condition == "music":
        return speech + np.float32(below) * _music(length, rng)
    hiss = 0.0003 * rng.standard_normal(length).astype(np.float32)
    if condition == "faint":
        return speech / 60 + hiss / 4
    if condition == "clipped":
        return np.clip(8 * speech, -0.5, 0.5) + hiss
    return speech + hiss


def _coloured(length: int, rng: np.random.Generator, slope: float) -> Floats:
    """Return noise whose amplitude falls with frequency to the power ``slope``, level 1."""
    spectrum = np.fft.rfft(rng.standard_normal(length))
    spectrum /= np.maximum(np.arange(len(spectrum)) / length * RATE, 40) ** slope
    noise = np.fft.irfft(spectrum, length)
    return np.asarray(noise / np.sqrt(np.mean(noise**2)), np.float32)


def _music(length: int, rng: np.random.Generator) -> Floats:
    """Return broken chords, a bass and a soft beat, level 1."""
    sound = np.zeros(length + RATE, np.float32)
    beat = RATE * 2 // 5
    chords = ((0, 4, 7), (-3, 0, 4), (5, 9, 12), (7, 11, 14))
    for number, at in enumerate(range(0, length, beat)):
        chord = chords[number // 8 % len(chords)]
        notes = [chord[number % 3] + 12 * int(rng.integers(0, 2)), chord[0] - 24]
        t = np.arange(beat * 2) / RATE
        for note in notes:
            pitch = 261.6 * 2 ** (note / 12)
            for overtone in range(1, 6):
                tone = np.sin(2 * np.pi * pitch * overtone * t) / overtone**1.5
                sound[at : at + beat * 2] += (tone * np.exp(-3 * t))[: length + RATE - at]
        hit = rng.standard_normal(2000) * np.exp(-np.arange(2000) / 300)
        sound[at : at + 2000] += (0.4 * hit)[: length + RATE - at]
    sound = sound[:length]
    return np.asarray(sound / np.sqrt(np.mean(sound**2)), np.float32)


def _write(path: Path, sound: Floats) -> None:
    path.parent.mkdir(exist_ok=True)
    with wave.open(str(path), "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(RATE)
        file.writeframes((np.clip(sound, -1, 1) * 32767).astype("<i2").tobytes())


def main() -> None:
    """Make everything and print how much there is."""
    made = evaluation_set()
    timed = sum(word.start is not None for recording in made for word in recording.words)
    words = sum(len(re.findall(r"\S+", recording.text)) for recording in made)
    minutes = sum(recording.turns[-1][1] for recording in made) / 60_000
    print(f"{len(made)} recordings, {minutes:.0f} min, {words} words, {timed} with true times")
    print(f"{len(nothing_said())} recordings without speech in {MADE}")


if __name__ == "__main__":
    main()

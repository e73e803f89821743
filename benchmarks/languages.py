"""Measure accuracy and speed in other languages, beside the model's usual library.

    .venv/bin/python benchmarks/languages.py FOLDER LANGUAGE [quick|thorough ...]

FOLDER holds Debian's packages ``asterisk-core-sounds-LANGUAGE`` and ``…-wav``, unpacked with
``dpkg-deb -x``: prompts that a person read, with their texts. Those of four words and more are put
one behind the other, with pauses of half a second to a second between them. Ours is the whole
command from the file to captions; the library hears the same sound with the same model in batches,
which gives text without times of words, readings or certainties that hold.
"""

from __future__ import annotations

import gzip
import json
import math
import re
import subprocess
import sys
import tempfile
import time
import wave
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from scipy.signal import resample_poly

HERE = Path(__file__).parent
sys.path[:0] = [str(HERE.parent), str(HERE)]

from truth import word_errors  # noqa: E402

RATE = 16_000
LEAD_S = 0.15
"""Pauses are longer, so that no word of a prompt lies so long before its sound."""
NOT_SPEECH = re.compile(r"[\[(<]")


@dataclass(frozen=True, slots=True)
class Prompt:
    """What is said from a sample on; ``onset`` is where its sound begins."""

    text: str
    onset: int


def prompts(folder: Path, language: str) -> tuple[np.ndarray, list[Prompt]]:
    """Return everything read as one sound of mono float32, and what is said in it."""
    (listed,) = folder.rglob(f"core-sounds-{language}.txt.gz")
    chance = np.random.default_rng(5)
    parts: list[np.ndarray] = []
    said: list[Prompt] = []
    at = 0
    with gzip.open(listed, "rt", encoding="utf-8") as lines:
        texts = dict(m.groups() for line in lines if (m := re.match(r"([\w.-]+):\s*(.*)", line)))
    (voice,) = (path for path in folder.rglob(f"{language}_*") if path.is_dir())
    for name, text in sorted(texts.items()):
        path = voice / f"{name}.wav"
        if NOT_SPEECH.search(text) or len(text.split()) < 4 or not path.is_file():
            continue
        with wave.open(str(path)) as file:
            narrow = np.frombuffer(file.readframes(file.getnframes()), "<i2") / 32768
        sound = resample_poly(narrow, RATE // 8_000, 1).astype(np.float32)
        pause = np.zeros(int(RATE * chance.uniform(0.5, 1.1)), np.float32)
        steps = sound[: len(sound) // 160 * 160].reshape(-1, 160)
        level = np.sqrt(np.square(steps).mean(axis=1))
        said.append(
            Prompt(text, at + len(pause) + int(np.argmax(level > 0.03 * level.max())) * 160)
        )
        parts += [pause, sound]
        at += len(pause) + len(sound)
    whole = np.concatenate(parts)
    return np.float32(0.7) * whole / np.abs(whole).max(), said


def ours(path: Path, language: str, care: str) -> tuple[list[dict[str, float | str]], float]:
    """Return the words of the whole command, and its seconds."""
    with tempfile.TemporaryDirectory() as folder:
        command = [sys.executable, "-m", "tamarind", "transcribe", str(path), "-o", folder]
        command += ["--language", language, "--quality", care, "--format", "json"]
        began = time.monotonic()
        subprocess.run(command, check=True, stderr=subprocess.DEVNULL)
        seconds = time.monotonic() - began
        data = json.loads((Path(folder) / f"{path.stem}.json").read_text())
    return [word for cue in data["cues"] for word in cue["words"]], seconds


def theirs(path: Path, language: str) -> tuple[str, float]:
    """Return the text of the library's own batched way, and its seconds once loaded."""
    from faster_whisper import BatchedInferencePipeline, WhisperModel

    from tamarind.speech.recognisers.multilingual import carried

    model = WhisperModel(str(carried.folder()), device="cpu", compute_type="int8")
    began = time.monotonic()
    pieces, _ = BatchedInferencePipeline(model).transcribe(
        str(path), language=language, batch_size=16
    )
    text = " ".join(piece.text for piece in pieces)
    return text, time.monotonic() - began


def onsets(said: list[Prompt], words: list[dict[str, float | str]]) -> np.ndarray:
    """Return how far off the first words of prompts are, in ms; infinite for one without words.

    A prompt's words are those whose middle lies in it.
    """
    middles = np.array([(float(word["start"]) + float(word["end"])) / 2 for word in words])
    borders = [prompt.onset / RATE - LEAD_S for prompt in said]
    errors = []
    for prompt, first, last in zip(said, borders, [*borders[1:], math.inf], strict=True):
        own = np.flatnonzero((middles >= first) & (middles < last))
        starts = [float(words[place]["start"]) for place in own[:1]]
        errors.append(1000 * abs(starts[0] - prompt.onset / RATE) if starts else math.inf)
    return np.array(errors)


def main() -> None:
    """Print a line for each way."""
    folder, language = Path(sys.argv[1]), sys.argv[2]
    sound, said = prompts(folder, language)
    truth, seconds = " ".join(prompt.text for prompt in said), len(sound) / RATE
    with tempfile.TemporaryDirectory() as place:
        path = Path(place) / f"{language}.wav"
        with wave.open(str(path), "wb") as file:
            file.setparams((1, 2, RATE, 0, "NONE", ""))
            file.writeframes((sound * 32767).astype("<i2").tobytes())
        print(f"{language}: {len(said)} prompts, {seconds / 60:.1f} min")
        text, took = theirs(path, language)
        wrong, count = word_errors(truth, text)
        print(f"library   errors {wrong / count:6.1%}  {seconds / took:5.1f}×")
        for care in sys.argv[3:] or ["quick"]:
            words, own = ours(path, language, care)
            wrong, count = word_errors(truth, " ".join(str(word["text"]) for word in words))
            off = onsets(said, words)
            print(f"{care:9} errors {wrong / count:6.1%}  {seconds / own:5.1f}×", end="  ")
            print(f"ratio {took / own:.2f}; starts: median {np.median(off):.0f} ms,", end=" ")
            print(f"within 100 ms {np.mean(off <= 100):.3f} of {len(off)}", flush=True)


if __name__ == "__main__":
    main()

"""Make the quiet sound that tells that a batch is done: two soft strokes on wood, a fourth apart.

.venv/bin/python demo/make_sounds.py
"""

from __future__ import annotations

import wave
from pathlib import Path

import numpy as np

RATE = 22_050
TARGET = (
    Path(__file__).parent.parent / "src" / "tamarind" / "desktop" / "theme" / "sounds" / "done.wav"
)


def stroke(frequency: float, seconds: float) -> np.ndarray:
    """A struck bar: its ground tone and two of its higher ones, which die away sooner."""
    time = np.arange(int(seconds * RATE)) / RATE
    sound = np.zeros_like(time)
    for ratio, loud, dying in ((1.0, 1.0, 7.0), (3.9, 0.25, 18.0), (9.2, 0.08, 40.0)):
        sound += loud * np.sin(2 * np.pi * frequency * ratio * time) * np.exp(-dying * time)
    return sound * np.minimum(time / 0.004, 1.0)


def main() -> None:
    """Write the file."""
    sound = np.zeros(int(0.95 * RATE))
    for start, frequency in ((0.0, 392.0), (0.16, 523.25)):
        one = stroke(frequency, 0.75)
        first = int(start * RATE)
        sound[first : first + len(one)] += one
    data = (sound / np.abs(sound).max() * 0.5 * 32767).astype("<i2")
    TARGET.parent.mkdir(exist_ok=True)
    with wave.open(str(TARGET), "wb") as out:
        out.setnchannels(1)
        out.setsampwidth(2)
        out.setframerate(RATE)
        out.writeframes(data.tobytes())


if __name__ == "__main__":
    main()

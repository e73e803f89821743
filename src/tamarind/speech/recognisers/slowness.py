"""Measure how much slower than the built-in recogniser a model is on this machine, once."""

from __future__ import annotations

import json
import time
from pathlib import Path

from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.system.files import write_whole
from tamarind.system.folders import data_home

SOUND = "two_cities.wav"
"""A reading of three quarters of a minute that comes with the built-in model."""


def measured(folder: Path) -> float | None:
    """Return the measurement of the model in a folder, or None."""
    return _kept().get(str(folder))


def measure(folder: Path) -> float:
    """Transcribe the same with both, and keep how many times as long the model in the folder takes.

    Raises RecogniserError when it cannot be used.
    """
    from tamarind.audio import soundcache
    from tamarind.speech.alignment import Aligner
    from tamarind.speech.cores import on_one_core_each
    from tamarind.speech.hearingoptions import BUILTIN, HearingOptions
    from tamarind.speech.recognisers.builtin import model_folder
    from tamarind.speech.recognisers.catalogue import load

    on_one_core_each()
    samples = soundcache.fetch(model_folder().parent / SOUND).samples()
    segments = [samples[at : at + 160_000] for at in range(0, len(samples) - 80_000, 160_000)]
    aligner = Aligner()

    def seconds(name: str) -> float:
        recogniser = load(name, aligner)
        recogniser.hear(segments[:1], HearingOptions())
        begun = time.monotonic()
        recogniser.hear(segments, HearingOptions())
        return time.monotonic() - begun

    factor = round(seconds(str(folder)) / seconds(BUILTIN), 1)
    try:
        file = _file()
        file.parent.mkdir(parents=True, exist_ok=True)
        write_whole(file, json.dumps({**_kept(), str(folder): factor}, indent=1).encode())
    except OSError as error:
        raise RecogniserError(f"What was measured cannot be kept: {error.strerror}.") from None
    return factor


def _file() -> Path:
    return data_home() / "models-slowness.json"


def _kept() -> dict[str, float]:
    try:
        data = json.loads(_file().read_text("utf-8"))
    except (OSError, ValueError):
        return {}
    return {
        path: float(factor)
        for path, factor in (data.items() if isinstance(data, dict) else ())
        if isinstance(factor, int | float) and factor > 0
    }

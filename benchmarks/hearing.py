"""How accurate and how fast hearing is, beside the recogniser package's own transcriber.

    .venv/bin/python benchmarks/hearing.py

Human recordings from the recogniser's package whose texts are public, and the demo's synthesised
ones against their scripts. Both programs hear the same sound in the same run. Speed is that of the
whole way from a file to cues, models loaded, as a multiple of real time.
"""

from __future__ import annotations

import os
import re
import sys
import tempfile
import time
from pathlib import Path

HERE = Path(__file__).parent
sys.path[:0] = [str(HERE.parent), str(HERE.parent / "demo")]

import numpy as np  # noqa: E402
from moonshine_voice.moonshine_api import ModelArch  # noqa: E402
from moonshine_voice.transcriber import Transcriber  # noqa: E402
from tests.speech.test_hearing import BECKETT, TWO_CITIES  # noqa: E402
from tests.support import human_recording, word_error_rate  # noqa: E402

from make_media import read_script  # noqa: E402
from tamarind.audio import soundcache  # noqa: E402
from tamarind.batch.messages import Hear, Heard  # noqa: E402
from tamarind.batch.work import do, tools  # noqa: E402
from tamarind.speech.activity import ActivityMeter  # noqa: E402
from tamarind.speech.chunks import cut  # noqa: E402
from tamarind.speech.hearing import FRAME  # noqa: E402
from tamarind.speech.howtohear import HowToHear  # noqa: E402
from tamarind.speech.recognisers.builtin import model_folder  # noqa: E402

DEMO = {
    "Warden interview.m4a": "warden-interview",
    "Water table lecture.mp4": "water-table-lecture",
    "Site memo, north drain.ogg": "north-drain-memo",
    "Volunteers round table.wav": "volunteers-round-table",
}


def material() -> list[tuple[Path, str]]:
    """Recordings with their true texts."""
    known = [(human_recording("two_cities.wav"), TWO_CITIES),
             (human_recording("beckett.wav"), BECKETT)]  # fmt: skip
    for name, script in DEMO.items():
        text = " ".join(turn.text for turn in read_script(script))
        known.append((HERE.parent / "demo" / "media" / name, text))
    return known


def ours(path: Path) -> tuple[str, float]:
    """What we hear, and the seconds it took from the file on."""
    began = time.perf_counter()
    cues = [
        c for e in do(Hear(1, path, HowToHear(), (0, None))) if isinstance(e, Heard) for c in e.cues
    ]
    return " ".join(cue.text for cue in cues), time.perf_counter() - began


def theirs(path: Path, transcriber: Transcriber) -> tuple[str, float]:
    """What the package's own transcriber hears, from decoded samples on."""
    samples = soundcache.fetch(path).samples()
    began = time.perf_counter()
    result = transcriber.transcribe_without_streaming(samples.tolist(), 16_000)
    text = " ".join(line.text for line in result.lines)
    return text, time.perf_counter() - began


def where_time_goes(path: Path) -> str:
    """Shares of the stages, on one recording."""
    samples = soundcache.fetch(path).samples()
    marks = [time.perf_counter()]
    activity = ActivityMeter().measure(samples)
    marks.append(time.perf_counter())
    sounds = [samples[c.first * FRAME : c.last * FRAME] for c in cut(activity)]
    marks.append(time.perf_counter())
    readings = tools().recogniser.hear(sounds, "en")
    marks.append(time.perf_counter())
    for sound, (best, *_rest) in zip(sounds, readings, strict=True):
        tools().aligner.align(sound, [w.text for w in best.words], [(0, len(sound) // 16)])
    marks.append(time.perf_counter())
    names = ("activity", "chunks", "recognition", "alignment")
    total = marks[-1] - marks[0]
    return ", ".join(
        f"{name} {(b - a) / total:.0%}" for name, a, b in zip(names, marks, marks[1:], strict=False)
    )


def cue_start_errors(path: Path) -> list[int]:
    """Cue starts less the onset of sound, in ms, for cues that begin after a pause of 200 ms.

    Sound is what lies within 25 dB of the recording's loud parts, measured every 10 ms.
    """
    samples = soundcache.fetch(path).samples()
    frames = samples[: len(samples) // 160 * 160].reshape(-1, 160)
    level = 10 * np.log10(np.mean(frames**2, axis=1) + 1e-12)
    loud = level > np.quantile(level, 0.95) - 25
    onsets = [t for t in range(20, len(loud)) if loud[t] and not loud[t - 20 : t].any()]
    errors = []
    for event in do(Hear(1, path, HowToHear(), (0, None))):
        for cue in event.cues if isinstance(event, Heard) else ():
            near = [t * 10 for t in onsets if abs(t * 10 - cue.words[0].start) <= 600]
            if near:
                nearest = min(near, key=lambda time: abs(time - cue.words[0].start))
                errors.append(cue.start - nearest)
    return errors


def plain(text: str) -> str:
    """Without the marks that join words, so that "twenty-three" is two words for both."""
    return re.sub(r"[-–—]", " ", text)


def main() -> None:
    """Print a row a recording, and the totals."""
    with tempfile.TemporaryDirectory() as folder:
        os.environ["XDG_CACHE_HOME"] = folder
        transcriber = Transcriber(str(model_folder()), ModelArch.TINY)
        ours(human_recording("beckett.wav"))
        theirs(human_recording("beckett.wav"), transcriber)
        print(
            f"{'recording':30} {'words':>5} {'our WER':>8} {'their WER':>9} "
            f"{'ours ×':>7} {'theirs ×':>8}"
        )
        sums = [0.0] * 6
        for path, truth in material():
            seconds = soundcache.fetch(path).decoded.duration / 1000
            truth = plain(truth)
            text, took = ours(path)
            other, other_took = theirs(path, transcriber)
            words = len(truth.split())
            wer, other_wer = (word_error_rate(truth, plain(t)) for t in (text, other))
            print(f"{path.name:30} {words:5} {wer:8.1%} {other_wer:9.1%} "
                  f"{seconds / took:7.1f} {seconds / other_took:8.1f}")  # fmt: skip
            for place, value in enumerate(
                (words, wer * words, other_wer * words, seconds, took, other_took)
            ):
                sums[place] += value
        words, wrong, other_wrong, seconds, took, other_took = sums
        print(f"{'all':30} {words:5.0f} {wrong / words:8.1%} {other_wrong / words:9.1%} "
              f"{seconds / took:7.1f} {seconds / other_took:8.1f}")  # fmt: skip
        print(f"word errors: {wrong / max(other_wrong, 1):.2f} of theirs; "
              f"speed: {other_took / took:.1f} times theirs")  # fmt: skip
        errors = [
            abs(error)
            for name in ("two_cities.wav", "beckett.wav", "endgame_nagg_nell.wav")
            for error in cue_start_errors(human_recording(name))
        ]
        print(f"{len(errors)} cue starts of people: median {np.median(errors):.0f} ms, "
              f"95 % {np.quantile(errors, 0.95):.0f} ms, worst {max(errors)} ms")  # fmt: skip
        print("where the time goes:", where_time_goes(human_recording("two_cities.wav")))


if __name__ == "__main__":
    main()

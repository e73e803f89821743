"""This tree beside an earlier revision, by turns in the same minutes: window, start and hearing.

    benchmarks/against REV [--times N] [--only window hearing]
    benchmarks/against REV --people FOLDER LANGUAGE [--care quick thorough double]

The revision is checked out beside this tree. Each runs its own ``benchmarks/window.py``, and hears
ten minutes of the demo's speech with Quick, N times (3) in turns. Of each figure that both have,
the best of each is printed with the ratio of this tree's to the other's. Ends with 1 if any is
above 1.1. Both have their Python compiled, as an installed program has.

With ``--people`` recordings of a person with their texts are heard (as for ``missing.py``, which
does the measuring): the ratios of the times, and of the words that are wrong.
"""

from __future__ import annotations

import argparse
import os
import re
import subprocess
import sys
import tempfile
import time
import wave
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path

import numpy as np

HERE = Path(__file__).parent
WORSE = 1.1
HEARD_S = 600
_FIGURE = re.compile(r"^(?P<what>\S.*?) +budget +[\d.]+ ms +measured +(?P<ms>[\d.]+) ms$")
_MEDIAN = re.compile(r"^ +median (?P<ms>[\d.]+) ms; (?P<rest>.*)$")
_TOLD = re.compile(r"(?P<seconds>\d+) s, (?P<wrong>[\d.]+) % of \d+ words wrong")


@contextmanager
def both_trees(revision: str) -> Iterator[dict[str, Path]]:
    """Yield the paths of this tree and of the revision's, by name."""
    with tempfile.TemporaryDirectory() as kept:
        before = Path(kept) / "before"
        subprocess.run(
            ["git", "worktree", "add", "--detach", str(before), revision],
            check=True, capture_output=True, cwd=HERE,
        )  # fmt: skip
        try:
            yield {"before": before, "now": HERE.parent}
        finally:
            subprocess.run(
                ["git", "worktree", "remove", "--force", str(before)], check=False, cwd=HERE
            )


def environment(tree: Path, kept: Path) -> dict[str, str]:
    """Return the environment for a tree's program and scripts; ``kept`` is a folder of its own."""
    known = {name: value for name, value in os.environ.items() if not name.startswith("XDG_")}
    known.pop("PYTHONDONTWRITEBYTECODE", None)
    return {
        **known,
        "PYTHONPATH": f"{tree / 'src'}{os.pathsep}{tree / 'benchmarks'}",
        "PYTHONPYCACHEPREFIX": str(kept / "compiled"),
        "XDG_CACHE_HOME": str(kept / "cache"),
        "XDG_DATA_HOME": str(kept / "data"),
        "XDG_CONFIG_HOME": str(kept / "config"),
        "XDG_STATE_HOME": str(kept / "state"),
        "QT_QPA_PLATFORM": "offscreen",
    }


def of_window(tree: Path, kept: Path) -> dict[str, float]:
    """Return the figures (ms) of a tree's own benchmark of the window, by name."""
    done = subprocess.run(
        [sys.executable, str(tree / "benchmarks" / "window.py")],
        capture_output=True, text=True, check=True, env=environment(tree, kept), cwd=tree,
    )  # fmt: skip
    figures: dict[str, float] = {}
    for line in done.stdout.splitlines():
        median = _MEDIAN.match(line)
        found = _FIGURE.match(median["rest"] if median else line)
        if found is None:
            continue
        figures[found["what"]] = float(found["ms"])
        if median:
            figures[f"{found['what'].replace(', 99th of 100', '')}, median"] = float(median["ms"])
    assert figures, done.stdout
    return figures


def of_hearing(tree: Path, kept: Path) -> dict[str, float]:
    """Measure how long a whole command takes to transcribe ten minutes with Quick (ms)."""
    sound = speech(kept.parent / "speech.wav")
    began = time.perf_counter()
    subprocess.run(
        [sys.executable, "-m", "tamarind", "transcribe", str(sound), "-o", str(kept / "texts"),
         "--language", "en", "--speakers", "off", "--jobs", "1", "--again"],
        capture_output=True, check=True, env=environment(tree, kept), cwd=kept,
    )  # fmt: skip
    return {f"hearing {HEARD_S // 60} min, Quick, voices off": 1000 * (time.perf_counter() - began)}


def speech(path: Path) -> Path:
    """Write the demo's English speech, repeated to the wanted length."""
    if not path.exists():
        sys.path.insert(0, str(HERE.parent / "src"))
        from tamarind.audio import soundcache

        media = HERE.parent / "demo" / "media"
        names = ("Warden interview.m4a", "Water table lecture.mp4", "Volunteers round table.wav")
        sounds = [np.asarray(soundcache.fetch(media / name).samples()) for name in names]
        once = np.concatenate(sounds)
        whole = np.resize(once, HEARD_S * 16_000)
        with wave.open(str(path), "wb") as out:
            out.setnchannels(1)
            out.setsampwidth(2)
            out.setframerate(16_000)
            out.writeframes((np.clip(whole, -1, 1) * 32767).astype("<i2").tobytes())
    return path


PARTS = {"window": of_window, "hearing": of_hearing}


def compare(told: Mapping[str, list[dict[str, float]]]) -> bool:
    """Print the best of each with the ratios; return whether none is too far above 1."""
    best = {
        name: {what: min(turn[what] for turn in turns if what in turn) for what in turns[0]}
        for name, turns in told.items()
    }
    fine = True
    print(f"{'':62} {'before':>9} {'now':>9}  ratio")
    for what, before in best["before"].items():
        if what in best["now"]:
            now = best["now"][what]
            ratio = now / before
            mark = "  <-- slower" if ratio > WORSE else ""
            fine = fine and ratio <= WORSE
            print(f"{what:62} {before:9.1f} {now:9.1f}   {ratio:.2f}{mark}")
    for what, now in best["now"].items():
        if what not in best["before"]:
            print(f"{what:62} {'':9} {now:9.1f}")
    return fine


def people_turn(
    tree: Path, kept: Path, folder: Path, language: str, care: str
) -> tuple[float, float]:
    """Return the word error rate in percent, and the seconds."""
    done = subprocess.run(
        [sys.executable, str(HERE / "missing.py"), str(folder), language, care],
        capture_output=True, text=True, check=True, env=environment(tree, kept),
    )  # fmt: skip
    found = _TOLD.search(done.stdout.replace("\n", " "))
    assert found is not None, done.stdout
    return float(found["wrong"]), float(found["seconds"])


def people(options: argparse.Namespace, trees: Mapping[str, Path], kept: Path) -> None:
    """Compare both on recordings of people, for each quality."""
    folder, language = Path(options.people[0]), options.people[1]
    for care in options.care:
        told: dict[str, list[tuple[float, float]]] = {name: [] for name in trees}
        for _time in range(options.times):
            for name, tree in trees.items():
                told[name].append(people_turn(tree, kept / name, folder, language, care))
                wrong, seconds = told[name][-1]
                print(
                    f"{care}, {name}: {wrong:.2f} % of the words wrong, {seconds:.0f} s", flush=True
                )
        best = {name: min(seconds for _, seconds in own) for name, own in told.items()}
        last = {name: own[-1][0] for name, own in told.items()}
        print(
            f"{care}: time {best['now'] / best['before']:.2f} of that before,"
            f" words wrong {last['now'] / max(last['before'], 0.01):.2f}"
        )


def main() -> int:
    """Measure, print, and return the exit status."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("revision")
    parser.add_argument("--times", type=int, default=3)
    parser.add_argument("--only", nargs="+", choices=tuple(PARTS), default=tuple(PARTS))
    parser.add_argument("--people", nargs=2, metavar=("FOLDER", "LANGUAGE"))
    parser.add_argument("--care", nargs="+", default=["quick", "thorough"])
    options = parser.parse_args()
    with tempfile.TemporaryDirectory() as folder, both_trees(options.revision) as trees:
        kept = Path(folder)
        for name in trees:
            (kept / name).mkdir()
        if options.people:
            people(options, trees, kept)
            return 0
        told: dict[str, list[dict[str, float]]] = {name: [] for name in trees}
        for turn in range(options.times):
            for name, tree in trees.items():
                figures: dict[str, float] = {}
                for part in options.only:
                    figures |= PARTS[part](tree, kept / name)
                told[name].append(figures)
                print(f"turn {turn + 1} of {options.times}, {name}: done", flush=True)
        return 0 if compare(told) else 1


if __name__ == "__main__":
    sys.exit(main())

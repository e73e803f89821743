"""This version and an earlier one, by turns in the same minutes: people reading, words and seconds.

    .venv/bin/python benchmarks/against.py COMMIT FOLDER LANGUAGE [--care quick thorough double]
        [--times N]

FOLDER holds recordings of a person with their texts, as for ``missing.py``, which does the
measuring; its sources and those of ``COMMIT`` are put in front of it one after the other, N times
(2). Printed are each turn, and the ratios of the best times and of the words that are wrong. What
the package's library takes for the same is printed by ``languages.py``.
"""

from __future__ import annotations

import argparse
import os
import re
import subprocess
import sys
import tempfile
from pathlib import Path

HERE = Path(__file__).parent
_TOLD = re.compile(r"(?P<seconds>\d+) s, (?P<wrong>[\d.]+) % of \d+ words wrong")


def turn(sources: Path, folder: Path, language: str, care: str, cache: Path) -> tuple[float, float]:
    """Words wrong, in a hundred, and seconds."""
    done = subprocess.run(
        [sys.executable, str(HERE / "missing.py"), str(folder), language, care],
        capture_output=True, text=True, check=True,
        env={**os.environ, "PYTHONPATH": str(sources), "XDG_CACHE_HOME": str(cache)},
    )  # fmt: skip
    found = _TOLD.search(done.stdout.replace("\n", " "))
    assert found is not None, done.stdout
    return float(found["wrong"]), float(found["seconds"])


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("commit")
    parser.add_argument("folder", type=Path)
    parser.add_argument("language")
    parser.add_argument("--care", nargs="+", default=["quick", "thorough"])
    parser.add_argument("--times", type=int, default=2)
    options = parser.parse_args()
    with tempfile.TemporaryDirectory() as kept:
        before = Path(kept) / "before"
        subprocess.run(
            ["git", "worktree", "add", "--detach", str(before), options.commit],
            check=True, capture_output=True, cwd=HERE,
        )  # fmt: skip
        versions = {"before": before / "src", "now": HERE.parent / "src"}
        try:
            for care in options.care:
                told: dict[str, list[tuple[float, float]]] = {name: [] for name in versions}
                for _time in range(options.times):
                    for name, sources in versions.items():
                        cache = Path(kept) / name
                        told[name].append(
                            turn(sources, options.folder, options.language, care, cache)
                        )
                        wrong, seconds = told[name][-1]
                        print(
                            f"{care}, {name}: {wrong:.2f} % of the words wrong, {seconds:.0f} s",
                            flush=True,
                        )
                best = {name: min(seconds for _, seconds in own) for name, own in told.items()}
                wrong = {name: own[-1][0] for name, own in told.items()}
                print(
                    f"{care}: time {best['now'] / best['before']:.2f} of that before,"
                    f" words wrong {wrong['now'] / max(wrong['before'], 0.01):.2f}"
                )
        finally:
            subprocess.run(
                ["git", "worktree", "remove", "--force", str(before)], check=False, cwd=HERE
            )


if __name__ == "__main__":
    main()

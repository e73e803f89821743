"""Find how many recordings to transcribe in parallel, by measuring this machine at work.

In the first batch that is long enough each number of workers is tried for a while, one after the
other so that they are tried under the same load, and the one that got most done is kept for some
weeks, in a file that may be deleted any time. More workers than there is memory for are not tried.
"""

from __future__ import annotations

import contextlib
import json
import time
from dataclasses import dataclass
from pathlib import Path

from tamarind.memory import memory_here
from tamarind.speech.cores import cores
from tamarind.system.folders import cache_home

ENOUGH_S = 30.0
"""Seconds of all workers' work after which a number of workers is known well enough."""

KEPT_S = 30 * 24 * 3600
WORTH_IT = 1.05
"""One more worker must get so much more done, for its memory."""

WORKER_BYTES = 1_000_000_000


@dataclass(slots=True)
class _Figure:
    work: float = 0.0
    seconds: float = 0.0


class Pace:
    """Takes measurements and says how many workers to run."""

    def __init__(self, most: int | None = None, file: Path | None = None) -> None:
        """``file`` keeps the result; ``most`` is found from cores and memory unless it is given."""
        self.most = most if most is not None else most_workers()
        self._file = file
        self._figures = {count: _Figure() for count in range(1, self.most + 1)}
        self._chosen = 1 if self.most == 1 else self._read()

    @classmethod
    def fixed(cls, count: int) -> Pace:
        """Make a pace that always wants this number."""
        pace = cls(count)
        pace._chosen = count
        return pace

    @property
    def wanted(self) -> int:
        """Return the best number, or the one to try now while that is not known."""
        if self._chosen is not None:
            return self._chosen
        return next(n for n, figure in self._figures.items() if figure.seconds < ENOUGH_S)

    def note(self, count: int, work: float, seconds: float) -> None:
        """Add a measurement: one of ``count`` busy workers has done so much work (loud seconds) in
        so many seconds."""
        figure = self._figures.get(count)
        if figure is None or seconds <= 0:
            return
        figure.work += work
        figure.seconds += seconds
        if self._chosen is None and all(f.seconds >= ENOUGH_S for f in self._figures.values()):
            rates = self.rates()
            best = 1
            for number, rate in rates.items():
                if rate > rates[best] * WORTH_IT:
                    best = number
            self._chosen = best
            self._write()

    def rates(self) -> dict[int, float]:
        """Return the loud seconds transcribed in a second by each number of workers, as far as
        measured."""
        return {n: f.work / f.seconds * n for n, f in self._figures.items() if f.seconds}

    def _read(self) -> int | None:
        """Read a result of this machine that is not too old."""
        if self._file is None:
            return None
        try:
            found = json.loads(self._file.read_text())
            fresh = 0 <= time.time() - float(found["at"]) < KEPT_S
            count = int(found["wanted"])
            usable = fresh and int(found["most"]) == self.most and 1 <= count <= self.most
            return count if usable else None
        except (OSError, ValueError, TypeError, KeyError):
            return None

    def _write(self) -> None:
        if self._file is None:
            return
        found = {"wanted": self._chosen, "most": self.most, "at": time.time()}
        with contextlib.suppress(OSError):
            self._file.parent.mkdir(parents=True, exist_ok=True)
            self._file.write_text(json.dumps(found))


def pace_file() -> Path:
    """Return the file of this machine's best number."""
    return cache_home() / "pace.json"


def most_workers() -> int:
    """Return one worker for each core, as far as memory goes."""
    return max(min(cores(), int(memory_here("MemAvailable") // WORKER_BYTES)), 1)

"""How many recordings to hear side by side: measured on the machine itself, from its own work.

Each number of workers is tried for a while, and the one that got most done is kept, in a file that
may be deleted any time. More workers than there is memory for are never tried.
"""

from __future__ import annotations

import contextlib
import json
import os
from dataclasses import dataclass
from pathlib import Path

from tamarind.audio.soundcache import cache_home
from tamarind.speech.cores import cores

ENOUGH_S = 25.0
"""Seconds of all workers' work after which a number of workers is known well enough."""

OLDER_SHARE = 0.5
"""What earlier figures count for once there are new ones: a machine may be busier today."""

WORTH_IT = 1.05
WORKER_BYTES = 1_000_000_000


@dataclass(slots=True)
class _Figure:
    work: float = 0.0
    seconds: float = 0.0

    @property
    def rate(self) -> float:
        return self.work / self.seconds if self.seconds else 0.0


class Pace:
    """Takes measurements and says how many workers are wanted."""

    def __init__(self, most: int | None = None, file: Path | None = None) -> None:
        """``file`` keeps the figures; ``most`` is by cores and memory unless it is given."""
        self.most = most if most is not None else most_workers()
        self._file = file
        self._fixed: int | None = None
        self._figures = {count: _Figure() for count in range(1, self.most + 1)}
        if file is not None:
            self._read(file)

    @classmethod
    def fixed(cls, count: int) -> Pace:
        """Always this number, as somebody asked for."""
        pace = cls(count)
        pace._fixed = count
        return pace

    @property
    def wanted(self) -> int:
        """The number still to be tried, the fewest first, else the one that got most done.

        One more must be worth its memory.
        """
        if self._fixed is not None:
            return self._fixed
        best = 1
        for count, figure in self._figures.items():
            if figure.seconds < ENOUGH_S:
                return count
            if figure.rate * count > self._figures[best].rate * best * WORTH_IT:
                best = count
        return best

    def note(self, count: int, work: float, seconds: float) -> None:
        """One of ``count`` busy workers has done so much work (loud seconds) in so many seconds."""
        figure = self._figures.get(count)
        if figure is None or seconds <= 0:
            return
        figure.work += work
        figure.seconds += seconds
        if self._file is not None:
            with contextlib.suppress(OSError):
                self._file.parent.mkdir(parents=True, exist_ok=True)
                figures = {str(n): [f.work, f.seconds] for n, f in self._figures.items()}
                self._file.write_text(json.dumps(figures))

    def rates(self) -> dict[int, float]:
        """Loud seconds heard in a second by so many workers together, as far as known."""
        return {n: f.rate * n for n, f in self._figures.items() if f.seconds}

    def _read(self, file: Path) -> None:
        try:
            for count, (work, seconds) in json.loads(file.read_text()).items():
                if int(count) in self._figures and seconds > 0:
                    share = min(OLDER_SHARE, 2 * ENOUGH_S / seconds)
                    kept = max(share * seconds, ENOUGH_S if seconds >= ENOUGH_S else 0.0)
                    self._figures[int(count)] = _Figure(work / seconds * kept, kept)
        except (OSError, ValueError, TypeError, AttributeError):
            return


def pace_file() -> Path:
    """Where this machine's figures are kept."""
    return cache_home() / "pace.json"


def most_workers() -> int:
    """One for each core, as far as memory goes."""
    return max(min(cores(), int(_free_memory() // WORKER_BYTES)), 1)


def _free_memory() -> float:
    try:
        for line in Path("/proc/meminfo").read_text().splitlines():
            if line.startswith("MemAvailable:"):
                return float(line.split()[1]) * 1024
    except (OSError, ValueError, IndexError):
        pass
    return float(os.sysconf("SC_PHYS_PAGES") * os.sysconf("SC_PAGE_SIZE")) / 2

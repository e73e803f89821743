"""Detect shots: when the picture of a video cuts.

Frames are made small and grey, and a cut is where one differs from the one before much more than
frames around it do: by pixels and by histogram, against a threshold that follows the movement in
the picture (after Boreczky and Rowe, "Comparison of video shot boundary detection techniques",
1996). Fades are not found.
"""

from __future__ import annotations

import contextlib
import json
from collections import deque
from collections.abc import Iterator
from pathlib import Path
from statistics import median
from threading import Condition, Thread

import av
import numpy as np
from numpy.typing import NDArray

from tamarind.audio.clock import origin_of
from tamarind.audio.fingerprint import fingerprint
from tamarind.audio.media import MediaError, open_media, picture_of
from tamarind.system.files import read_file, write_whole
from tamarind.system.folders import cache_home

SMALL = (64, 36)
LEVELS = 32
WINDOW = 24
"""So many frames tell how much moves."""

LEAST_PIXELS, LEAST_LEVELS = 9.0, 0.16
"""A cut changes a pixel by so many levels of 256 on average, and this share of the histogram."""

STILL, ENOUGH_STILL, LEAST_OF_STILL = 0.3, 10, 1.5
"""Where hardly anything moves, as with slides, a smaller change of the pixels alone is a cut."""

TIMES_THE_MOVEMENT = 4.0
SHORTEST_MS = 400

Grey = NDArray[np.uint8]


def find_shots(path: Path) -> tuple[int, ...]:
    """Return the times (ms) at which a new shot begins, without the first; none if there is no
    picture. Raises MediaError."""
    return tuple(shot for _, shot in _looking(path) if shot is not None)


def _looking(path: Path) -> Iterator[tuple[int, int | None]]:
    """Yield the time of each frame (ms), and the start of a shot that it reveals."""
    last: int | None = None
    waiting: tuple[int, float] | None = None
    moved: deque[float] = deque(maxlen=WINDOW)
    before: Grey | None = None
    for time, grey in _frames(path):
        shot: int | None = None
        if before is not None:
            change = float(np.mean(np.abs(grey.astype(np.int16) - before)))
            # A cut is one change between two that are less; more of the same is movement.
            if waiting is not None and change < waiting[1] / 2 and _is_apart(waiting[0], last):
                shot = last = waiting[0]
            waiting = (time, change) if _is_cut(change, grey, before, moved) else None
            moved.append(change)
        before = grey
        yield time, shot


class ShotsMeanwhile:
    """Detects shots in a thread; cached results are there at once. A picture that cannot be read
    has none."""

    def __init__(self, path: Path) -> None:
        self._path = path
        self._found: list[int] = []
        self._until = -1
        self._stopped = False
        self._news = Condition()
        self._thread = Thread(target=self._find, name="shots", daemon=True)
        self._thread.start()

    def until(self, time: int) -> tuple[int, ...]:
        """Return all shots that begin by a time (ms), waiting until they are known."""
        with self._news:
            self._news.wait_for(lambda: self._until > time or self._stopped)
            return tuple(self._found)

    def close(self) -> None:
        """Stop detecting."""
        with self._news:
            self._stopped = True
        self._thread.join()

    def _find(self) -> None:
        with contextlib.suppress(MediaError):
            kept = _kept_at(self._path)
            known = _read(kept)
            if known is not None:
                self._found = list(known)
            elif self._look():
                _keep(kept, tuple(self._found))
        with self._news:
            self._stopped = True
            self._news.notify_all()

    def _look(self) -> bool:
        """Analyse the whole picture; return whether it was not stopped before the end."""
        for time, shot in _looking(self._path):
            with self._news:
                if self._stopped:
                    return False
                self._until = time
                if shot is not None:
                    self._found.append(shot)
                self._news.notify_all()
        return True


def _is_apart(time: int, last: int | None) -> bool:
    return last is None or time - last >= SHORTEST_MS


def _frames(path: Path) -> Iterator[tuple[int, Grey]]:
    """Yield time (ms) and a small grey image of every frame that is shown."""
    origin = origin_of(path)
    with open_media(path) as container:
        stream = picture_of(container)
        if stream is None:
            return
        stream.thread_type = "AUTO"
        # What could be seen of a damaged picture counts.
        with contextlib.suppress(av.FFmpegError):
            for frame in container.decode(stream):
                if frame.pts is not None and frame.time_base is not None:
                    small = frame.reformat(*SMALL, format="gray").to_ndarray()
                    time = (frame.pts * frame.time_base - origin) * 1000
                    yield round(time), np.asarray(small, np.uint8)


def kept_shots(path: Path) -> tuple[int, ...]:
    """``find_shots``, cached by the file's contents. Raises MediaError."""
    kept = _kept_at(path)
    known = _read(kept)
    if known is not None:
        return known
    shots = find_shots(path)
    _keep(kept, shots)
    return shots


def _kept_at(path: Path) -> Path:
    return cache_home() / "shots-from-start" / f"{fingerprint(path)}.json"


def _read(kept: Path) -> tuple[int, ...] | None:
    with contextlib.suppress(OSError, ValueError, TypeError):
        return tuple(map(int, json.loads(read_file(kept))))
    return None


def _keep(kept: Path, shots: tuple[int, ...]) -> None:
    # Without room for it they are found again the next time.
    with contextlib.suppress(OSError):
        kept.parent.mkdir(parents=True, exist_ok=True)
        write_whole(kept, json.dumps(shots).encode(), lasting=False)


def _is_cut(change: float, grey: Grey, before: Grey, moved: deque[float]) -> bool:
    movement = median(moved) if moved else 0.0
    if len(moved) >= ENOUGH_STILL and movement < STILL:
        return change >= LEAST_OF_STILL
    if change < max(LEAST_PIXELS, TIMES_THE_MOVEMENT * movement):
        return False
    step = 256 // LEVELS
    now, then = (np.bincount(one.ravel() // step, minlength=LEVELS) for one in (grey, before))
    return float(np.abs(now - then).sum()) / (2 * grey.size) >= LEAST_LEVELS

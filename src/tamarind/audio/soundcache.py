"""The cache of decoded sound and peaks, keyed by file contents, in a folder that may be deleted any
time.

It holds a bounded room: what was not used for longest goes when something new is decoded, but
never what a process has open.
"""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import shutil
import wave
from collections.abc import Generator, Iterator
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from tamarind.audio.decode import Decoded, Samples, decode
from tamarind.audio.fingerprint import fingerprint
from tamarind.audio.media import SAMPLE_RATE, MediaError
from tamarind.audio.peaks import Peaks
from tamarind.audio.source import WHOLE, Source
from tamarind.system.folders import cache_home

NO_ROOM = 28
WRITTEN_AT_ONCE = 1 << 20

USUAL_ROOM_GB = 20.0
ROOM_VARIABLE = "TAMARIND_SOUND_GB"
"""How much may be kept (GB), told to all processes by the one that knows the person's settings."""

COUNTS_FROM = "start"
"""Sound that earlier versions decoded began where the sound does, not where its file does."""

MARGIN_MS = 2_000
"""Of a part, so much more is decoded at its end: what follows tells whether a word has ended."""

Part = tuple[int, int | None]
ALL: Part = (0, None)


@dataclass(frozen=True, slots=True)
class Sound:
    """A recording's decoded sound on disk; arrays are mapped, not read.

    Of one that is not whole, what lies outside of the part that was asked for is silence or is not
    there. ``mark`` is the fingerprint of its file.
    """

    folder: Path
    decoded: Decoded
    is_whole: bool = True
    mark: str = ""

    def samples(self) -> Samples:
        """The samples: mono float32 at 16 kHz, mapped from disk."""
        return np.memmap(
            self.folder / "samples.f32", np.float32, "r", shape=(self.decoded.samples,)
        )

    def peaks(self) -> Peaks:
        """The peaks: the loudest sample of every 10 ms."""
        peaks: Peaks = np.load(self.folder / "peaks.npy")
        return peaks

    def playable(self) -> Path:
        """A sound file that any player reads, made when first asked for.

        Raises MediaError when there is no room for it.
        """
        target = self.folder / "sound.wav"
        if not target.is_file():
            half_made = target.with_suffix(f".{os.getpid()}")
            try:
                with wave.open(str(half_made), "wb") as file:
                    file.setnchannels(1)
                    file.setsampwidth(2)
                    file.setframerate(SAMPLE_RATE)
                    samples = self.samples()
                    for at in range(0, len(samples), WRITTEN_AT_ONCE):
                        part = np.clip(samples[at : at + WRITTEN_AT_ONCE], -1, 1)
                        file.writeframes((part * 32767).astype("<i2").tobytes())
                half_made.rename(target)
            except OSError as error:
                half_made.unlink(missing_ok=True)
                raise MediaError(f"The cleaned sound cannot be kept: {error.strerror}.") from None
        return target

    def levels(self) -> NDArray[np.float16]:
        """The root mean square of each channel for every 10 ms, shape (2, frames); (0, 0) if not
        stereo."""
        levels: NDArray[np.float16] = np.load(self.folder / "levels.npy")
        return levels


def _folder_of(mark: str, source: Source, part: Part) -> Path:
    from_to = "" if part == ALL else f"-from{part[0]}-to{part[1] or 'end'}"
    return cache_home() / "sounds" / f"{mark}{source.tag}{from_to}"


def find(mark: str, source: Source = WHOLE, part: Part = ALL) -> Sound | None:
    """Return the decoded sound of the file with this fingerprint if it is in the cache, whole or at
    least this section."""
    for asked in dict.fromkeys((ALL, part)):
        folder = _folder_of(mark, source, asked)
        try:
            state = json.loads((folder / "decoded.json").read_text())
            if state["counts"] != COUNTS_FROM:
                continue
            decoded = Decoded(int(state["samples"]), state["damage"])
            if (folder / "samples.f32").stat().st_size != decoded.samples * 4:
                continue
            (folder / "peaks.npy").stat()
            (folder / "levels.npy").stat()
        except (OSError, ValueError, KeyError, TypeError):
            continue
        _use(folder)
        return Sound(folder, decoded, asked == ALL or bool(state.get("whole")), mark)
    return None


def fetch(path: Path, source: Source = WHOLE, part: Part = ALL) -> Sound:
    """Return the decoded sound of a file, decoding it now if need be.

    Raises MediaError when the file has no sound that can be read, or there is no room for it.
    """
    work = coming(path, source, part)
    while True:
        try:
            next(work)
        except StopIteration as end:
            sound: Sound = end.value
            return sound


def coming(path: Path, source: Source = WHOLE, part: Part = ALL) -> Generator[Peaks, None, Sound]:
    """As ``fetch``, with the peaks as they come; if another process decodes the file, wait for
    it."""
    mark = fingerprint(path)
    wanted = part if part[1] is None else (part[0], part[1] + MARGIN_MS)
    known = find(mark, source, wanted)
    if known is not None:
        return known
    folder = _folder_of(mark, source, wanted)
    workplace = folder.with_name(f"{folder.name}.{os.getpid()}")
    try:
        workplace.mkdir(parents=True, exist_ok=True)
        with _alone(folder):
            known = find(mark, source, wanted)
            if known is not None:
                return known
            decoded = yield from decode(
                path,
                workplace / "samples.f32",
                workplace / "peaks.npy",
                workplace / "levels.npy",
                source,
                wanted,
            )
            end = wanted[1]
            is_whole = wanted[0] == 0 and (end is None or decoded.duration < end)
            state = {
                "samples": decoded.samples,
                "damage": decoded.damage,
                "whole": is_whole,
                "counts": COUNTS_FROM,
            }
            (workplace / "decoded.json").write_text(json.dumps(state))
            shutil.rmtree(folder, ignore_errors=True)
            workplace.rename(folder)
            _use(folder)
            make_room(room())
    except OSError as error:
        if error.errno == NO_ROOM:
            raise MediaError(
                "The disk is full: make room for the decoded sound, then try again."
            ) from None
        raise MediaError(f"The decoded sound cannot be kept: {error.strerror}.") from None
    finally:
        shutil.rmtree(workplace, ignore_errors=True)
    return Sound(folder, decoded, is_whole, mark)


@contextlib.contextmanager
def _alone(folder: Path) -> Iterator[None]:
    """Hold a lock between processes; that of a killed process is free."""
    target = folder.with_name(f"{folder.name}.lock")
    with target.open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        try:
            yield
        finally:
            target.unlink(missing_ok=True)


# How much is kept

_in_use: set[Path] = set()


def _use(folder: Path) -> None:
    """Mark a cached sound as used by this process, and by that as used most recently."""
    if folder not in _in_use:
        # Where there is no room for it, it may have to be decoded again, which loses nothing.
        with contextlib.suppress(OSError):
            (folder / f"used.{os.getpid()}").touch()
        _in_use.add(folder)
    with contextlib.suppress(OSError):
        os.utime(folder)


def let_go() -> None:
    """Unmark what this process has used, so that it may be deleted."""
    for folder in _in_use:
        (folder / f"used.{os.getpid()}").unlink(missing_ok=True)
    _in_use.clear()


def room() -> int:
    """Return how many bytes the cache may take."""
    try:
        gigabytes = float(os.environ.get(ROOM_VARIABLE, USUAL_ROOM_GB))
    except ValueError:
        gigabytes = USUAL_ROOM_GB
    return round(min(max(gigabytes, 0.0), 1e6) * 1e9)


def kept() -> int:
    """Return how many bytes the cache takes."""
    return sum(_size(folder) for folder in _folders())


def make_room(most: int) -> int:
    """Delete the least recently used sounds until at most so many bytes are kept, but none that a
    process uses; return how many are kept then."""
    folders = sorted(_folders(), key=_last_used)
    sizes = {folder: _size(folder) for folder in folders}
    total = sum(sizes.values())
    for folder in folders:
        if total <= most:
            break
        if not _is_open(folder):
            shutil.rmtree(folder, ignore_errors=True)
            total -= sizes[folder]
    return total


def _folders() -> list[Path]:
    try:
        entries = list(os.scandir(cache_home() / "sounds"))
    except OSError:
        return []
    return [Path(entry.path) for entry in entries if entry.is_dir() and "." not in entry.name]


def _size(folder: Path) -> int:
    """Return the disk space of a folder; holes in files take none."""
    total = 0
    with contextlib.suppress(OSError):
        for entry in os.scandir(folder):
            with contextlib.suppress(OSError):
                total += entry.stat().st_blocks * 512
    return total


def _last_used(folder: Path) -> float:
    try:
        return folder.stat().st_mtime
    except OSError:
        return 0.0


def _is_open(folder: Path) -> bool:
    with contextlib.suppress(OSError):
        for entry in os.scandir(folder):
            name, _, process = entry.name.partition(".")
            if name == "used" and _lives(process):
                return True
    return False


def clear_away() -> None:
    """Delete what killed processes have left, and what earlier versions kept under fingerprints of
    parts of a file."""
    shutil.rmtree(cache_home() / "sound", ignore_errors=True)
    for left in (cache_home() / "sounds").glob("*.[0-9]*"):
        if not _lives(left.suffix[1:]):
            shutil.rmtree(left, ignore_errors=True)
    for left in (cache_home() / "sounds").glob("*/used.[0-9]*"):
        if not _lives(left.suffix[1:]):
            left.unlink(missing_ok=True)
    make_room(room())


def _lives(process: str) -> bool:
    return not process.isdigit() or Path(f"/proc/{process}").exists()

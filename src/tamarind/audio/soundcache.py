"""Decoded sound and peaks, by their file's contents, in a folder that may be deleted any time."""

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
from tamarind.audio.media import SAMPLE_RATE, MediaError, check_readable, fingerprint
from tamarind.audio.peaks import Peaks
from tamarind.audio.source import WHOLE, Source

NO_ROOM = 28
WRITTEN_AT_ONCE = 1 << 20


@dataclass(frozen=True, slots=True)
class Sound:
    """A recording's decoded sound on disk; arrays are mapped, not read."""

    folder: Path
    decoded: Decoded

    def samples(self) -> Samples:
        """Mono float32 at 16 kHz, mapped from disk."""
        return np.memmap(
            self.folder / "samples.f32", np.float32, "r", shape=(self.decoded.samples,)
        )

    def peaks(self) -> Peaks:
        """The loudest sample of every 10 ms."""
        peaks: Peaks = np.load(self.folder / "peaks.npy")
        return peaks

    def playable(self) -> Path:
        """A sound file of it that any player reads, made at the first time of asking.

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
        """Root mean square of each channel for every 10 ms, (2, frames); (0, 0) if not stereo."""
        levels: NDArray[np.float16] = np.load(self.folder / "levels.npy")
        return levels


def cache_home() -> Path:
    """The folder for derived data, by the XDG base directory specification."""
    base = os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache"
    return Path(base) / "tamarind"


def find(mark: str, source: Source = WHOLE) -> Sound | None:
    """The decoded sound of the file with this fingerprint, if it is there and whole."""
    folder = cache_home() / "sound" / f"{mark}{source.tag}"
    try:
        state = json.loads((folder / "decoded.json").read_text())
        decoded = Decoded(int(state["samples"]), state["damage"])
        if (folder / "samples.f32").stat().st_size != decoded.samples * 4:
            return None
        (folder / "peaks.npy").stat()
        (folder / "levels.npy").stat()
    except (OSError, ValueError, KeyError, TypeError):
        return None
    return Sound(folder, decoded)


def fetch(path: Path, source: Source = WHOLE) -> Sound:
    """The decoded sound of a file, decoding it now unless that was done before.

    Raises MediaError when the file has no sound that can be read, or there is no room for it.
    """
    work = coming(path, source)
    while True:
        try:
            next(work)
        except StopIteration as end:
            sound: Sound = end.value
            return sound


def coming(path: Path, source: Source = WHOLE) -> Generator[Peaks, None, Sound]:
    """The same, with its peaks as they come; what another process is decoding is waited for."""
    check_readable(path)
    mark = fingerprint(path)
    known = find(mark, source)
    if known is not None:
        return known
    folder = cache_home() / "sound" / f"{mark}{source.tag}"
    workplace = folder.with_name(f"{folder.name}.{os.getpid()}")
    try:
        workplace.mkdir(parents=True, exist_ok=True)
        with _alone(folder):
            known = find(mark, source)
            if known is not None:
                return known
            decoded = yield from decode(
                path,
                workplace / "samples.f32",
                workplace / "peaks.npy",
                workplace / "levels.npy",
                source,
            )
            state = {"samples": decoded.samples, "damage": decoded.damage}
            (workplace / "decoded.json").write_text(json.dumps(state))
            shutil.rmtree(folder, ignore_errors=True)
            workplace.rename(folder)
    except OSError as error:
        if error.errno == NO_ROOM:
            raise MediaError(
                "The disk is full: make room for the decoded sound, then try again."
            ) from None
        raise MediaError(f"The decoded sound cannot be kept: {error.strerror}.") from None
    finally:
        shutil.rmtree(workplace, ignore_errors=True)
    return Sound(folder, decoded)


@contextlib.contextmanager
def _alone(folder: Path) -> Iterator[None]:
    """One process at a time; the lock of one that was killed is free."""
    target = folder.with_name(f"{folder.name}.lock")
    with target.open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        try:
            yield
        finally:
            target.unlink(missing_ok=True)


def clear_away() -> None:
    """Delete what processes that were killed have left half made."""
    for half_made in (cache_home() / "sound").glob("*.[0-9]*"):
        process = half_made.suffix[1:]
        if process.isdigit() and not Path(f"/proc/{process}").exists():
            shutil.rmtree(half_made, ignore_errors=True)

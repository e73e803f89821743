"""Download files: with progress, checksums, and resuming.

Nothing here is fetched unless a person asks for it.
"""

from __future__ import annotations

import hashlib
import http.client
import shutil
import time
import urllib.error
import urllib.parse
import urllib.request
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

from tamarind.system.errors import ToldError

PIECE = 1 << 18
PATIENCE_S = 30
TRIES = 5
"""So many times in a row may a connection break off without anything having come."""

WAIT_S = 1.0
SPARE = 100_000_000
"""So many bytes stay free on the disk."""

Progress = Callable[[int, int], None]


class FetchError(ToldError):
    """A download failed; the message is a sentence for the person."""


class FetchStoppedError(FetchError):
    """A person has stopped a download; what has come is kept, to resume from."""


@dataclass(frozen=True, slots=True)
class RemoteFile:
    """A file at ``address``. ``digest`` is hexadecimal, by ``kind``: "sha256", or "git" for Git's
    SHA-1."""

    name: str
    address: str
    size: int
    kind: str
    digest: str


@dataclass(frozen=True, slots=True)
class Fetcher:
    """Downloads what a person calls ``what`` from ``where`` ("the hub")."""

    what: str
    where: str

    def fetch(
        self,
        files: Sequence[RemoteFile],
        folder: Path,
        on_progress: Progress = lambda _done, _whole: None,
        is_stopped: Callable[[], bool] = lambda: False,
    ) -> None:
        """Download all missing files into a folder; the bytes done and in all are told. Raises
        FetchError, and OSError if the disk refuses."""
        whole = sum(file.size for file in files)
        folder.mkdir(parents=True, exist_ok=True)
        there = sum(_size(folder / file.name) for file in files)
        free = shutil.disk_usage(folder).free
        if whole - there + SPARE > free:
            raise FetchError(
                f"There is no room for “{self.what}”: it needs {amount(whole - there)}, and"
                f" {amount(free)} are free where models are kept."
            )
        done = 0
        for file in files:
            self._file(file, folder, _offset(on_progress, done, whole), is_stopped)
            done += file.size
            on_progress(done, whole)

    def text(self, address: str, most: int) -> bytes:
        """Return at most ``most`` bytes of text from an address. Raises FetchError."""
        with self._opened(address) as answer:
            return answer.read(most)

    def _file(
        self,
        file: RemoteFile,
        folder: Path,
        on_progress: Callable[[int], None],
        is_stopped: Callable[[], bool],
    ) -> None:
        """Download one file; a broken connection is opened again for the rest."""
        path = folder / file.name
        tries = 0
        while _size(path) < file.size:
            before = _size(path)
            try:
                self._bring(file, path, on_progress, is_stopped)
            except (
                urllib.error.URLError, http.client.HTTPException, TimeoutError, ConnectionError,
            ):  # fmt: skip
                tries = 0 if _size(path) > before else tries + 1
                if tries >= TRIES:
                    raise FetchError(self._broken()) from None
                time.sleep(WAIT_S * tries)
        if _size(path) > file.size or _digest(path, file.kind) != file.digest:
            path.unlink()
            raise FetchError(
                f"What came of “{self.what}” is not what {self.where} says it is ({file.name});"
                " it was thrown away."
            )

    def _bring(
        self,
        file: RemoteFile,
        path: Path,
        on_progress: Callable[[int], None],
        is_stopped: Callable[[], bool],
    ) -> None:
        start = _size(path)
        with self._opened(file.address, start) as answer:
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
                            f"“{self.what}” is not complete yet. Downloading it again resumes"
                            " from here."
                        )
                    if at > file.size:
                        return
        if at < file.size:
            raise ConnectionError("broken off")

    def _opened(self, address: str, start: int = 0) -> http.client.HTTPResponse:
        try:
            request = urllib.request.Request(address)
            named = urllib.parse.urlsplit(address)
            is_one = named.scheme in ("http", "https") and bool(named.hostname)
        except ValueError:
            is_one = False
        if not is_one:
            raise FetchError(f"“{address[:80]}” is not an address for downloads.")
        if start:
            request.add_header("Range", f"bytes={start}-")
        try:
            answer: http.client.HTTPResponse = urllib.request.urlopen(request, timeout=PATIENCE_S)
        except urllib.error.HTTPError as error:
            where = self.where[:1].upper() + self.where[1:]
            with error:
                raise FetchError(
                    f"{where} does not give “{self.what}” (answer {error.code})."
                ) from None
        except (urllib.error.URLError, http.client.HTTPException, OSError) as error:
            if start:
                raise ConnectionError("not to be reached") from error
            raise FetchError(self._broken()) from error
        return answer

    def _broken(self) -> str:
        return (
            f"“{self.what}” could not be downloaded. Is this computer connected to the internet?"
            " Nothing else here needs a connection."
        )


def _offset(on_progress: Progress, before: int, whole: int) -> Callable[[int], None]:
    return lambda at: on_progress(before + at, whole)


def amount(size: float) -> str:
    """Return a number of bytes in words."""
    return f"{size / 1e9:.1f} GB" if size >= 1e9 else f"{max(round(size / 1e6), 1)} MB"


def _size(path: Path) -> int:
    return path.stat().st_size if path.is_file() else 0


def _digest(path: Path, kind: str) -> str:
    if kind == "git":
        data = path.read_bytes()
        return hashlib.sha1(b"blob %d\0" % len(data) + data, usedforsecurity=False).hexdigest()
    with path.open("rb") as stream:
        return hashlib.file_digest(stream, "sha256").hexdigest()

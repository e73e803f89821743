"""Download a model from a hub.

The hub lists a repository's files under ``/api/models/…/tree/main``, with sizes and either the
SHA-256 of a large file or the SHA-1 that Git gives a small one; they lie under
``/…/resolve/main/…``.
"""

from __future__ import annotations

import json
import os
import shutil
import urllib.parse
from collections.abc import Callable
from pathlib import Path

from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.folder import ModelFolder, look_into
from tamarind.speech.recognisers.offered import Offer
from tamarind.system.fetching import Fetcher, FetchError, Progress, RemoteFile

USUAL_HUB = "https://huggingface.co"
NEEDED = ("model.bin", "config.json", "tokenizer.json", "vocabulary.txt", "vocabulary.json",
          "preprocessor_config.json")  # fmt: skip
LONGEST_LISTING = 1 << 20


def hub() -> str:
    """Return the address of the hub; an environment variable names a mirror or a stand-in."""
    return os.environ.get("TAMARIND_HUB", USUAL_HUB).rstrip("/")


def here_already(offer: Offer, home: Path) -> int:
    """Return the bytes of a model that came before its download was stopped."""
    try:
        return sum(file.stat().st_size for file in _workplace(offer, home).iterdir())
    except OSError:
        return 0


def _workplace(offer: Offer, home: Path) -> Path:
    return home / f"{offer.name}.part"


def fetch(
    offer: Offer,
    home: Path,
    on_progress: Progress = lambda _done, _whole: None,
    is_stopped: Callable[[], bool] = lambda: False,
) -> ModelFolder:
    """Download a model into a folder of its name in ``home``, completely or not at all.

    Bytes done and in all are told. Raises RecogniserError with a sentence; what has come stays
    beside it, so that asking again goes on from there.
    """
    target, workplace = home / offer.name, _workplace(offer, home)
    fetcher = Fetcher(offer.name, "the hub")
    try:
        fetcher.fetch(_listing(offer, fetcher), workplace, on_progress, is_stopped)
        model = look_into(workplace)
        shutil.rmtree(target, ignore_errors=True)
        workplace.rename(target)
    except FetchError as error:
        raise RecogniserError(str(error)) from None
    except OSError as error:
        reason = error.strerror or "the disk refused"
        raise RecogniserError(f"“{offer.name}” could not be kept: {reason}.") from error
    return ModelFolder(target, model.format, model.languages)


def _listing(offer: Offer, fetcher: Fetcher) -> list[RemoteFile]:
    """Return the files that are needed, small ones first."""
    repository = urllib.parse.quote(offer.repository)
    data = fetcher.text(f"{hub()}/api/models/{repository}/tree/main", LONGEST_LISTING)
    base = f"{hub()}/{repository}/resolve/main"
    try:
        found = [_file_of(entry, base) for entry in json.loads(data) if entry["path"] in NEEDED]
    except (ValueError, KeyError, TypeError) as error:
        raise RecogniserError(f"The hub’s list of “{offer.name}” makes no sense.") from error
    if not found:
        raise RecogniserError(f"The hub has no files of “{offer.name}”.")
    return sorted(found, key=lambda file: file.size)


def _file_of(entry: dict[str, object], base: str) -> RemoteFile:
    name, large = str(entry["path"]), entry.get("lfs")
    address = f"{base}/{name}"
    if isinstance(large, dict):
        return RemoteFile(name, address, int(large["size"]), "sha256", str(large["oid"]))
    return RemoteFile(name, address, int(str(entry["size"])), "git", str(entry["oid"]))

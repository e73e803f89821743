"""Translation models that can be downloaded by pair of languages.

The library knows the address of a list of records (an open interface, with the base of the files'
addresses at its root) and which of them its engine can run. What is listed and fetched is only ever
asked for by a person.
"""

from __future__ import annotations

import json
import os
import re
import shutil
import urllib.parse
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path
from types import ModuleType
from typing import Any

from tamarind.system.fetching import Fetcher, FetchError, Progress, RemoteFile
from tamarind.transcript.languages import name_of
from tamarind.translation.engines.base import TranslationError
from tamarind.translation.engines.modelfolder import TranslationModel, look_into, tag_of

SHELF_VARIABLE = "TAMARIND_TRANSLATION_SHELF"
"""Names the address of another list of records: a mirror or a stand-in."""

LONGEST_LIST = 64 << 20
LARGEST_FILE = 1 << 30
BEST_FIRST = ("base", "base-memory", "tiny")
"""Sizes of models by their names; the first that there is is taken."""

_WHERE = "the list of models"


@dataclass(frozen=True, slots=True)
class PairOffer:
    """A pair of languages (BCP 47 tags) and the packed files of its model; ``hashes`` are those of
    the unpacked files by name, if known."""

    source: str
    target: str
    files: tuple[RemoteFile, ...]
    hashes: tuple[tuple[str, str], ...]

    @property
    def name(self) -> str:
        """The name by which the pair is asked for."""
        return f"{self.source}-{self.target}"

    @property
    def in_words(self) -> str:
        """The pair in words for a person."""
        return f"{name_of(self.source)} to {name_of(self.target)}"

    @property
    def size(self) -> int:
        """The size of the download (bytes)."""
        return sum(file.size for file in self.files)


def offers() -> list[PairOffer]:
    """Return what can be downloaded now, by name, asking over the network. Raises
    TranslationError."""
    discovery = _library()
    address = os.environ.get(SHELF_VARIABLE) or str(discovery.records_url())
    fetcher = Fetcher("The list of models", _WHERE)
    try:
        body = fetcher.text(_safe(address), LONGEST_LIST).decode()
        root = json.loads(fetcher.text(_safe(f"{address.split('/buckets/')[0]}/"), LONGEST_LIST))
        base = _safe(str(root["capabilities"]["attachments"]["base_url"]))
        data = json.loads(body)["data"]
    except FetchError as error:
        raise TranslationError(str(error)) from None
    except (ValueError, KeyError, TypeError, UnicodeDecodeError):
        raise TranslationError("The list of models makes no sense.") from None
    groups: dict[tuple[str, str], dict[tuple[str, str], list[dict[str, Any]]]] = {}
    for record in data if isinstance(data, list) else ():
        try:
            pair = str(record["sourceLanguage"]), str(record["targetLanguage"])
            make = str(record["version"]), str(record.get("architecture") or "")
        except (KeyError, TypeError, AttributeError):
            continue
        groups.setdefault(pair, {}).setdefault(make, []).append(record)
    found = (_best(discovery, base, pair, makes) for pair, makes in groups.items())
    return sorted((offer for offer in found if offer is not None), key=lambda offer: offer.name)


def fetch(
    offer: PairOffer,
    home: Path,
    on_progress: Progress = lambda _done, _whole: None,
    is_stopped: Callable[[], bool] = lambda: False,
) -> TranslationModel:
    """Download a pair's model into a folder of its name in ``home``, completely or not at all.

    Bytes done and in all are told. Raises TranslationError with a sentence; what has come stays
    beside it, so that asking again goes on from there.
    """
    discovery = _library()
    target, packed = home / offer.name, home / f".{offer.name}.part"
    whole = home / f".{offer.name}.new"
    try:
        Fetcher(offer.in_words, _WHERE).fetch(offer.files, packed, on_progress, is_stopped)
        shutil.rmtree(whole, ignore_errors=True)
        whole.mkdir()
        for file in offer.files:
            name = file.name.removesuffix(".zst")
            data = (packed / file.name).read_bytes()
            if file.name.endswith(".zst"):
                data = discovery.verify_and_decompress(data, dict(offer.hashes).get(file.name))
            (whole / name).write_bytes(data)
        look_into(whole)
        shutil.rmtree(target, ignore_errors=True)
        whole.rename(target)
        shutil.rmtree(packed, ignore_errors=True)
        return look_into(target)
    except FetchError as error:
        raise TranslationError(str(error)) from None
    except ValueError as error:
        shutil.rmtree(packed, ignore_errors=True)
        raise TranslationError(
            f"What came of “{offer.in_words}” is damaged, and was thrown away: {error}."
        ) from None
    except OSError as error:
        reason = error.strerror or "the disk refused"
        raise TranslationError(f"“{offer.in_words}” could not be kept: {reason}.") from None
    finally:
        shutil.rmtree(whole, ignore_errors=True)


def _best(
    discovery: ModuleType,
    base: str,
    pair: tuple[str, str],
    makes: dict[tuple[str, str], list[dict[str, Any]]],
) -> PairOffer | None:
    """Return the newest model of a pair that the engine can run, of the best size."""
    for make in sorted(makes, key=_rank):
        try:
            if not discovery.model_pairs(json.dumps({"data": makes[make]})):
                continue
            files = [_file_of(record, base) for record in makes[make]]
            hashes = tuple(
                (file.name, str(record["decompressedHash"]))
                for file, record in zip(files, makes[make], strict=True)
                if record.get("decompressedHash")
            )
            return PairOffer(tag_of(pair[0]), tag_of(pair[1]), tuple(files), hashes)
        except (ValueError, KeyError, TypeError):
            continue
    return None


def _rank(make: tuple[str, str]) -> tuple[bool, Sequence[int], int]:
    """Return a sort key: released before experimental, new before old, good before small."""
    version, size = make
    numbers = [-int(number) for number in re.findall(r"\d{1,6}", version)]
    place = BEST_FIRST.index(size) if size in BEST_FIRST else len(BEST_FIRST)
    return bool(re.search("[a-z]", version)), numbers, place


def _file_of(record: dict[str, Any], base: str) -> RemoteFile:
    packed = record["attachment"]
    name = Path(str(packed["filename"])).name
    size, digest = int(packed["size"]), str(packed["hash"])
    if not 0 < size <= LARGEST_FILE or not name or not re.fullmatch("[0-9a-f]{64}", digest):
        raise ValueError(name)
    address = urllib.parse.urljoin(base, urllib.parse.quote(str(packed["location"])))
    return RemoteFile(name, _safe(address), size, "sha256", digest)


def _safe(address: str) -> str:
    """Return the address if it is https or on this computer. Raises TranslationError."""
    parts = urllib.parse.urlsplit(address)
    is_here = parts.scheme == "http" and parts.hostname in ("127.0.0.1", "localhost", "::1")
    if parts.scheme != "https" and not is_here:
        raise TranslationError("Models are only downloaded over https.")
    return address


def _library() -> ModuleType:
    try:
        from fxtranslate import discovery
    except ImportError:
        raise TranslationError(
            "Downloading models needs the package fxtranslate: .venv/bin/pip install "
            "'tamarind[translation]'"
        ) from None
    library: ModuleType = discovery
    return library

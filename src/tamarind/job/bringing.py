"""Sort files and folders that a person adds: recordings, captions, documents, the rest."""

from __future__ import annotations

import mimetypes
import os
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import TYPE_CHECKING
from urllib.parse import unquote, urlparse

from tamarind.formats.anydocument import SUFFIXES
from tamarind.system.later import Later

if TYPE_CHECKING:
    from tamarind.formats import documents
else:
    documents = Later("tamarind.formats.documents")

_MORE_SUFFIXES = frozenset(
    "opus oga ogg spx mka mkv webm m4a m4b mts m2ts ts vob mxf amr awb caf wv ape dss ds2 w64 rf64"
    " gsm ac3 eac3 dts tta tak shn au aif aiff aifc wma wmv asf flv f4v 3gp 3g2 mp2 mpc voc".split()
)
"""What the table of types leaves out, or gives another name to on some machines."""


@dataclass(slots=True)
class FoundFiles:
    """Files by kind; ``papers`` are documents that were named themselves, ``skipped`` files in
    folders that are neither recordings nor captions."""

    media: list[Path] = field(default_factory=list)
    captions: list[Path] = field(default_factory=list)
    papers: list[Path] = field(default_factory=list)
    skipped: list[Path] = field(default_factory=list)


def found(paths: Sequence[Path]) -> FoundFiles:
    """Sort files, and the files in folders, by kind.

    A file that was named itself is taken for a recording unless it is a caption file or a document:
    it may be one under an odd name, and if it is not, its card says so.
    """
    result = FoundFiles()
    for path in paths:
        if path.is_dir():
            for file in _files_below(path):
                _sort(file, result, result.skipped)
        else:
            _sort(path, result, result.papers if is_document(path) else result.media)
    return result


def captions_for(name: str, captions: Iterable[Path]) -> Path | None:
    """Return the caption file that belongs to a recording by its name, also with a language in
    it."""
    own = name.casefold()
    for path in captions:
        stem = path.stem.casefold()
        if stem == own or (stem.startswith(f"{own}.") and len(stem) <= len(own) + 12):
            return path
    return None


def is_captions(path: Path) -> bool:
    """Whether a file's name is that of captions."""
    return documents.is_captions(path.suffix.lower().lstrip("."))


def is_document(path: Path) -> bool:
    """Whether a file's name is that of a document."""
    return path.suffix.lower().lstrip(".") in SUFFIXES


def media_suffixes() -> list[str]:
    """Return the suffixes of files with sound or video, without the point."""
    told = (
        suffix.lstrip(".")
        for suffix, kind in mimetypes.types_map.items()
        if kind.startswith(("audio/", "video/"))
    )
    return sorted(_MORE_SUFFIXES.union(told))


def is_media(path: Path) -> bool:
    """Whether a file's name is that of a sound or video file."""
    kind, _ = mimetypes.guess_type(path.name)
    by_type = kind is not None and kind.startswith(("audio/", "video/"))
    return by_type or path.suffix.lower().lstrip(".") in _MORE_SUFFIXES


def paths_in(text: str) -> list[Path]:
    """Return the files and folders that a text names, one a line, as paths or file addresses."""
    paths = []
    for line in text.splitlines():
        line = line.strip().strip("\"'")
        if line.startswith("file:"):
            line = unquote(urlparse(line).path)
        if line.startswith(("/", "~")):
            path = Path(line).expanduser()
            if path.exists():
                paths.append(path)
    return paths


def _sort(path: Path, result: FoundFiles, otherwise: list[Path]) -> None:
    if is_captions(path):
        result.captions.append(path)
    elif is_media(path):
        result.media.append(path)
    else:
        otherwise.append(path)


def _files_below(folder: Path) -> list[Path]:
    """Return all files in a folder and its subfolders, sorted by name, without hidden ones."""
    files: list[Path] = []
    for base, folders, names in os.walk(folder):
        folders[:] = sorted(name for name in folders if not name.startswith("."))
        files += [Path(base, name) for name in sorted(names) if not name.startswith(".")]
    return files

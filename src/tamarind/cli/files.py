"""Find the files that a command is to work on: by name, in folders, by patterns."""

from __future__ import annotations

import glob
from collections.abc import Callable, Iterable, Sequence
from pathlib import Path

STREAM = Path("-")
"""Standard input or output."""

Below = tuple[Path, Path]
"""A file, and the folder below which it was found: its way from there is kept."""


def expanded(
    named: Iterable[Path], in_folder: Callable[[Sequence[Path]], Sequence[Path]], kind: str
) -> list[Below]:
    """Return all files, each once; ``in_folder`` picks those of a ``kind`` out of paths and
    folders.

    Raises ValueError for a pattern or folder that has nothing.
    """
    files: dict[Path, Below] = {}
    for path in named:
        folder = path.parent
        if path.is_dir():
            folder, below = path, in_folder([path])
        elif not path.exists() and glob.has_magic(str(path)):
            matches = sorted(map(Path, glob.glob(str(path), recursive=True)))
            below = in_folder([match for match in matches if match.is_file()])
            folder = _fixed_part(path)
        else:
            below = [path]
        if not below:
            raise ValueError(f"{path}: no {kind} there.")
        for file in below:
            files.setdefault(file.resolve(), (file, folder))
    return list(files.values())


def inside(file: Path, folder: Path) -> Path:
    """Return a file's path relative to a folder."""
    return file.relative_to(folder).parent if file.is_relative_to(folder) else Path()


def with_folder(stem: Path, file: Path) -> Path:
    """Return a name preceded by that of the folder that the file is in."""
    return stem.with_name(f"{stem.name} ({file.resolve().parent.name})")


def texts_among(paths: Sequence[Path], suffixes: Sequence[str]) -> list[Path]:
    """Return the files with these suffixes among paths and in folders, sorted by name; hidden files
    and folders within them are none."""
    found: list[Path] = []
    for path in paths:
        below = sorted(path.rglob("*")) if path.is_dir() else [path]
        found += [
            one
            for one in below
            if one.is_file()
            and one.suffix.lower().lstrip(".") in suffixes
            and not any(part.startswith(".") for part in one.relative_to(path).parts)
        ]
    return found


def _fixed_part(pattern: Path) -> Path:
    """Return the folder that a pattern starts in."""
    parts = []
    for part in pattern.parts:
        if glob.has_magic(part):
            break
        parts.append(part)
    return Path(*parts)

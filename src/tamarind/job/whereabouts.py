"""Find recordings that have moved, by name and contents, beside the job or in a folder."""

from __future__ import annotations

import os
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from tamarind.audio.fingerprint import fingerprint, is_whole
from tamarind.job.recording import Recording

DEEPEST = 4
MOST_FOLDERS = 2_000
"""So many folders are looked into at most: nobody's whole disk is gone through."""


def missing(recordings: Sequence[Recording]) -> list[Recording]:
    """Return the recordings whose file is not there."""
    return [recording for recording in recordings if not recording.path.is_file()]


def found_again(recordings: Sequence[Recording], folder: Path) -> list[Recording]:
    """Return recordings with their new paths in or below a folder, as far as they are found.

    A file is the recording's if it has its name and, where that is known, its contents.
    """
    wanted = {recording.path.name for recording in recordings}
    by_name: dict[str, list[Path]] = {}
    for path in _files(folder):
        if path.name in wanted:
            by_name.setdefault(path.name, []).append(path)
    owned = ((one, _own(one, by_name.get(one.path.name, []))) for one in recordings)
    return [replace(one, path=own) for one, own in owned if own is not None]


def _own(recording: Recording, paths: Sequence[Path]) -> Path | None:
    for path in sorted(paths, key=lambda one: len(one.parts)):
        try:
            known = is_whole(recording.fingerprint)
            if not known or fingerprint(path) == recording.fingerprint:
                return path
        except OSError:
            continue
    return None


def _files(folder: Path) -> list[Path]:
    found: list[Path] = []
    base = len(folder.parts)
    for looked, (root, folders, names) in enumerate(os.walk(folder)):
        here = Path(root)
        if looked >= MOST_FOLDERS:
            break
        if len(here.parts) - base >= DEEPEST:
            folders.clear()
        folders[:] = sorted(name for name in folders if not name.startswith("."))
        found += [here / name for name in sorted(names)]
    return found

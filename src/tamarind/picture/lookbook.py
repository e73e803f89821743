"""Which looks there are: those that ship, and a person's own, kept as files."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import replace
from pathlib import Path

from tamarind.picture.looks import (
    SUFFIX,
    Box,
    Coming,
    Face,
    Fit,
    Ground,
    Letters,
    Look,
    LookError,
    Place,
    Second,
    Side,
    SpeakerSign,
    Standing,
    Weight,
    Words,
    read_look,
)
from tamarind.system.files import read_file, write_whole
from tamarind.system.folders import data_home

USUAL_LOOK = "slate"
LARGEST = 1 << 18

_NO_BOX = Ground(Box.NONE)
_OUTLINED = Letters(outline=0.085, shadow=0.06)

SHIPPED = {
    "slate": Look("Slate"),
    "still-water": Look(
        "Still water",
        Letters(colour="#f3f0e4", size=0.05),
        Ground(Box.BLOCK, "#12343b", 0.86, 0.42, 0.3),
    ),
    "birch": Look(
        "Birch",
        Letters(colour="#1d2b28", weight=Weight.SEMIBOLD),
        Ground(Box.LINES, "#f6f1e2", 0.94, 0.3, 0.1),
        second=Second(colour="#4a3f2a"),
    ),
    "ink": Look("Ink", _OUTLINED, _NO_BOX),
    "lantern": Look("Lantern", replace(_OUTLINED, colour="#ffe9a8", weight=Weight.BOLD), _NO_BOX),
    "footnote": Look(
        "Footnote",
        Letters(Face.BOOK, size=0.043, colour="#f6f3ea"),
        Ground(Box.BLOCK, "#1a1a1a", 0.8, 0.5, 0.0),
        Standing(side=Side.LEFT, width=0.62),
    ),
    "field-notes": Look(
        "Field notes",
        Letters(Face.TYPED, Weight.REGULAR, 0.04, "#e9f2ea"),
        Ground(Box.LINES, "#20302a", 0.88, 0.34, 0.0),
        Standing(side=Side.LEFT, width=0.7),
    ),
    "two-voices": Look(
        "Two voices",
        ground=Ground(Box.LINES, "#0d1518", 0.85, 0.3, 0.15),
        words=Words(speakers=SpeakerSign.COLOUR),
    ),
    "named": Look(
        "Named",
        Letters(size=0.048),
        Ground(Box.BLOCK, "#101418", 0.82, 0.4, 0.18),
        words=Words(speakers=SpeakerSign.NAME),
    ),
    "stepping-stones": Look(
        "Stepping stones",
        replace(_OUTLINED, size=0.058, weight=Weight.BOLD),
        _NO_BOX,
        words=Words(Coming.WORDS),
    ),
    "torch": Look(
        "Torch",
        Letters(size=0.06, weight=Weight.BOLD, colour="#f4f1e8"),
        Ground(Box.BLOCK, "#231a2e", 0.86, 0.36, 0.3),
        words=Words(Coming.LIT, lit="#ffb86b"),
    ),
    "signpost": Look(
        "Signpost",
        Letters(size=0.085, weight=Weight.BOLD, outline=0.1, shadow=0.08),
        _NO_BOX,
        Standing(Place.FREE, across=0.5, down=0.62, width=0.86, line_height=1.12),
        Words(Coming.LIT, lit="#ffd166"),
        fit=Fit(line_length=18, lines=1),
    ),
    "high-ground": Look(
        "High ground",
        Letters(size=0.048),
        Ground(Box.LINES, "#000000", 0.8, 0.28, 0.12),
        Standing(Place.TOP),
    ),
}
"""The looks that come with Tamarind, by the key under which a job keeps them."""


def folder() -> Path:
    """Where a person's own looks lie."""
    return data_home() / "looks"


def key_of(name: str) -> str:
    """The key of a look with this name."""
    return re.sub(r"[^\w]+", "-", name.casefold()).strip("-") or "look"


def own_looks() -> dict[str, Look]:
    """A person's own by key; ``unreadable`` tells of files that are none."""
    return _on_the_shelf()[0]


def unreadable() -> list[str]:
    """What is wrong with files of looks that cannot be read, a sentence each."""
    return _on_the_shelf()[1]


def _on_the_shelf() -> tuple[dict[str, Look], list[str]]:
    found: dict[str, Look] = {}
    wrong: list[str] = []
    for path in sorted(folder().glob(f"*{SUFFIX}")) if folder().is_dir() else ():
        try:
            found[path.name.removesuffix(SUFFIX)] = look_from(path)
        except LookError as error:
            wrong.append(f"A look of yours, “{path.name}”, cannot be used. {error}")
    return found, wrong


def look_from(path: Path) -> Look:
    """The look in a file; raises LookError."""
    try:
        data = read_file(path, LARGEST)
        return read_look(data.decode("utf-8-sig"))
    except (OSError, UnicodeDecodeError) as error:
        raise LookError(f"“{path.name}” cannot be read as a look ({error}).") from None


def keep(key: str, look: Look) -> None:
    """Keep a look for all jobs; raises OSError."""
    folder().mkdir(parents=True, exist_ok=True)
    write_whole(folder() / f"{key}{SUFFIX}", look.packed().encode())


def discard(key: str) -> None:
    """Do without a look of the person's own; raises OSError."""
    (folder() / f"{key}{SUFFIX}").unlink(missing_ok=True)


def find(named: str, more: Iterable[tuple[str, Look]] = ()) -> Look:
    """A look by key, name or file; raises LookError for one that is not there."""
    known = {**SHIPPED, **own_looks(), **dict(more)}
    if named in known:
        return known[named]
    for look in known.values():
        if look.name.casefold() == named.casefold():
            return look
    if named.endswith(".json") or "/" in named:
        return look_from(Path(named))
    raise LookError(f"There is no look “{named}”; there are {', '.join(known)}.")

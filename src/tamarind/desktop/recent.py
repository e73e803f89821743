"""The jobs that were open lately, the last one first."""

from __future__ import annotations

from pathlib import Path

from tamarind.desktop import personal

KEPT = "recent jobs"
MOST = 12


def recent() -> list[Path]:
    """Those that are still there."""
    paths = [Path(text) for text in personal.read(KEPT, []) if isinstance(text, str)]
    return [path for path in paths if path.is_file()]


def remember(path: Path) -> None:
    """A job has been opened."""
    text = str(path.absolute())
    others = [one for one in personal.read(KEPT, []) if isinstance(one, str) and one != text]
    personal.keep(KEPT, [text, *others][:MOST])


def follow(old: Path, new: Path) -> None:
    """A job is called otherwise now."""
    texts = [str(new.absolute()) if text == str(old.absolute()) else text
             for text in personal.read(KEPT, [])]  # fmt: skip
    personal.keep(KEPT, texts)

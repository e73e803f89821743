"""The shipped icons, drawn for this program."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtGui import QIcon

_FOLDER = Path(__file__).parent / "icons"


def icon(name: str) -> QIcon:
    """Return the icon of this name, sharp at any size."""
    return QIcon(path_of(name))


def path_of(name: str) -> str:
    """Return the path of an icon for the style sheet."""
    return (_FOLDER / f"{name}.svg").as_posix()

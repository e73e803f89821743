"""The shipped icons, drawn for this program, as Qt icons."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtGui import QIcon

_FOLDER = Path(__file__).parent / "icons"


def icon(name: str) -> QIcon:
    """The icon of this name, sharp at any size."""
    return QIcon(path_of(name))


def path_of(name: str) -> str:
    """Where the icon's file is, as a style sheet wants it."""
    return (_FOLDER / f"{name}.svg").as_posix()

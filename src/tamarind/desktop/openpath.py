"""Open a file or a folder with the desktop."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QUrl
from PySide6.QtGui import QDesktopServices


def open_path(path: Path) -> None:
    """Open a file or folder in the program that the desktop has for it."""
    QDesktopServices.openUrl(QUrl.fromLocalFile(str(path)))

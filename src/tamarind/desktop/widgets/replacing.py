"""Ask before existing files are overwritten."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QMessageBox, QWidget

MOST_NAMES = 8


def may_replace(names: Sequence[str], parent: QWidget) -> bool:
    """Ask whether these files may be overwritten."""
    listed = "\n".join(names[:MOST_NAMES]) + ("\n…" if len(names) > MOST_NAMES else "")
    answer = QMessageBox.question(
        parent, "Replace files?", f"{len(names)} of these files already exist:\n\n{listed}"
    )
    return answer == QMessageBox.StandardButton.Yes

"""Caption files that came with recordings, offered as their text."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from tamarind.application.session import Session
from tamarind.desktop.widgets.parts import ElidedLabel, button, clear

MOST_SHOWN = 3


class Offers(QWidget):
    """Shows one line for each file, with what to do with it; nothing where there is none."""

    def __init__(self, session: Session, take: Callable[[int, Path], None]) -> None:
        super().__init__()
        self._session, self._take = session, take
        self._open: list[tuple[int, Path]] = []
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 17, 6)
        self._column.setSpacing(6)
        self.hide()

    def offer(self, recording_id: int, path: Path) -> None:
        """Offer a file as the text of a recording."""
        if (recording_id, path) not in self._open:
            self._open.append((recording_id, path))
            self._show()

    def _show(self) -> None:
        self._open = [pair for pair in self._open if self._session.recordings.has(pair[0])]
        clear(self._column)
        for recording_id, path in self._open[:MOST_SHOWN]:
            self._column.addWidget(self._line(recording_id, path))
        self.setVisible(bool(self._open))

    def _line(self, recording_id: int, path: Path) -> QFrame:
        frame = QFrame()
        frame.setObjectName("offer")
        row = QHBoxLayout(frame)
        row.setContentsMargins(14, 6, 14, 6)
        row.setSpacing(14)
        name = self._session.recordings.get(recording_id).path.name
        has_text = bool(self._session.texts.transcript(recording_id).cues)
        what = "could replace the text" if has_text else "looks like the text"
        row.addWidget(ElidedLabel(f"{path.name} {what} of {name}"), 1)
        row.addWidget(
            button("Import", lambda: self._decide(recording_id, path, True), "link",
                   name=f"Take {path.name} as the text of {name}")
        )  # fmt: skip
        row.addWidget(
            button("Ignore", lambda: self._decide(recording_id, path, False), "link",
                   name=f"Leave {path.name}")
        )  # fmt: skip
        if len(self._open) > 1:
            row.addWidget(button(f"Import all {len(self._open)}", self._take_all, "link"))
        return frame

    def _decide(self, recording_id: int, path: Path, take: bool) -> None:
        self._open.remove((recording_id, path))
        if take:
            self._take(recording_id, path)
        self._show()

    def _take_all(self) -> None:
        wanted, self._open = self._open, []
        for recording_id, path in wanted:
            self._take(recording_id, path)
        self._show()

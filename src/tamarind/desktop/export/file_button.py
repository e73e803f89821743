"""A file of the export list: a click shows it, a drag takes it elsewhere, its menu opens it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import QMimeData, QPointF, Qt, QTemporaryDir, QUrl
from PySide6.QtGui import QContextMenuEvent, QDrag, QMouseEvent
from PySide6.QtWidgets import QApplication, QMenu, QPushButton

from tamarind.application.failures import sentence_of
from tamarind.desktop.openpath import open_path
from tamarind.system.files import write_whole


class FileButton(QPushButton):
    """``place`` returns where the file will be, or is; ``make`` writes it to a folder for a drag
    and returns its path there, or None if it cannot be written."""

    def __init__(
        self, name: str, place: Callable[[], Path], make: Callable[[], Path | None]
    ) -> None:
        super().__init__(name)
        self.setProperty("role", "choice")
        self.setCheckable(True)
        self.setAccessibleName(name)
        self._place, self._make = place, make
        self._pressed: QPointF | None = None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Note where a drag may begin."""
        self._pressed = event.position()
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Drag the file to another program."""
        if self._pressed is None or not event.buttons() & Qt.MouseButton.LeftButton:
            return
        moved = (event.position() - self._pressed).manhattanLength()
        if moved < QApplication.startDragDistance():
            return
        self._pressed = None
        self.setDown(False)
        data = self.dragged()
        if data is not None:
            drag = QDrag(self)
            drag.setMimeData(data)
            drag.exec(Qt.DropAction.CopyAction)

    def dragged(self) -> QMimeData | None:
        """Write the file and return what a drag hands over; None if it cannot be written."""
        made = self._make()
        if made is None:
            return None
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(made))])
        return data

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        """Show what can be done with the written file."""
        menu = QMenu(self)
        place = self._place()
        there = place.exists()
        for text, path in (("Open", place), ("Show in folder", place.parent)):
            menu.addAction(text, partial(open_path, path)).setEnabled(there)
        clipboard = QApplication.clipboard()
        menu.addAction("Copy the path", lambda: clipboard.setText(str(place)))
        menu.aboutToHide.connect(menu.deleteLater)
        menu.popup(event.globalPos())


class DragFolder:
    """A temporary folder for the files that are dragged out; ``say`` tells failures."""

    def __init__(self, say: Callable[[str], object]) -> None:
        self._say = say
        self._folder: QTemporaryDir | None = None

    def write(self, name: str, make: Callable[[], bytes]) -> Path | None:
        """Write a file and return its path; None if it cannot be written."""
        if self._folder is None:
            self._folder = QTemporaryDir()
        target = Path(self._folder.path()) / name
        try:
            write_whole(target, make())
        except OSError as error:
            self._say(f"{name}: {error.strerror or error}.")
        except Exception as error:
            self._say(f"{name}: {sentence_of(error, 'writing a document')}")
        else:
            return target
        return None

"""A widget that stands below a row of a sheet and scrolls with it."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QAbstractScrollArea, QWidget

from tamarind.desktop.editor.content import Content
from tamarind.desktop.editor.geometry import RowGeometry

_LEFT, _RIGHT, _GAP = 26, 28, 10


class Overlay(QObject):
    """Shows one widget at a time. It belongs to an item of the content, whose row may change."""

    def __init__(
        self,
        area: QAbstractScrollArea,
        content: Content,
        geometry: RowGeometry,
        row_of: Callable[[int], int | None],
    ) -> None:
        """``row_of`` returns the row of an item, or None if it is gone."""
        super().__init__(area)
        self._area, self._content, self._geometry = area, content, geometry
        self._row_of = row_of
        self._open: tuple[int, QWidget] | None = None
        geometry.more_room = self._room_below
        area.verticalScrollBar().valueChanged.connect(self.follow)

    @property
    def thing(self) -> int | None:
        """The item that the open widget belongs to."""
        return self._open[0] if self._open else None

    def open(self, widget: QWidget, thing: int) -> None:
        """Show a widget below an item, closing the one that is open."""
        self.close()
        self._open = (thing, widget)
        widget.setParent(self._area.viewport())
        widget.show()
        self._make_room(thing)

    def close(self) -> None:
        """Close the widget."""
        if self._open is not None:
            thing, widget = self._open
            self._open = None
            widget.hide()
            widget.deleteLater()
            self._make_room(thing)

    def move_to(self, thing: int) -> None:
        """Attach the widget to another item, or to the same one at another place."""
        if self._open is not None:
            before, widget = self._open
            self._open = (thing, widget)
            self._make_room(before)
            self._make_room(thing)

    def follow(self) -> None:
        """Move to the item's current row; close if it is gone."""
        if self._open is None or not self._content.row_count():
            return
        thing, widget = self._open
        row = self._row_of(thing)
        if row is None:
            self.close()
            return
        top = round(self._geometry.text_area(row).bottom()) + _GAP
        width = self._area.viewport().width() - _LEFT - _RIGHT
        widget.setGeometry(_LEFT, top, width, widget.height())

    def _room_below(self, row: int) -> float:
        if self._open is None or self._row_of(self._open[0]) != row:
            return 0.0
        return self._open[1].height() + _GAP

    def _make_room(self, thing: int) -> None:
        row = self._row_of(thing)
        if row is not None:
            self._geometry.measure(row)
            self._geometry.show_row(row)
        self.follow()
        self._area.viewport().update()

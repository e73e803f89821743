"""Bring what is spoken into view, line by line in a paragraph that is higher than the view."""

from __future__ import annotations

from PySide6.QtWidgets import QAbstractScrollArea

from tamarind.desktop.editor.following import Heard
from tamarind.desktop.editor.geometry import RowGeometry
from tamarind.desktop.proof.spots import Spots

ROOM = 60
"""A line nearer than this to an edge of the view (px) is not seen well."""


class InView:
    """Scrolls a sheet of paragraphs."""

    def __init__(self, area: QAbstractScrollArea, spots: Spots, geometry: RowGeometry) -> None:
        self._area, self._spots, self._geometry = area, spots, geometry

    def show(self, heard: Heard, row: int) -> None:
        """Scroll to a row, or in one higher than the view to the line that is spoken."""
        geometry, height = self._geometry, self._geometry.height_in_view()
        if geometry.row_area(row).height() <= height - 2 * ROOM:
            geometry.show_row(row)
            return
        geometry.measure(row)
        words = self._spots.words(row)
        text = geometry.text_area(row)
        word = next((w for w in words if (w.cue, w.place) == heard), words[0] if words else None)
        y = geometry.span_area(row, word.span, text).center().y() if word else text.top()
        if not ROOM <= y <= height - ROOM:
            bar = self._area.verticalScrollBar()
            bar.setValue(round(bar.value() + y - height / 3))

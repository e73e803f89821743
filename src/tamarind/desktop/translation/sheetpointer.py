"""The mouse on the translation sheet: clicks in the margin and, with Ctrl, on texts play the
sound."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QMouseEvent

from tamarind.desktop.editor.pointer import Pointer
from tamarind.desktop.editor.sheet import Sheet
from tamarind.desktop.translation.sheetlayers import SourceSound
from tamarind.desktop.translation.tracktext import TrackText
from tamarind.desktop.widgets.margin import is_in_margin


class TranslationPointer(Pointer):
    """Knows what lies beside the translations."""

    def __init__(
        self, sheet: Sheet, text: TrackText, sound: SourceSound, play: Callable[[int], object]
    ) -> None:
        """``play`` plays from a time (ms)."""
        super().__init__(sheet, sheet.row_geometry, sheet.caret, sheet.editing)
        self._viewport = sheet.viewport()
        self._text, self._sound, self._play = text, sound, play
        sheet.setMouseTracking(True)

    def press(self, event: QMouseEvent) -> None:
        """Play from the margin, or with Ctrl from a text's cue."""
        x, y = event.position().x(), event.position().y()
        row = self.geometry.row_at(y)
        if event.button() is Qt.MouseButton.LeftButton and row is not None:
            if is_in_margin(x):
                self._caret.set((row, 0))
                self._play(self._sound.time_at(row, self.geometry.text_area(row), y))
                return
            if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
                self._caret.set((row, 0))
                self._play(self._text.transcript.cues[row].start)
                return
        super().press(event)

    def move(self, event: QMouseEvent) -> None:
        """Show a hand over what a click plays."""
        super().move(event)
        over = is_in_margin(event.position().x()) and (
            self.geometry.row_at(event.position().y()) is not None
        )
        self._viewport.setCursor(
            Qt.CursorShape.PointingHandCursor if over else Qt.CursorShape.IBeamCursor
        )

    def told_at(self, point: QPointF) -> str:
        """Return the tooltip of the margin, or of a comment that is cut short."""
        row = self.geometry.row_at(point.y())
        if row is None:
            return ""
        if is_in_margin(point.x()):
            return self._sound.told_at(row, self.geometry.text_area(row), point.y())
        if point.x() > self.geometry.text_area(row).right():
            return self._text.comment(row)
        return ""

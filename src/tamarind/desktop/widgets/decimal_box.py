"""A field for decimal numbers that takes a point or a comma, whatever the system's language."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QDoubleSpinBox

if TYPE_CHECKING:
    from PySide6.QtGui import QValidator


class DecimalBox(QDoubleSpinBox):
    """Shows numbers in the form of the system's language."""

    def validate(self, text: str, place: int) -> tuple[QValidator.State, str, int]:
        """Check that a text is a number; a point counts as a comma, and the other way round."""
        return super().validate(self._as_here(text), place)

    def valueFromText(self, text: str) -> float:
        """Return the number that was typed."""
        return super().valueFromText(self._as_here(text))

    def _as_here(self, text: str) -> str:
        mark = self.locale().decimalPoint()
        if mark not in ".," or mark in text:
            return text
        return text.replace("." if mark == "," else ",", mark)

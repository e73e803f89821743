"""A number with decimals, typed with a point or a comma, whatever the person's language writes."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QDoubleSpinBox

if TYPE_CHECKING:
    from PySide6.QtGui import QValidator


class DecimalBox(QDoubleSpinBox):
    """Shows numbers as the person's language does."""

    def validate(self, text: str, place: int) -> tuple[QValidator.State, str, int]:
        """Whether a text is a number; a point is taken for a comma, and the other way round."""
        return super().validate(self._as_here(text), place)

    def valueFromText(self, text: str) -> float:
        """The number of what was typed."""
        return super().valueFromText(self._as_here(text))

    def _as_here(self, text: str) -> str:
        mark = self.locale().decimalPoint()
        if mark not in ".," or mark in text:
            return text
        return text.replace("." if mark == "," else ",", mark)

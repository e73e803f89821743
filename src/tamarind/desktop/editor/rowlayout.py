"""Lay out one row of text in lines of a width."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QTextLayout, QTextLine, QTextOption

from tamarind.transcript.direction import is_right_to_left

LINE_SPACING = 1.16
LINE_SEPARATOR = "\u2028"


def lay_out(layout: QTextLayout, width: float, hanging: float = 0.0) -> float:
    """Break a layout's text into lines of ``width``; return the height.

    Where the width alone breaks a line, what is left of it is set in by ``hanging``. A text that
    runs from right to left begins at the right.
    """
    text = layout.text()
    from_right = is_right_to_left(text)
    option = QTextOption()
    if from_right:
        option.setTextDirection(Qt.LayoutDirection.RightToLeft)
        option.setAlignment(Qt.AlignmentFlag.AlignRight)
    option.setWrapMode(QTextOption.WrapMode.WrapAtWordBoundaryOrAnywhere)
    option.setFlags(QTextOption.Flag.IncludeTrailingSpaces)
    layout.setTextOption(option)
    layout.setCacheEnabled(True)
    layout.beginLayout()
    y = 0.0
    while (line := layout.createLine()).isValid():
        first = line.textStart()
        begins = first == 0 or text[first - 1] == LINE_SEPARATOR
        left = 0.0 if begins else hanging
        line.setLineWidth(width - left)
        line.setPosition(QPointF(0.0 if from_right else left, y))
        y += line.height() * LINE_SPACING
    layout.endLayout()
    return y


def line_x(line: QTextLine, offset: int) -> float:
    """Return the x of the edge before the character at ``offset`` in a line."""
    x: Any = line.cursorToX(offset)
    return float(x[0] if isinstance(x, tuple) else x)

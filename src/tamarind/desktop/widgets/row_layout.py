"""Laying out one row of text in lines of a width."""

from __future__ import annotations

from PySide6.QtCore import QPointF
from PySide6.QtGui import QTextLayout, QTextLine, QTextOption

LINE_SPACING = 1.16


def lay_out(layout: QTextLayout, width: float) -> float:
    """Break a layout's text into lines of ``width``; returns the height."""
    option = QTextOption()
    option.setWrapMode(QTextOption.WrapMode.WrapAtWordBoundaryOrAnywhere)
    option.setFlags(QTextOption.Flag.IncludeTrailingSpaces)
    layout.setTextOption(option)
    layout.setCacheEnabled(True)
    layout.beginLayout()
    y = 0.0
    while (line := layout.createLine()).isValid():
        line.setLineWidth(width)
        line.setPosition(QPointF(0, y))
        y += line.height() * LINE_SPACING
    layout.endLayout()
    return y


def line_x(line: QTextLine, offset: int) -> float:
    """Where a line has the edge before the character at ``offset``."""
    x = line.cursorToX(offset)
    return float(x[0] if isinstance(x, tuple) else x)

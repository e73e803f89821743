"""Dressing the application: palette and style sheet, by day or by night."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from PySide6.QtGui import QColor, QPalette
from PySide6.QtWidgets import QApplication

from tamarind.desktop.theme import colours
from tamarind.desktop.theme.style import style


def apply(app: QApplication, dark: bool) -> None:
    """Take the theme; all that is painted takes its colours anew."""
    colours.use(dark)
    palette = QPalette(QColor(colours.PAPER))
    role = QPalette.ColorRole
    for part, colour in (
        (role.Window, colours.PAPER),
        (role.WindowText, colours.INK),
        (role.Base, colours.SHEET),
        (role.Text, colours.INK),
        (role.ButtonText, colours.INK),
        (role.PlaceholderText, colours.GREY),
        (role.Highlight, colours.LEAF_PALE),
        (role.HighlightedText, colours.INK),
        (role.Link, colours.LEAF_TEXT),
    ):
        palette.setColor(part, QColor(colour))
    app.setPalette(palette)
    app.setStyleSheet(style())


@contextmanager
def unstyled(app: QApplication) -> Iterator[None]:
    """What is built within gets its style at the end, all at once.

    Qt gives a widget its style anew whenever it, or what it lies in, is put into another: with a
    window built from the inside out that is four fifths of the time.
    """
    style = app.styleSheet()
    app.setStyleSheet("")
    try:
        yield
    finally:
        app.setStyleSheet(style)

"""Apply palette and style sheet to the application, light or dark."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from PySide6.QtGui import QColor, QPalette
from PySide6.QtWidgets import QApplication

from tamarind.desktop.theme import colours
from tamarind.desktop.theme.style import style


def apply(app: QApplication, dark: bool, high_contrast: bool = False) -> None:
    """Apply the theme; painted widgets are painted again."""
    colours.use(dark, high_contrast)
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
    """Within this context, widgets are made without the style sheet, which is applied to all at its
    end.

    Qt gives a widget its style anew whenever it, or what it lies in, is put into another: with a
    window built from the inside out that is four fifths of the time.
    """
    style = app.styleSheet()
    app.setStyleSheet("")
    try:
        yield
    finally:
        app.setStyleSheet(style)

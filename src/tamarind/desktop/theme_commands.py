"""The commands for the colours of the window: dark or light, high contrast."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QApplication, QWidget

from tamarind.application import personal
from tamarind.desktop.commands import command
from tamarind.desktop.theme import colours
from tamarind.desktop.theme.apply import apply

if TYPE_CHECKING:
    from tamarind.desktop.window import MainWindow


class ThemeCommands:
    """Change the colours of everything, and remember them for all jobs."""

    def __init__(self, window: MainWindow) -> None:
        self._window = window

    @command("Dark theme", "View", "Ctrl+Shift+L", also="night light colours")
    def dark(self) -> None:
        """Switch between the light and the dark theme."""
        self.set_dark(not colours.is_dark())

    @command("High contrast", "View", also="accessibility visibility", name="high_contrast")
    def change_contrast(self) -> None:
        """Switch between the ordinary colours and those of high contrast."""
        personal.keep(personal.HIGH_CONTRAST, not colours.has_high_contrast())
        self._restyle(colours.is_dark(), not colours.has_high_contrast())

    def set_dark(self, dark: bool) -> None:
        """Choose the dark or the light theme."""
        personal.keep(personal.DARK, dark)
        self._restyle(dark, colours.has_high_contrast())

    def _restyle(self, dark: bool, high_contrast: bool) -> None:
        app = QApplication.instance()
        if isinstance(app, QApplication):
            apply(app, dark, high_contrast)
        self._window.transport.restyle()
        for widget in self._window.findChildren(QWidget):
            widget.update()

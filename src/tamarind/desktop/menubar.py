"""The window's menus: a bar, or one button where the window is narrow or the person prefers it."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QMainWindow, QMenu

from tamarind.application import personal
from tamarind.desktop.commands import command

NARROW = 1040
"""In a window narrower than this (px) the menus are behind a button."""


class MenuBar(QObject):
    """Shows the same menus in either form; ``compact`` holds all of them."""

    opened = Signal()

    def __init__(self, window: QMainWindow, menus: Sequence[QMenu]) -> None:
        super().__init__(window)
        self._window = window
        self.bar = window.menuBar()
        self.bar.setNativeMenuBar(False)
        self.compact = QMenu(window)
        for menu in menus:
            self.bar.addMenu(menu)
            self.compact.addMenu(menu)
            menu.aboutToShow.connect(self.opened)

    @property
    def is_compact(self) -> bool:
        """Whether the menus are behind a button."""
        return self._window.width() < NARROW or not personal.read(personal.MENU_BAR)

    def fit(self) -> None:
        """Show the bar or the button."""
        self.bar.setVisible(not self.is_compact)
        button = self.compact.property("button")
        if button is not None:
            button.setVisible(self.is_compact)

    @command("Menu bar or compact menu", "View", name="menu_bar_shown")
    def change(self) -> None:
        """Switch to the other form, which is remembered."""
        personal.keep(personal.MENU_BAR, not personal.read(personal.MENU_BAR))
        self.fit()

    @command("Open the menu", "View", "F10", name="open_menu")
    def open(self) -> None:
        """Open the first menu, as F10 does everywhere."""
        if self.is_compact:
            self.compact.property("button").showMenu()
        else:
            self.bar.setActiveAction(self.bar.actions()[0])

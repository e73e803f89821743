"""The commands as the window's actions: their keys, the menu, and whether they may act now."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMenu, QWidget

from tamarind.desktop import keys
from tamarind.desktop.commands import MENU, Command, Where, commands_of

Extra = QAction | QMenu


class CommandBar(QObject):
    """Every action asks whether its command may act, wherever it was given from."""

    refused = Signal(str)
    """A command may not act here; a sentence says why not."""

    def __init__(
        self, window: QWidget, where: Callable[[], Where], go_to: Callable[[str], object]
    ) -> None:
        """``where`` tells what the window shows now, ``go_to`` opens a page."""
        super().__init__(window)
        self._window, self._where, self._go_to = window, where, go_to
        self._made: dict[str, tuple[Command, QAction]] = {}

    def add(self, *owners: object) -> None:
        """Take in the commands that the owners' methods are."""
        for owner in owners:
            for command, do in commands_of(owner):
                action = QAction(command.label, self._window)
                action.setShortcutContext(Qt.ShortcutContext.WindowShortcut)
                action.triggered.connect(
                    lambda _=False, command=command, do=do: self._give(command, do)
                )
                self._window.addAction(action)
                self._made[command.name] = command, action
        self.give_keys()

    def run(self, name: str) -> None:
        """Give a command by its name."""
        self._made[name][1].trigger()

    def action(self, name: str) -> QAction:
        """What a command is in menus."""
        return self._made[name][1]

    def commands(self) -> list[Command]:
        """All that there are."""
        return [command for command, _ in self._made.values()]

    def give_keys(self) -> None:
        """Every action has the keys that its command has now."""
        for command, action in self._made.values():
            own = command.keys if command.fixed else keys.current().of(command.name)
            action.setShortcuts([QKeySequence(key) for key in own])

    def menu(self, extras: Mapping[tuple[str, int], Extra]) -> QMenu:
        """The menu; ``extras`` stand in it by their parts and places too."""
        menu = QMenu(self._window)
        placed: dict[tuple[str, int], Extra] = dict(extras)
        for command, action in self._made.values():
            if command.menu is not None:
                placed[command.menu] = action
        for part, title in MENU.items():
            if not title and not menu.isEmpty():
                menu.addSeparator()
            into = menu.addMenu(title) if title else menu
            for _, what in sorted(
                ((place[1], what) for place, what in placed.items() if place[0] == part),
                key=lambda entry: entry[0],
            ):
                if isinstance(what, QMenu):
                    into.addMenu(what)
                else:
                    into.addAction(what)
        return menu

    def _give(self, command: Command, do: Callable[[], object]) -> None:
        if command.opens is not None and self._where().page != command.opens:
            self._go_to(command.opens)
        if command.needs.holds(self._where()):
            do()
        else:
            self.refused.emit(command.needs.sentence)

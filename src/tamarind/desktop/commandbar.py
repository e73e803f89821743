"""Make the window's actions and menus from its commands, with keys and conditions."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMenu, QWidget

from tamarind.desktop import keys
from tamarind.desktop.commands import (
    MENUS,
    Command,
    Need,
    Where,
    commands_of,
    done_elsewhere,
)

Extra = QAction | QMenu


class CommandBar(QObject):
    """The actions; each asks whether its command may act, however it was triggered."""

    refused = Signal(str)
    """A command may not act here; a sentence says why not."""

    def __init__(
        self, window: QWidget, where: Callable[[], Where], go_to: Callable[[str], object]
    ) -> None:
        """``where`` returns what the window shows now, ``go_to`` opens a page."""
        super().__init__(window)
        self._window, self._where, self._go_to = window, where, go_to
        self._made: dict[str, tuple[Command, QAction]] = {}
        self._elsewhere: dict[str, list[tuple[Need, Callable[[], object]]]] = {}

    def add(self, *owners: object) -> None:
        """Add the commands among the methods of objects."""
        for owner in owners:
            for command, do in commands_of(owner):
                action = QAction(command.label, self._window)
                action.setShortcutContext(Qt.ShortcutContext.WindowShortcut)
                action.triggered.connect(
                    lambda _=False, command=command, do=do: self._give(command, do)
                )
                self._window.addAction(action)
                self._made[command.name] = command, action
            for one, do in done_elsewhere(owner):
                self._elsewhere.setdefault(one.name, []).append((one.needs, do))
        self.give_keys()

    def run(self, name: str) -> None:
        """Run a command by its name."""
        self._made[name][1].trigger()

    def may_act(self, name: str) -> bool:
        """Whether a command may act on what is shown now."""
        here = self._where()
        ways = (self._made[name][0].needs, *(needs for needs, _ in self._elsewhere.get(name, ())))
        return any(needs.holds(here) for needs in ways)

    def action(self, name: str) -> QAction:
        """Return the action of a command."""
        return self._made[name][1]

    def commands(self) -> list[Command]:
        """Return all commands."""
        return [command for command, _ in self._made.values()]

    def give_keys(self) -> None:
        """Give every action the current keys of its command."""
        for command, action in self._made.values():
            own = command.keys if command.fixed else keys.current().of(command.name)
            action.setShortcuts([QKeySequence(key) for key in own])

    def menus(self, extras: Mapping[str, Sequence[Extra]]) -> list[QMenu]:
        """Make the menus, which are filled when opened; ``extras`` are appended to the menus with
        these titles."""
        return [self._menu(title, groups, extras.get(title, ())) for title, groups in MENUS.items()]

    def _menu(self, title: str, groups: Sequence[str], extras: Sequence[Extra]) -> QMenu:
        menu = QMenu(title, self._window)

        def fill() -> None:
            if not menu.isEmpty():
                return
            first, *others = groups
            self._fill(menu, first)
            if others:
                menu.addSeparator()
            for group in others:
                self._fill(menu.addMenu(group), group)
            if extras:
                menu.addSeparator()
            for extra in extras:
                menu.addMenu(extra) if isinstance(extra, QMenu) else menu.addAction(extra)
            self._fill(menu, first, last=True)

        menu.aboutToShow.connect(fill)
        return menu

    def _fill(self, menu: QMenu, group: str, last: bool = False) -> None:
        made = [
            one
            for one in self._made.values()
            if one[0].group == group and one[0].together is None and one[0].last == last
        ]
        for _, action in sorted(made, key=lambda one: not one[0].first):
            menu.addAction(action)

    def _give(self, command: Command, do: Callable[[], object]) -> None:
        here = self._where()
        for needs, do_here in self._elsewhere.get(command.name, ()):
            if needs.holds(here):
                do_here()
                return
        if command.opens is not None and here.page != command.opens:
            self._go_to(command.opens)
        if command.needs.holds(self._where()):
            do()
        else:
            self.refused.emit(command.needs.sentence)

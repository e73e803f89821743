"""The commands to undo and redo, which show where the change was."""

from __future__ import annotations

from typing import TYPE_CHECKING

from tamarind.desktop.commands import command

if TYPE_CHECKING:
    from tamarind.desktop.window import MainWindow


class UndoCommands:
    """Undo and redo for all pages of a window."""

    def __init__(self, window: MainWindow) -> None:
        self._window, self._session = window, window.session

    @command("Undo", "Edit", "Ctrl+Z", first=True)
    def undo(self) -> None:
        """Take the last step back, and show where."""
        self._show_change(self._session.texts.undo(), "Nothing to undo.")

    @command("Redo", "Edit", "Ctrl+Shift+Z", "Ctrl+Y", first=True)
    def redo(self) -> None:
        """Make the last undone step again, and show where."""
        self._show_change(self._session.texts.redo(), "Nothing to redo.")

    def _show_change(self, found: tuple[int, int | None] | None, otherwise: str) -> None:
        if found is None:
            self._window.said.say(otherwise)
            return
        recording_id, place = found
        if place is None:
            if self._window.step() not in ("proof", "excerpts"):
                self._window.show_step("excerpts")
            return
        self._session.show(recording_id)
        if self._window.step() not in ("proof", "translation"):
            self._window.show_step("proof")
        self._window.proof.go_to_change(place)

    def name_undo(self) -> None:
        """Show in the menu what would be undone and redone."""
        for name, label, what in zip(
            ("undo", "redo"), ("Undo", "Redo"), self._session.texts.undo_labels(), strict=True
        ):
            self._window.commands.action(name).setText(f"{label}: {what}" if what else label)

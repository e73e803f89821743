"""The commands of the Help menu: the guide, keys, the foot pedal, what is new, details."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QApplication

from tamarind.desktop import keys
from tamarind.desktop.commands import command
from tamarind.desktop.pedals import PedalDialog
from tamarind.desktop.widgets.hints import refresh_hints
from tamarind.system.log import details

if TYPE_CHECKING:
    from tamarind.desktop.window import MainWindow


class HelpCommands:
    """Each opens a dialog over its window, or copies something."""

    def __init__(self, window: MainWindow) -> None:
        self._window = window

    @command("Keys…", "Help", "F1", also="shortcuts hotkeys keyboard")
    def keys(self) -> None:
        """Show all keys, to be looked up and changed."""
        from tamarind.desktop.keys_dialog import KeysDialog

        KeysDialog(keys.current(), self.keys_changed, self._window).exec()

    def keys_changed(self) -> None:
        """Keep the changed keys and use them."""
        keys.keep_keys(keys.current())
        self._window.commands.give_keys()
        refresh_hints(self._window)

    @command("Foot pedal…", "Tools", also="footswitch")
    def pedal(self) -> None:
        """Show the connected pedals and what they do."""
        PedalDialog(self._window.pedals, self._window).exec()

    @command("Decoded sound…", "Tools", also="cache disk space")
    def room(self) -> None:
        """Ask how much disk space decoded sound may take."""
        from tamarind.desktop.room_dialog import RoomDialog

        RoomDialog(self._window).exec()

    @command("Guide", "Help", "Shift+F1")
    def guide(self) -> None:
        """Show the guide."""
        from tamarind.desktop.help import GuideDialog

        GuideDialog(self._window).exec()

    @command("What is new", "Help")
    def news(self) -> None:
        """Show the changes of every version."""
        from tamarind.desktop.help import PageDialog, news

        PageDialog("What is new", news(), self._window).exec()

    @command("About Tamarind", "Help", also="version licence")
    def about(self) -> None:
        """Show the version and the licences."""
        from tamarind.desktop.help import PageDialog, about

        PageDialog("About Tamarind", about(), self._window).exec()

    @command("Copy details of errors", "Help", also="bug report log")
    def copy_details(self) -> None:
        """Copy versions and the end of the log, for whoever is asked for help."""
        QApplication.clipboard().setText(details())
        self._window.said.say("The details are copied; nothing of your recordings is in them.")

"""The command to find anything, and going to what was found."""

from __future__ import annotations

from typing import TYPE_CHECKING

from tamarind.desktop.commands import command

if TYPE_CHECKING:
    from tamarind.desktop.anything import Finder
    from tamarind.desktop.window import MainWindow


class AnythingCommands:
    """Asks what to find, and shows it on its page."""

    def __init__(self, window: MainWindow) -> None:
        self._window = window

    @command("Find anything…", "Edit", "Ctrl+K")
    def anything(self) -> None:
        """Ask what to find, and go there."""
        from tamarind.desktop.anything import AnythingDialog

        window = self._window
        dialog = AnythingDialog(self.finder(), window)
        if dialog.exec():
            hit = dialog.chosen()
            if hit is not None:
                hit.go()

    def finder(self) -> Finder:
        """Make a finder for this window."""
        from tamarind.desktop.anything import Finder

        commands = self._window.commands
        return Finder(
            self._window.session,
            commands.commands(),
            commands.run,
            self.go_to_text,
            self.go_to_time,
        )

    def go_to_text(self, recording_id: int, place: int, first: int, last: int) -> None:
        """Select the letters [first, last) of a cue."""
        self._window.session.show(recording_id)
        self._window.show_step("proof")
        self._window.proof.sheet.cue_caret.go_to((place, first))
        self._window.proof.sheet.cue_caret.go_to((place, last), keep_anchor=True)

    def go_to_time(self, time: int) -> None:
        """Go to a time (ms) of the shown recording."""
        self._window.show_step("proof")
        self._window.proof.listening.go_to_time(time)

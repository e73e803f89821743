"""The commands of find and replace, for the bar of the open page."""

from __future__ import annotations

from collections.abc import Callable

from tamarind.desktop.commands import command
from tamarind.desktop.finding.find_bar import FindBar

FIRST = "proof"


class FindCommands:
    """Knows the find bars of the pages; on pages without one, goes to the first."""

    def __init__(
        self, open_bar: Callable[[], FindBar | None], go_to: Callable[[str], object]
    ) -> None:
        """``open_bar`` returns the bar of the open page, or None."""
        self._open_bar, self._go_to = open_bar, go_to

    @command("Find", "Edit", "Ctrl+F", name="find")
    @command("Find and replace", "Edit", "Ctrl+H", name="replace", arguments=(True,))
    def open(self, replacing: bool = False) -> None:
        """Open the bar with the selection in it, ready to be typed over."""
        self.bar().open(replacing)

    @command("Find next", "Edit", "F3", name="find_next", arguments=(1,))
    @command("Find previous", "Edit", "Shift+F3", name="find_previous", arguments=(-1,))
    def step(self, direction: int) -> None:
        """Go to the next or previous match."""
        self.bar().step(direction)

    def bar(self) -> FindBar:
        """Return the bar of the open page; go to a page that has one if need be."""
        bar = self._open_bar()
        if bar is None:
            self._go_to(FIRST)
            bar = self._open_bar()
        assert bar is not None
        return bar

    def marks(self) -> list[int]:
        """Return the times (ms) of the matches in the shown recording."""
        bar = self._open_bar()
        return bar.marks() if bar is not None else []

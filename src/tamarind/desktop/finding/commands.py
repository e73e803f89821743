"""The commands of finding; they go to the bar of the page that is open."""

from __future__ import annotations

from collections.abc import Callable

from tamarind.desktop.commands import command
from tamarind.desktop.finding.find_bar import FindBar

FIRST = "proof"


class FindCommands:
    """Knows the find bars of the pages; from other pages it goes to the first."""

    def __init__(
        self, open_bar: Callable[[], FindBar | None], go_to: Callable[[str], object]
    ) -> None:
        """``open_bar`` tells the bar of the page that is open, if it has one."""
        self._open_bar, self._go_to = open_bar, go_to

    @command("Find", "Edit", "Ctrl+F", name="find")
    @command("Find and replace", "Edit", "Ctrl+H", name="replace", arguments=(True,))
    def open(self, replacing: bool = False) -> None:
        """Open the bar with what is selected, ready to be typed over."""
        self.bar().open(replacing)

    @command("Find next", "Edit", "F3", name="find_next", arguments=(1,))
    @command("Find previous", "Edit", "Shift+F3", name="find_previous", arguments=(-1,))
    def step(self, direction: int) -> None:
        """Go to the next or previous place."""
        self.bar().step(direction)

    def bar(self) -> FindBar:
        """That of the open page, which is gone to if it has none."""
        bar = self._open_bar()
        if bar is None:
            self._go_to(FIRST)
            bar = self._open_bar()
        assert bar is not None
        return bar

    def marks(self) -> list[int]:
        """Where in the shown recording there are places, in ms."""
        bar = self._open_bar()
        return bar.marks() if bar is not None else []

"""The commands of the Excerpts page, which is built when first needed."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from tamarind.desktop.commands import EXCERPT, command

if TYPE_CHECKING:
    from tamarind.desktop.excerpts.screen import ExcerptsScreen


class ExcerptCommands:
    """Passes each command on to the page."""

    def __init__(self, page: Callable[[], ExcerptsScreen]) -> None:
        self._page = page

    @command(
        "Play the excerpts in order", "Excerpts", "Ctrl+Shift+A", name="play_excerpts",
        opens="excerpts", needs=EXCERPT,
    )  # fmt: skip
    def play_all(self) -> None:
        """Play all shown excerpts from the selected one on; given again, stop."""
        self._page().play_all()

    @command(
        "Propose smooth cuts…", "Excerpts", "Ctrl+Shift+C", name="smooth",
        opens="excerpts", needs=EXCERPT,
    )  # fmt: skip
    def smooth(self) -> None:
        """Propose cuts of fillers, false starts and pauses, to be heard and ticked."""
        self._page().smooth()

    @command(
        "Write excerpts…", "Excerpts", "Ctrl+Shift+Q", name="write_excerpts",
        opens="excerpts", needs=EXCERPT, also="clips quotes edl xml cut list")  # fmt: skip
    def write(self) -> None:
        """Write sound, videos, captions, edit lists or the quotation sheet of the shown
        excerpts."""
        self._page().write()

"""The commands of the Translation page, which is built when first needed."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from tamarind.desktop.commands import TRACK, command, same_command

if TYPE_CHECKING:
    from tamarind.desktop.translation.screen import TranslationScreen


class TranslationCommands:
    """Passes each command on to a part of the page."""

    def __init__(self, page: Callable[[], TranslationScreen]) -> None:
        self._page = page

    @same_command("next_doubt", 1, needs=TRACK)
    @same_command("previous_doubt", -1, needs=TRACK)
    def go_on(self, direction: int) -> None:
        """Move the caret to the next or previous cue that has something to do."""
        self._page().working.go_on(direction)

    @same_command("proofed", needs=TRACK)
    def approve_to_here(self) -> None:
        """Approve everything up to the caret's cue; if it is approved, take the caret's back."""
        self._page().working.approve_to_here()

    @command("Mark for review", "Translation", "Ctrl+Shift+D",
             name="doubt_translation", needs=TRACK)  # fmt: skip
    def doubt(self) -> None:
        """Mark the caret's cue for later review."""
        self._page().working.doubt()

    @command("Add a comment…", "Translation", "Ctrl+Shift+M",
             name="comment", needs=TRACK, also="note remark")  # fmt: skip
    def ask_comment(self) -> None:
        """Ask for a comment on the caret's cue."""
        self._page().working.ask_comment()

    @command("Copy the source text", "Translation", "Ctrl+Shift+E",
             name="copy_source", needs=TRACK)  # fmt: skip
    def copy_source(self) -> None:
        """Copy the source into the caret's cue."""
        self._page().working.copy_source()

    @same_command("word_forward", True, needs=TRACK)
    @same_command("word_back", False, needs=TRACK)
    def move_word(self, forward: bool) -> None:
        """Move the cue's last word to the next cue, or its first to the one before."""
        self._page().working.move_word(forward)

    @command("Show other translations…", "Translation",
             "Ctrl+Shift+V", name="versions", needs=TRACK)  # fmt: skip
    def offer_versions(self) -> None:
        """Ask every route, and offer their versions by number."""
        self._page().working.offer_versions()

    @command("Copy the source in numbered lines", "Translation", "Ctrl+Shift+X",
             name="copy_lines", needs=TRACK)  # fmt: skip
    def copy(self) -> None:
        """Copy the translation, to be translated elsewhere."""
        self._page().outside.copy()

    @command("Paste translated lines", "Translation", "Ctrl+Shift+Y",
             name="paste_lines", needs=TRACK)  # fmt: skip
    def paste(self) -> None:
        """Put numbered lines from the clipboard into the track."""
        self._page().outside.paste()

    @command("Export the translation…", "Translation", name="hand_out", needs=TRACK,
             also="xliff tmx memory")  # fmt: skip
    def ask_write(self) -> None:
        """Ask for a file, and write the translation."""
        self._page().outside.ask_write()

    @command("Import a translation…", "Translation", name="take_file", needs=TRACK,
             also="xliff tmx memory")  # fmt: skip
    def ask_read(self) -> None:
        """Ask for a file, show where its texts go, and take them."""
        self._page().outside.ask_read()

    @same_command("fix_elsewhere", needs=TRACK)
    def look_elsewhere(self) -> None:
        """Offer every other place of the job's tracks in this language where the same stands."""
        self._page().fixing.look_elsewhere()

    @same_command("fix_glossary", needs=TRACK)
    def to_terms(self) -> None:
        """Add a glossary term with the source words that it seems to stand for."""
        self._page().fixing.to_terms()

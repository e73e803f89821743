"""The commands of the Translation page, which is built when first needed."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from tamarind.desktop.commands import TRACK, command

if TYPE_CHECKING:
    from tamarind.desktop.translation.screen import TranslationScreen


class TranslationCommands:
    """Passes each command on to a part of the page."""

    def __init__(self, page: Callable[[], TranslationScreen]) -> None:
        self._page = page

    @command("Go to the next translation to do", "Translation", "Ctrl+Shift+N", name="next_open",
             arguments=(1,), needs=TRACK)  # fmt: skip
    @command("Go to the previous translation to do", "Translation", "Ctrl+Shift+P",
             name="previous_open", arguments=(-1,), needs=TRACK)  # fmt: skip
    def go_on(self, direction: int) -> None:
        """Move the caret to the next or previous cue that has something to do."""
        self._page().working.go_on(direction)

    @command("Approve translations up to here", "Translation", "Ctrl+Shift+H",
             name="approve_to_here", needs=TRACK)  # fmt: skip
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

    @command("Move the last word to the next cue (translation)", "Translation", "Ctrl+Shift+Down",
             name="give_word", arguments=(True,), needs=TRACK)  # fmt: skip
    @command("Take the first word of the next cue (translation)", "Translation", "Ctrl+Shift+Up",
             name="take_word", arguments=(False,), needs=TRACK)  # fmt: skip
    def move_word(self, forward: bool) -> None:
        """Move a word across the border between the caret's cue and the next."""
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

    @command("Export the translation…", "Translation", name="hand_out", needs=TRACK, also="xliff")
    def ask_write(self) -> None:
        """Ask for a file, and write the translation."""
        self._page().outside.ask_write()

    @command("Import a translation…", "Translation", name="take_file", needs=TRACK, also="xliff")
    def ask_read(self) -> None:
        """Ask for a file, show where its texts go, and take them."""
        self._page().outside.ask_read()

    @command("Import a translation memory (TMX)…", "Translation", name="bring_memory",
             needs=TRACK)  # fmt: skip
    def ask_memory(self) -> None:
        """Ask for a translation memory, whose sentences are used from now on."""
        self._page().outside.ask_memory()

    @command("Export a translation memory (TMX)…", "Translation", name="hand_out_memory",
             needs=TRACK)  # fmt: skip
    def ask_write_memory(self) -> None:
        """Ask for a file, and write every sentence of the job that people have translated."""
        self._page().outside.ask_write_memory()

    @command("Fix the last translation correction everywhere", "Translation",
             "Ctrl+Shift+R", name="fix_track_elsewhere", needs=TRACK)  # fmt: skip
    def look_elsewhere(self) -> None:
        """Offer every other place of the job's tracks in this language where the same stands."""
        self._page().fixing.look_elsewhere()

    @command("Add the last correction to the terms…", "Translation",
             "Ctrl+Shift+T", name="fix_terms", needs=TRACK)  # fmt: skip
    def to_terms(self) -> None:
        """Add a glossary term with the source words that it seems to stand for."""
        self._page().fixing.to_terms()

"""Context menus of words and cues, on the Proof and the Translation page."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QPoint
from PySide6.QtWidgets import QMenu

from tamarind.desktop.commandbar import CommandBar
from tamarind.desktop.editor.sheet import Sheet

Act = tuple[str, Callable[[], object]]
"""A line of a menu that is no command: its text, and what it does."""

PROOF = (
    ("play_word", "replay_cue"),
    ("speaker", "split_turn"),
    ("join", "delete_cue", "paragraph", "heading", "italics"),
    ("loupe", "hear_again", "keep_excerpt", "mark"),
)
TRANSLATION = (
    ("versions", "copy_source", "play_word"),
    ("proofed", "doubt_translation", "comment"),
    ("word_forward", "word_back", "fix_elsewhere"),
)
"""Names of commands, in groups with a line between them."""


def connect(
    sheet: Sheet,
    commands: CommandBar,
    groups: Sequence[Sequence[str]],
    acts: Callable[[], Sequence[Act]] = tuple,
) -> None:
    """Show a menu where the sheet asks for one; ``acts`` returns what comes first."""

    def show(point: QPoint) -> None:
        menu = QMenu(sheet)
        for text, do in acts():
            menu.addAction(text, do)
        menu.addSeparator()
        menu.addAction("Cut", sheet.editing.cut)
        menu.addAction("Copy", sheet.editing.copy)
        menu.addAction("Paste", sheet.editing.paste)
        for group in groups:
            menu.addSeparator()
            for name in group:
                if commands.may_act(name):
                    menu.addAction(commands.action(name))
        menu.aboutToHide.connect(menu.deleteLater)
        menu.popup(point)

    sheet.menu_asked.connect(show)

"""The pages of the editor of house styles: captions, transcript, wording, checks."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtWidgets import QWidget

from tamarind.checks.catalogue import CHECKS, level_of
from tamarind.desktop.intake.glossary_dialog import GlossaryDialog
from tamarind.desktop.widgets.fields import Fields, Own
from tamarind.desktop.widgets.parts import button
from tamarind.language.housestyle import HouseStyle, Level
from tamarind.speech.glossary import terms_of, write_glossary
from tamarind.system.declared import Entry, Option

Made = tuple[QWidget, Callable[[Any], None]]


def field_makers() -> dict[Entry, Own]:
    """Return what makes the fields that only this editor has."""
    return {Entry.TERMS: _terms_field}


def _terms_field(page: Fields, option: Option) -> Made:
    """Make a button that opens a glossary."""
    terms: list[tuple[str, ...]] = [()]

    def ask() -> None:
        dialog = GlossaryDialog(terms_of(terms[0]), parent=page)
        if dialog.exec():
            lines = tuple(write_glossary(dialog.glossary()).splitlines())
            show(lines)
            page.tell(option.name, lines)

    opened = button("", ask)

    def show(lines: tuple[str, ...]) -> None:
        terms[0] = lines
        many = "term" if len(lines) == 1 else "terms"
        opened.setText(f"{len(lines)} {many}…" if lines else "No terms yet…")

    return opened, show


class ChecksPage(Fields):
    """Sets each check to off, warning or error."""

    def __init__(self, changed: Callable[[str, Level], None]) -> None:
        super().__init__(changed)
        group = ""
        levels = {level.word: level for level in Level}
        for rule in CHECKS.values():
            if rule.group != group:
                group = rule.group
                self.add_heading(group.upper())
            self.add_choice(rule.key, rule.title.capitalize(), levels)

    def show_levels(self, style: HouseStyle) -> None:
        """Show how much each check counts in a style."""
        for rule in CHECKS:
            self.show_value(rule, level_of(style, rule))

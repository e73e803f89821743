"""The palettes, light and dark. Text colours meet WCAG AA (4.5:1) on paper, sheet and sand.

Whoever paints asks for a colour each time, as ``colours.INK``, since the theme may change.
"""

from __future__ import annotations

PAPER = "#FAF6EE"
SAND = "#F3ECE1"
SHEET = "#FFFDF8"
CARD = "#FFFFFF"
INK = "#2B2320"
BARK = "#5B3A29"
PULP = "#9A4F2E"
PULP_DARK = "#7F3F23"
LEAF = "#3C7A57"
LEAF_TEXT = "#2F6747"
LEAF_PALE = "#DCEBE0"
PLUM = "#7A3E6B"
GREY = "#6F655C"
LINE = "#E2D6C6"
SOUND = "#C9B8A3"
NIGHT = "#2B2320"
CHOSEN = "#F0DCC4"
"""Under selected text; the word that is heard is on pale leaf."""

LIGHT = {name: value for name, value in globals().items() if name.isupper()}
DARK = {
    "PAPER": "#1D1917",
    "SAND": "#25201C",
    "SHEET": "#2A2521",
    "CARD": "#342D28",
    "INK": "#EFE6DA",
    "BARK": "#DDBFA3",
    "PULP": "#D28358",
    "PULP_DARK": "#E09A73",
    "LEAF": "#529870",
    "LEAF_TEXT": "#86C9A1",
    "LEAF_PALE": "#2E4C3B",
    "PLUM": "#DBA3CB",
    "GREY": "#AEA297",
    "LINE": "#4A4038",
    "SOUND": "#75665A",
    "NIGHT": "#110E0C",
    "CHOSEN": "#5C4430",
}


def use(dark: bool) -> None:
    """Use the dark or the light palette from now on."""
    globals().update(DARK if dark else LIGHT)


def is_dark() -> bool:
    """Whether the dark palette is used."""
    return DARK["PAPER"] == PAPER

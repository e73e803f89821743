"""The palettes, light and dark. Text colours meet WCAG AA (4.5:1) on paper, sheet and sand; with
high contrast they meet AAA (7:1), and lines are as clear as text has to be.

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


LIGHT_CONTRAST = {
    "PAPER": "#FFFFFF",
    "SAND": "#F6F4F0",
    "SHEET": "#FFFFFF",
    "CARD": "#FFFFFF",
    "INK": "#000000",
    "BARK": "#3A1F10",
    "PULP": "#7A3415",
    "PULP_DARK": "#5A230B",
    "LEAF": "#1E5A38",
    "LEAF_TEXT": "#124A2B",
    "LEAF_PALE": "#CBE8D5",
    "PLUM": "#5E1F50",
    "GREY": "#463F39",
    "LINE": "#6B6158",
    "SOUND": "#85786A",
    "NIGHT": "#000000",
    "CHOSEN": "#FFDDAA",
}
DARK_CONTRAST = {
    "PAPER": "#000000",
    "SAND": "#0D0B0A",
    "SHEET": "#000000",
    "CARD": "#12100F",
    "INK": "#FFFFFF",
    "BARK": "#FFE0C2",
    "PULP": "#FFA374",
    "PULP_DARK": "#FFB894",
    "LEAF": "#5FC489",
    "LEAF_TEXT": "#9FF0BE",
    "LEAF_PALE": "#1B4A30",
    "PLUM": "#FFC2F0",
    "GREY": "#DAD2CA",
    "LINE": "#9C9186",
    "SOUND": "#A99C8F",
    "NIGHT": "#000000",
    "CHOSEN": "#6A481F",
}


def use(dark: bool, high_contrast: bool = False) -> None:
    """Use the dark or the light palette from now on."""
    ordinary, strong = (DARK, DARK_CONTRAST) if dark else (LIGHT, LIGHT_CONTRAST)
    globals().update(strong if high_contrast else ordinary)


def is_dark() -> bool:
    """Whether a dark palette is used."""
    return PAPER in (DARK["PAPER"], DARK_CONTRAST["PAPER"])


def has_high_contrast() -> bool:
    """Whether a palette of high contrast is used."""
    return INK in (LIGHT_CONTRAST["INK"], DARK_CONTRAST["INK"])

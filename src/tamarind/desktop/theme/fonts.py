"""The three shipped fonts: Cabin for the interface, Vollkorn for text, JetBrains Mono for times."""

from __future__ import annotations

from functools import cache
from pathlib import Path

from PySide6.QtGui import QFont, QFontDatabase

from tamarind.picture.shippedfonts import FONTS

INTERFACE = "Cabin"
TEXT = "Vollkorn"
MONO = "JetBrains Mono"

_FOLDER = Path(__file__).parent / "fonts"


@cache
def load_fonts() -> None:
    """Register the shipped fonts with Qt; needs a running application."""
    for path in sorted((*_FOLDER.glob("*.[ot]tf"), *FONTS.glob("*.ttf"))):
        QFontDatabase.addApplicationFont(str(path))


def interface(size: int, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """Return the sans-serif font in ``size`` pixels."""
    return _font(INTERFACE, size, weight)


def text(size: int, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """Return the serif font for texts."""
    return _font(TEXT, size, weight)


def mono(size: int) -> QFont:
    """Return the font for times; without its ligatures for "-->", so that files are shown as they
    are."""
    font = _font(MONO, size, QFont.Weight.Normal)
    font.setFeature(QFont.Tag("calt"), 0)
    return font


def _font(family: str, size: int, weight: QFont.Weight) -> QFont:
    font = QFont(family)
    font.setPixelSize(size)
    font.setWeight(weight)
    font.setHintingPreference(QFont.HintingPreference.PreferNoHinting)
    return font

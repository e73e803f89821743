"""The files of the shipped fonts."""

from __future__ import annotations

from pathlib import Path

from tamarind.picture.looks import Face, Weight

FONTS = Path(__file__).parent / "fonts"

_PLEX = "IBMPlexSans-{}.woff"
_FILES = {
    (Face.PLAIN, Weight.REGULAR, False): _PLEX.format("Regular"),
    (Face.PLAIN, Weight.SEMIBOLD, False): _PLEX.format("SemiBold"),
    (Face.PLAIN, Weight.BOLD, False): _PLEX.format("Bold"),
    (Face.PLAIN, Weight.REGULAR, True): _PLEX.format("Italic"),
    (Face.PLAIN, Weight.SEMIBOLD, True): _PLEX.format("SemiBoldItalic"),
    (Face.PLAIN, Weight.BOLD, True): _PLEX.format("SemiBoldItalic"),
    (Face.BOOK, Weight.REGULAR, False): "Vollkorn-Regular.ttf",
    (Face.BOOK, Weight.SEMIBOLD, False): "Vollkorn-SemiBold.ttf",
    (Face.BOOK, Weight.BOLD, False): "Vollkorn-SemiBold.ttf",
    (Face.BOOK, Weight.REGULAR, True): "Vollkorn-Italic.ttf",
    (Face.BOOK, Weight.SEMIBOLD, True): "Vollkorn-Italic.ttf",
    (Face.BOOK, Weight.BOLD, True): "Vollkorn-Italic.ttf",
    **{
        (Face.TYPED, weight, italic): "JetBrainsMono-Regular.ttf"
        for weight in Weight
        for italic in (False, True)
    },
}


def file_of(face: Face, weight: Weight, italic: bool = False) -> Path:
    """Return the file of a font; of the nearest weight that it has."""
    return FONTS / _FILES[face, weight, italic]

"""The caption styles that exist: those that ship, and the person's own files."""

from __future__ import annotations

from dataclasses import replace

from tamarind.picture.looks import (
    SUFFIX,
    Box,
    Coming,
    Face,
    Fit,
    Ground,
    Letters,
    Look,
    LookError,
    Place,
    SecondLanguage,
    Side,
    SpeakerSign,
    Standing,
    Weight,
    Words,
    read_look,
)
from tamarind.system.shelf import Shelf

USUAL_LOOK = "slate"

_NO_BOX = Ground(Box.NONE)
_OUTLINED = Letters(outline=0.085, shadow=0.06)

SHIPPED = {
    "slate": Look("Slate"),
    "still-water": Look(
        "Still water",
        Letters(colour="#f3f0e4", size=0.05),
        Ground(Box.BLOCK, "#12343b", 0.86, 0.42, 0.3),
    ),
    "birch": Look(
        "Birch",
        Letters(colour="#1d2b28", weight=Weight.SEMIBOLD),
        Ground(Box.LINES, "#f6f1e2", 0.94, 0.3, 0.1),
        second=SecondLanguage(colour="#4a3f2a"),
    ),
    "ink": Look("Ink", _OUTLINED, _NO_BOX),
    "lantern": Look("Lantern", replace(_OUTLINED, colour="#ffe9a8", weight=Weight.BOLD), _NO_BOX),
    "footnote": Look(
        "Footnote",
        Letters(Face.BOOK, size=0.043, colour="#f6f3ea"),
        Ground(Box.BLOCK, "#1a1a1a", 0.8, 0.5, 0.0),
        Standing(side=Side.LEFT, width=0.62),
    ),
    "field-notes": Look(
        "Field notes",
        Letters(Face.TYPED, Weight.REGULAR, 0.04, colour="#e9f2ea"),
        Ground(Box.LINES, "#20302a", 0.88, 0.34, 0.0),
        Standing(side=Side.LEFT, width=0.7),
    ),
    "two-voices": Look(
        "Two voices",
        ground=Ground(Box.LINES, "#0d1518", 0.85, 0.3, 0.15),
        words=Words(speakers=SpeakerSign.COLOUR),
    ),
    "named": Look(
        "Named",
        Letters(size=0.048),
        Ground(Box.BLOCK, "#101418", 0.82, 0.4, 0.18),
        words=Words(speakers=SpeakerSign.NAME),
    ),
    "stepping-stones": Look(
        "Stepping stones",
        replace(_OUTLINED, size=0.058, weight=Weight.BOLD),
        _NO_BOX,
        words=Words(Coming.WORDS),
    ),
    "torch": Look(
        "Torch",
        Letters(size=0.06, weight=Weight.BOLD, colour="#f4f1e8"),
        Ground(Box.BLOCK, "#231a2e", 0.86, 0.36, 0.3),
        words=Words(Coming.LIT, lit="#ffb86b"),
    ),
    "signpost": Look(
        "Signpost",
        Letters(size=0.085, weight=Weight.BOLD, outline=0.1, shadow=0.08),
        _NO_BOX,
        Standing(Place.FREE, across=0.5, down=0.62, width=0.86, line_height=1.12),
        Words(Coming.LIT, lit="#ffd166"),
        fit=Fit(line_length=18, lines=1),
    ),
    "high-ground": Look(
        "High ground",
        Letters(size=0.048),
        Ground(Box.LINES, "#000000", 0.8, 0.28, 0.12),
        Standing(Place.TOP),
    ),
}
"""The looks that come with Tamarind, by the key under which a job keeps them."""

LOOKS = Shelf("caption style", "looks", SUFFIX, shipped=SHIPPED, read=read_look, wrong=LookError)

"""The direction of a text: Arabic and Hebrew run from right to left."""

from __future__ import annotations

from unicodedata import bidirectional


def is_right_to_left(text: str) -> bool:
    """Whether a text runs from right to left, by its first letter with a direction (Unicode's
    bidirectional algorithm, P2 and P3)."""
    for letter in text:
        direction = bidirectional(letter)
        if direction in ("L", "R", "AL"):
            return direction != "L"
    return False

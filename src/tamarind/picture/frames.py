"""Draw the captions at a time, for the preview and the written video alike."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable, Sequence

from tamarind.picture.caption import Caption
from tamarind.picture.drawing import Drawing, together
from tamarind.picture.looks import Coming, Look, Place
from tamarind.picture.render import draw

Size = tuple[int, int]
Shown = tuple[tuple[Caption, Look, int | None], ...]
"""The captions that stand at a time, each with its look and how many of its words are said."""


class Stage:
    """Captions sorted by start, each with its style."""

    def __init__(self, captions: Sequence[Caption], look_of: Callable[[int], Look]) -> None:
        """``look_of`` returns the style of the caption at an index."""
        self._captions = list(captions)
        self._looks = [look_of(place) for place in range(len(captions))]
        self._starts = [caption.start for caption in captions]
        ends: list[int] = []
        for caption in captions:
            ends.append(max(caption.end, ends[-1] if ends else 0))
        self._latest_ends = ends
        self._last: tuple[tuple[Shown, Size], Drawing | None] | None = None

    def shown(self, time: int) -> Shown:
        """Return the captions at a time (ms)."""
        place = bisect_right(self._starts, time) - 1
        found: list[tuple[Caption, Look, int | None]] = []
        while place >= 0 and self._latest_ends[place] > time:
            caption, look = self._captions[place], self._looks[place]
            if caption.end > time:
                said = None if look.words.coming is Coming.WHOLE else caption.said_at(time)
                found.append((caption, look, said))
            place -= 1
        return tuple(found[::-1])

    def drawing(self, time: int, size: Size) -> Drawing | None:
        """Return everything drawn at a time on a picture (width, height); the same object as long
        as nothing changes."""
        key = self.shown(time), size
        if self._last is None or self._last[0] != key:
            self._last = key, _stacked(key[0], size)
        return self._last[1]


def _stacked(shown: Shown, size: Size) -> Drawing | None:
    """Move drawings that would cover one another apart: upwards from the bottom, downwards from the
    top."""
    placed: list[Drawing] = []
    for caption, look, said in shown:
        own = draw(caption, look, size, said)
        upwards = (caption.place or look.standing.place) is not Place.TOP
        for other in sorted(placed, key=lambda one: -one.top if upwards else one.top):
            if own.top < other.bottom and other.top < own.bottom:
                own = own.moved(0, other.top - own.bottom if upwards else other.bottom - own.top)
        placed.append(own)
    return together(placed)

"""The entry of a shipped recogniser: everything that others need to know of it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from tamarind.speech.alignment import Aligner
    from tamarind.speech.recognisers.base import Recogniser


@dataclass(frozen=True, slots=True)
class RecogniserEntry:
    """``label`` is its name for people; ``languages`` are BCP 47 tags, none for any.

    ``load`` makes it, and raises RecogniserError when it cannot. ``rank`` is its place in lists,
    0 for one that stands in none. ``missing`` says why it cannot be used here, "" if it can.
    ``slowness`` is how many times as long as the built-in one it takes.
    """

    name: str
    label: str
    languages: Callable[[], tuple[str, ...]]
    load: Callable[[Aligner], Recogniser]
    rank: int = 0
    missing: Callable[[], str] = lambda: ""
    slowness: Callable[[], float] = lambda: 1.0

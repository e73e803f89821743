"""The built-in recogniser: English by its own network, other languages by the multilingual one."""

from __future__ import annotations

from tamarind.speech.hearingoptions import BUILTIN
from tamarind.speech.recognisers.entry import RecogniserEntry
from tamarind.speech.recognisers.known import multilingual
from tamarind.speech.recognisers.known.english import ENGLISH_ONLY, load


def _languages() -> tuple[str, ...]:
    return tuple(dict.fromkeys((*ENGLISH_ONLY, *multilingual.languages_of_many())))


ENTRY = RecogniserEntry(BUILTIN, "built in, as fits best", _languages, load, rank=1)

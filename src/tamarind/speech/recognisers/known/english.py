"""The shipped network for English, which the built-in recogniser uses for English."""

from __future__ import annotations

from typing import TYPE_CHECKING

from tamarind.speech.recognisers.entry import RecogniserEntry

if TYPE_CHECKING:
    from tamarind.speech.alignment import Aligner
    from tamarind.speech.recognisers.base import Recogniser

ENGLISH = "english"
ENGLISH_ONLY = ("en",)


def load(aligner: Aligner) -> Recogniser:
    """Return the recogniser with the network that ships."""
    from tamarind.speech.recognisers.builtin import BuiltinRecogniser

    return BuiltinRecogniser(aligner=aligner)


ENTRY = RecogniserEntry(ENGLISH, "the built-in one", lambda: ENGLISH_ONLY, load, rank=2)

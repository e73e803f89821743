"""The shipped multilingual network, if its packages are installed."""

from __future__ import annotations

from functools import cache
from typing import TYPE_CHECKING

from tamarind.speech.recognisers import offered
from tamarind.speech.recognisers.entry import RecogniserEntry
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.folder import languages_of
from tamarind.speech.recognisers.multilingual import carried

if TYPE_CHECKING:
    from tamarind.speech.alignment import Aligner
    from tamarind.speech.recognisers.base import Recogniser

MANY = "many"
NOT_INSTALLED = (
    "The multilingual recogniser is not installed; install it with:"
    " .venv/bin/pip install -e '.[languages]'"
)


@cache
def languages_of_many() -> tuple[str, ...]:
    """Return the languages that it recognises; none if it is not installed."""
    if not carried.is_there():
        return ()
    try:
        return languages_of(carried.described())
    except RecogniserError:
        return ()


def _load(aligner: Aligner) -> Recogniser:
    from tamarind.speech.recognisers.multilingual.recogniser import MultilingualRecogniser

    return MultilingualRecogniser(carried.folder(), aligner)


ENTRY = RecogniserEntry(
    MANY,
    "the multilingual one",
    lambda: languages_of_many(),
    _load,
    rank=3,
    missing=lambda: "" if languages_of_many() else NOT_INSTALLED,
    slowness=offered.base_slowness,
)

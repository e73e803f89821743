"""The few words of a published page in the languages that are transcribed most."""

from __future__ import annotations

import json
from collections.abc import Mapping
from functools import cache
from importlib.resources import files

from tamarind.transcript.languages import base_of

USUAL = "en"
"""The page of a recording in any other language has its words in this one."""


def page_language(recording: str) -> str:
    """Return the language of a page's words for a recording's language, by their tags."""
    base = {"nb": "no", "nn": "no"}.get(base_of(recording), base_of(recording))
    return base if base in _table() else USUAL


def page_words(recording: str) -> Mapping[str, str]:
    """Return a page's words by what they are for, for a recording's language."""
    return _table()[page_language(recording)]


@cache
def _table() -> dict[str, dict[str, str]]:
    read: dict[str, dict[str, str]] = json.loads(
        files("tamarind.formats.playerpage").joinpath("words.json").read_text("utf-8")
    )
    return read

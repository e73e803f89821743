"""A first translation of a text, cue by cue."""

from __future__ import annotations

from collections.abc import Sequence

from tamarind.transcript.model import Cue
from tamarind.translation.engines.base import Engine


def draft(cues: Sequence[Cue], engine: Engine, source: str, target: str) -> list[str]:
    """One translation for each cue, in order; raises TranslationError.

    Engines take every text for a sentence, and write some short words large; a cue that begins
    within a sentence gets its small letter back.
    """
    texts = engine.translate([cue.text for cue in cues], source, target)
    return [_like_source(cue.text, text) for cue, text in zip(cues, texts, strict=True)]


def _like_source(source: str, text: str) -> str:
    first = text.split(" ", 1)[0]
    if len(first) > 1 and first.isupper() and not source.split(" ", 1)[0].isupper():
        text = first.capitalize() + text[len(first) :]
    if source[:1].islower() and not text[1:2].isupper():
        return text[:1].lower() + text[1:]
    return text

"""Finish a transcribed text: the style's numbers and spelling, one form for each name, paragraphs.
Window and command call this when a recording is transcribed."""

from __future__ import annotations

from collections.abc import Sequence

from tamarind.language.housestyle import HouseStyle
from tamarind.language.oneform import with_one_form
from tamarind.language.paragraphing import Paragraphing
from tamarind.language.styled import as_style_writes
from tamarind.transcript.model import Transcript


def finished(text: Transcript, style: HouseStyle, terms: Sequence[str] = ()) -> Transcript:
    """Return the text as an editor would write it; ``terms`` are names as they are to be
    written."""
    wish = style.transcript
    text = with_one_form(as_style_writes(text, style.wording), terms)
    return Paragraphing(text).parted(wish.paragraph_words, wish.longest_paragraph)

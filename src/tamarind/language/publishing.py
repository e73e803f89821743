"""Prepare a text for a document, in the window and the commands alike.

Wording comes first, since it decides which words there are; then lines; then who speaks, and how
captions come on the screen.
"""

from __future__ import annotations

from dataclasses import dataclass

from tamarind.captions.lines import with_breaks, within_columns
from tamarind.formats.documents import WRITTEN, is_captions, is_for_reading, rolls
from tamarind.formats.rollup import rolled_up
from tamarind.formats.twolanguages import stacked
from tamarind.language.attribution import with_speakers
from tamarind.language.housestyle import HouseStyle
from tamarind.language.prose import as_prose
from tamarind.language.styled import as_style_wants
from tamarind.transcript.model import Transcript


@dataclass(frozen=True, slots=True)
class Ways:
    """How captions appear, and what a text is made from.

    ``rows`` is how many lines roll-up captions show, None for ordinary ones. ``below`` is a text
    whose captions stand below the others'. A text that is ``from_captions`` knows no paragraphs.
    """

    rows: int | None = None
    below: Transcript | None = None
    from_captions: bool = False


def published(
    text: Transcript, suffix: str, style: HouseStyle, ways: Ways | None = None
) -> Transcript:
    """Return the text as written to a document of a format: for reading as the style asks, for
    captions and data with every word."""
    ways = ways or Ways()
    limits = style.captions
    if is_for_reading(suffix):
        if ways.from_captions:
            wish = style.transcript
            text = as_prose(with_breaks(text, limits), wish.paragraph_words, wish.longest_paragraph)
        return with_breaks(as_style_wants(text, style.wording), limits)
    text = with_breaks(text, limits)
    if not is_captions(suffix):
        return text
    if ways.below is not None:
        return stacked(text, with_breaks(ways.below, limits))
    text = with_speakers(text, limits)
    columns = WRITTEN[suffix].columns if suffix in WRITTEN else 0
    if columns:
        text = within_columns(text, limits, columns)
    return rolled_up(text, ways.rows) if ways.rows and not rolls(suffix) else text

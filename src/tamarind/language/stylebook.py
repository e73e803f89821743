"""The house styles that exist: those that ship, and the person's own files."""

from __future__ import annotations

from tamarind.captions.limits import Limits
from tamarind.formats.reading.paragraphs import SpeakerForm, Stamps, TextOptions
from tamarind.language.housestyle import (
    SUFFIX,
    Dashes,
    Dates,
    HouseStyle,
    Level,
    Numbers,
    Quotes,
    SpelledLetters,
    StyleError,
    Verbatim,
    Wording,
    read_style,
)
from tamarind.system.shelf import Shelf

ORDINARY_STYLE = "ordinary"

_NO_CAPTIONS = dict.fromkeys(
    (
        "reading-speed", "line-length", "line-count", "too-short", "too-long", "overlap", "gap",
        "frames", "same-text",
    ),
    Level.OFF,
)  # fmt: skip
"""For transcripts nobody holds captions to their rules."""

SHIPPED = {
    ORDINARY_STYLE: HouseStyle("Ordinary captions", wording=Wording(numbers=Numbers.WORDS_BELOW)),
    "teletext": HouseStyle(
        "Teletext width", Limits(line_length=37, reading_speed=17.0, gap=80, frame_rate=25.0)
    ),
    "phone": HouseStyle("One short line", Limits(line_length=32, lines=1, longest=5_000)),
    "verbatim": HouseStyle(
        "Verbatim transcript",
        transcript=TextOptions(stamps=Stamps.PARAGRAPHS, repeats_speaker=True),
        levels={**_NO_CAPTIONS, "filler": Level.OFF},
    ),
    "reading": HouseStyle(
        "Clean reading transcript",
        transcript=TextOptions(SpeakerForm.CAPITALS, longest_paragraph=120),
        wording=Wording(
            verbatim=Verbatim.CLEAN,
            numbers=Numbers.WORDS_BELOW,
            dates=Dates.FIGURES,
            letters=SpelledLetters.HYPHENS,
            quotes=Quotes.DOUBLE,
            dashes=Dashes.SPACED_EN,
        ),
        levels=_NO_CAPTIONS,
    ),
}
"""The styles that come with Tamarind, by the key under which a job keeps them."""

STYLES = Shelf("house style", "styles", SUFFIX, shipped=SHIPPED, read=read_style, wrong=StyleError)

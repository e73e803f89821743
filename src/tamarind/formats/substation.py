"""SubStation captions (.ass, .ssa), read through pysubs2: italics, bold and underlined are kept,
other styles and effects passed over."""

from __future__ import annotations

from typing import Any

from tamarind.formats.captionfile import FormatError, Mended, RawCue, brief, transcript_of
from tamarind.formats.spans import Spans, on_words
from tamarind.transcript.model import Transcript

MOST_TAGS = 200
"""An event with more is an effect; its looks are passed over."""


def read(text: str, language: str, mended: Mended | None = None) -> Transcript:
    """The events that show text, with the name of who speaks; comments and drawings are not.

    Raises FormatError when there is no such event.
    """
    import pysubs2

    mended = Mended() if mended is None else mended
    form = "ass" if "[v4+ styles]" in text.casefold() else "ssa"
    try:
        file = pysubs2.SSAFile.from_string(text, format_=form)
    except Exception as error:
        # The library raises whatever its parsing ran into.
        raise FormatError(f"The file is no SubStation file ({brief(error)}).") from None
    raw = []
    drawn = 0
    for event in file:
        drawn += event.is_drawing
        if event.is_text:
            lines = tuple(filter(None, (line.strip() for line in event.plaintext.split("\n"))))
            spans = on_words(_pieces(event, file.styles))
            times = max(event.start, 0), max(event.end, 0)
            raw.append(RawCue(*times, lines, event.name or None, spans=spans))
    if drawn:
        mended.note(f"{drawn} drawings were left out.")
    if not raw:
        raise FormatError("The file holds no SubStation event with text.")
    return transcript_of(raw, language, mended)


def _pieces(event: Any, styles: dict[str, Any]) -> list[tuple[str, Spans]]:
    """An event's text by its looks: italics by tag or style, the rest where a tag says so."""
    from pysubs2 import SSAStyle
    from pysubs2.formats.substation import parse_tags

    style = styles.get(event.style, SSAStyle.DEFAULT_STYLE)
    if event.text.count("{") > MOST_TAGS or ("{" not in event.text and not style.italic):
        return []
    pieces: list[tuple[str, Spans]] = []
    for text, look in parse_tags(event.text, style, styles):
        heads = {
            "i": look.italic,
            "b": look.bold and not style.bold,
            "u": look.underline and not style.underline,
        }
        plain = text.replace(r"\h", " ").replace(r"\n", "\n").replace(r"\N", "\n")
        pieces.append((plain, tuple(head for head, has in heads.items() if has)))
    return pieces

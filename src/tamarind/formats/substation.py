"""SubStation captions (.ass, .ssa), read through pysubs2; styles and effects are passed over."""

from __future__ import annotations

from tamarind.formats.captionfile import FormatError, Mended, RawCue, transcript_of
from tamarind.transcript.model import Transcript


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
        raise FormatError(f"The file is no SubStation file ({error}).") from None
    raw = []
    drawn = 0
    for event in file:
        drawn += event.is_drawing
        if event.is_text:
            lines = tuple(filter(None, (line.strip() for line in event.plaintext.split("\n"))))
            raw.append(RawCue(max(event.start, 0), max(event.end, 0), lines, event.name or None))
    if drawn:
        mended.note(f"{drawn} drawings were left out.")
    if not raw:
        raise FormatError("The file holds no SubStation event with text.")
    return transcript_of(raw, language, mended)

"""What documents of office programs share: style names, dates, and what XML can hold."""

from __future__ import annotations

import io
import zipfile
from datetime import datetime, time

_DATE = (1980, 1, 1, 0, 0, 0)
"""Of all parts of the file, so that the same text makes the same bytes."""

TITLE, SPEAKER, BODY_STYLE = "Transcript Title", "Transcript Speaker", "Transcript Text"
HEADING, FACTS, STAMP = "Transcript Heading", "Transcript Facts", "Time Stamp"
CONTENTS = "Transcript Contents"
FRONT, NOTE = "Transcript Front", "Transcript Note"
"""The names of the document's own styles."""

FACE = "Georgia"
GREY = "6F655C"


def day_of(date: str) -> datetime:
    """Return the order's day, or today, without a time, so that the same text makes the same
    bytes."""
    try:
        return datetime.fromisoformat(date).replace(hour=12, minute=0, second=0, microsecond=0)
    except ValueError:
        return datetime.combine(datetime.now().date(), time(12))


def legal(text: str) -> str:
    """Remove the characters that XML cannot hold."""
    return "".join(
        letter
        for letter in text
        if letter in "\t\n"
        or " " <= letter <= "\ud7ff"
        or "\ue000" <= letter <= "\ufffd"
        or letter > "\uffff"
    )


def same_each_time(data: bytes) -> bytes:
    """Return a document with the same date on all parts of its file."""
    out = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(data)) as old,
        zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new,
    ):
        # Of two parts of one name, as some templates bring about, the last counts.
        for part in {part.filename: part for part in old.infolist()}.values():
            info = zipfile.ZipInfo(part.filename, _DATE)
            # What kind of file an OpenDocument is, stands plainly at its beginning.
            plain = part.filename == "mimetype"
            info.compress_type = zipfile.ZIP_STORED if plain else zipfile.ZIP_DEFLATED
            new.writestr(info, old.read(part))
    return out.getvalue()

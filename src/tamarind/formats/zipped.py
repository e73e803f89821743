"""Check zipped documents from elsewhere before they are unpacked."""

from __future__ import annotations

import io
import zipfile

from tamarind.formats.captionfile import FormatError

LARGEST_PART = 32 << 20
"""Of a part of a zipped document, unpacked: more is no document that a person wrote."""


def checked(data: bytes, name: str = "The file") -> zipfile.ZipFile:
    """Return a zipped document none of whose parts is too large. Raises FormatError."""
    try:
        file = zipfile.ZipFile(io.BytesIO(data))
    except zipfile.BadZipFile:
        raise FormatError(f"“{name}” cannot be read: it is damaged, or no document.") from None
    if any(part.file_size > LARGEST_PART for part in file.infolist()):
        raise FormatError("The file unpacks to more than any document holds.")
    return file

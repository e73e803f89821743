"""What a text was when it was given out, as the packed job keeps it."""

from __future__ import annotations

import base64
import binascii

from tamarind.job.change import Change, ChangeError, between
from tamarind.job.document import Document
from tamarind.job.jobfile import JobError
from tamarind.transcript.model import Transcript

_EMPTY = Document(Transcript("und"))


def given_out(document: Document) -> str:
    """Return a text that is given out, to be kept."""
    return base64.b64encode(between(_EMPTY, document).packed()).decode("ascii")


def as_given_out(kept: str) -> Document:
    """Return what ``given_out`` kept. Raises JobError."""
    try:
        return Change.unpacked(base64.b64decode(kept, validate=True)).made_in(_EMPTY)
    except (binascii.Error, ValueError, ChangeError):
        raise JobError("What the text was when it was given out cannot be read.") from None

"""A text as a style wants it to be read: wording and marks, for the documents that are read.

What is kept in the job stays as it is.
"""

from __future__ import annotations

from dataclasses import replace

from tamarind.language.clean import cleaned
from tamarind.language.housestyle import Wording
from tamarind.language.typography import restyled
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.reconcile import retext


def as_style_wants(transcript: Transcript, wording: Wording) -> Transcript:
    """The text without what a clean one leaves out, and with the style's quotes and dashes."""
    if wording.clean:
        transcript = cleaned(transcript, wording.fillers)
    usual = transcript.language
    cues = tuple(_marked(cue, wording, cue.language or usual) for cue in transcript.cues)
    return replace(transcript, cues=cues)


def _marked(cue: Cue, wording: Wording, language: str) -> Cue:
    text = restyled(cue.text, wording, language)
    return cue if text == cue.text else retext(cue, text)

"""What a published page is made from."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tamarind.formats.data.chapters import Chapter
from tamarind.formats.reading.paragraphs import Paragraph
from tamarind.transcript.descriptions import Description
from tamarind.transcript.model import Transcript

TimedWord = tuple[int, int, int, int]
"""Where a word begins in the text of its paragraph and how long it is, both in UTF-16 units as
browsers count them; and when it is said, from and to (ms)."""


@dataclass(frozen=True, slots=True)
class PageText:
    """One language: its name, its text and paragraphs, and its captions as WebVTT."""

    language: str
    name: str
    text: Transcript
    paragraphs: Sequence[Paragraph]
    captions: str


@dataclass(frozen=True, slots=True)
class PageContent:
    """``media`` is the address of the recording relative to the page; ``texts`` are the languages,
    the recording's first; ``captions`` are the names of caption files beside the page, by language;
    ``descriptions`` are audio descriptions in the first language."""

    title: str
    media: str
    media_type: str
    has_picture: bool
    texts: Sequence[PageText]
    chapters: Sequence[Chapter] = ()
    facts: str = ""
    captions: Sequence[tuple[str, str]] = ()
    descriptions: Sequence[Description] = ()


def timed_words(text: Transcript, paragraph: Paragraph) -> list[TimedWord]:
    """Return the words of a paragraph with their ranges in its text; those that cannot be found
    there, as numbers written otherwise, are left out."""
    found: list[TimedWord] = []
    at = units = 0
    for place in paragraph.places:
        for word in text.cues[place].words:
            first = paragraph.text.find(word.text, at)
            if first < 0 or not word.text:
                continue
            units += _units(paragraph.text[at:first])
            length = _units(word.text)
            found.append((units, length, word.start, word.end))
            units += length
            at = first + len(word.text)
    return found


def _units(text: str) -> int:
    return len(text) + sum(letter > "\uffff" for letter in text)

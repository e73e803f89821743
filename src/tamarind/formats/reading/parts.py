"""What a document for reading is made from besides its text."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from tamarind.formats.format import Options, Origin
from tamarind.formats.reading.paper import Paper, usual_paper
from tamarind.formats.reading.paragraphs import (
    PLAIN,
    StampPlace,
    TextOptions,
    TranscriptForm,
    listed_speakers,
)
from tamarind.formats.reading.template import Template, filled
from tamarind.transcript.model import Transcript

MARGIN = 25.0
WIDE_MARGINS = (38.0, 55.0)
TIMES_MM, MARKS_MM = 24.0, 12.0
NARROW = (24.0, 34.0)
"""Widths of the columns for time and speaker."""


@dataclass(frozen=True, slots=True)
class Reading:
    """Its ``title``, the ``duration`` of what was transcribed (ms), the form of paragraphs, and
    ``translations`` to stand beside them, one text a cue for each language; ``client`` and ``date``
    (ISO 8601) of the order; the ``paper``. Lines may be ``numbered``, with wide margins;
    ``templates`` are documents to write within. ``fields`` (name and value) stand at the head,
    ``note`` at the end; the ``author`` is in the properties, as is the language with the region of
    its ``spelling``."""

    title: str
    duration: int
    options: TextOptions = PLAIN
    translations: Mapping[str, Sequence[str | None]] = field(default_factory=dict)
    language_names: Mapping[str, str] = field(default_factory=dict)
    client: str = ""
    date: str = ""
    paper: Paper = field(default_factory=usual_paper)
    numbered: bool = False
    templates: tuple[Template, ...] = ()
    fields: tuple[tuple[str, str], ...] = ()
    note: str = ""
    author: str = ""
    spelling: str = ""

    def values(self, facts: str = "") -> dict[str, str]:
        """The values for the places of a template and of the closing note."""
        return {
            **{name.casefold(): value for name, value in self.fields},
            "title": self.title,
            "date": self.date,
            "client": self.client,
            "facts": facts,
            "proofed by": self.author,
        }

    @property
    def closing(self) -> str:
        """The note at the end, with its places filled in; "" if there is none."""
        return filled(self.note, self.values())

    def language_of(self, transcript: Transcript) -> str:
        """Return the language of a text with its region, where the house style says one."""
        language = transcript.language
        return f"en-{self.spelling}" if language == "en" and self.spelling else language

    @property
    def margins(self) -> tuple[float, float]:
        """Left and right margin in mm: wide where lines have numbers and people take notes."""
        if self.options.page_lines:
            return WIDE_MARGINS[0], MARGIN
        return WIDE_MARGINS if self.numbered else (MARGIN, MARGIN)

    @property
    def heads(self) -> tuple[str, ...]:
        """The heads of a table's columns before the text; none for a text without a table."""
        return ("Time", "Speaker") if self.options.form is TranscriptForm.TABLE else ()

    def table_heads(self, language: str) -> tuple[str, ...]:
        """The heads of all columns of a table with a text in this language."""
        if not self.translations:
            return (*self.heads, "Text")
        return (*self.heads, *map(self.name_of, (language, *self.translations)))

    @property
    def margin(self) -> float:
        """How far text hangs to the right of the times and marks before it (mm)."""
        times = TIMES_MM if self.options.stamp_place is StampPlace.MARGIN else 0.0
        return times + (MARKS_MM if self.options.form is TranscriptForm.QUESTIONS else 0.0)

    @property
    def is_table(self) -> bool:
        """Whether each paragraph is a row of a table."""
        return bool(self.translations) or bool(self.heads)

    def name_of(self, language: str) -> str:
        """Return the head of a language's column."""
        return self.language_names.get(language, language)


def front_of(transcript: Transcript, reading: Reading) -> list[str]:
    """Return the lines between the facts of a document and its text: header fields, speakers."""
    lines = [f"{name}: {value}" for name, value in reading.fields]
    if reading.options.lists_speakers:
        speakers = listed_speakers(transcript, reading.options)
        lines += ["Speakers:", *speakers] if speakers else []
    return lines


def reading_of(source: Origin, options: Options) -> Reading:
    """Return the parts of a document from its options."""
    return Reading(
        options.title or Path(source.name).stem,
        source.length,
        options.text,
        translations=source.translations if options.side_by_side else {},
        language_names=options.language_names,
        client=options.client,
        date=options.date,
        numbered=options.numbered or bool(options.text.page_lines),
        templates=options.templates,
        fields=tuple((name, value) for name, value in options.fields if value),
        note=options.closing,
        author=options.author,
        spelling=options.spelling,
    )

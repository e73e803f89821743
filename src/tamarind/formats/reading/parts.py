"""What a document for reading is made from besides its text."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from tamarind.formats.format import Options, Origin
from tamarind.formats.reading.paper import Paper, usual_paper
from tamarind.formats.reading.paragraphs import PLAIN, TextOptions
from tamarind.formats.reading.template import Template

MARGIN = 25.0
WIDE_MARGINS = (38.0, 55.0)


@dataclass(frozen=True, slots=True)
class Reading:
    """Its ``title``, the ``duration`` of what was transcribed (ms), the form of paragraphs, and
    ``translations`` to stand beside them, one text a cue for each language; ``client`` and ``date``
    (ISO 8601) of the order; the ``paper``. Lines may be ``numbered``, with wide margins;
    ``templates`` are documents to write within."""

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

    def values(self, facts: str) -> dict[str, str]:
        """The values for the places of a template."""
        return {"title": self.title, "date": self.date, "client": self.client, "facts": facts}

    @property
    def margins(self) -> tuple[float, float]:
        """Left and right margin in mm: wide where lines have numbers and people take notes."""
        return WIDE_MARGINS if self.numbered else (MARGIN, MARGIN)

    def name_of(self, language: str) -> str:
        """Return the head of a language's column."""
        return self.language_names.get(language, language)


def reading_of(source: Origin, options: Options) -> Reading:
    """Return the parts of a document from its options."""
    return Reading(
        Path(source.name).stem,
        source.length,
        options.text,
        translations=source.translations if options.side_by_side else {},
        language_names=options.language_names,
        client=options.client,
        date=options.date,
        numbered=options.numbered,
        templates=options.templates,
    )

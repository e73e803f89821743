"""Plan an export and make the bytes of its files."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from tamarind.formats import documents
from tamarind.formats.broadcast.smpte import PLAIN_TIMECODES, Timecodes
from tamarind.formats.documents import is_for_reading
from tamarind.formats.encoding import UTF8, Bytes
from tamarind.formats.facts import Facts, facts_of
from tamarind.formats.filenames import USUAL_PATTERN, free, name_by
from tamarind.formats.format import PLAIN_DETAILS, Details, Options, Origin
from tamarind.formats.reading.paragraphs import PLAIN
from tamarind.formats.reading.template import Template
from tamarind.job.about import NOTHING_SAID, About
from tamarind.job.document import Document
from tamarind.job.recording import Recording
from tamarind.language.housestyle import HouseStyle
from tamarind.language.publishing import Ways, published
from tamarind.picture.looks import Look
from tamarind.transcript.descriptions import interleaved
from tamarind.transcript.model import Transcript
from tamarind.translation.tracks import as_transcript

DESCRIPTIONS = "descriptions.vtt"
"""Of recordings that have some, in the language that they are written in."""


@dataclass(frozen=True, slots=True)
class ExportOptions:
    """What a person wants written. A language of None is the source.

    ``below`` is a language whose captions stand below the others' in the same file: that of a
    translation, or of the source. ``rows`` is how
    many lines roll-up captions show, None for ordinary ones; where a format can, captions may be
    ``painted`` as they are said. ``look`` says whether formats with styling have the look.
    Documents may have ``numbered`` lines, and be made within ``templates``; transcripts may be
    ``described``, with what is seen among what is said.
    """

    suffixes: tuple[str, ...] = ("txt", "srt")
    languages: tuple[str | None, ...] = (None,)
    below: str | None = None
    side_by_side: bool = False
    rows: int | None = None
    details: Details = PLAIN_DETAILS
    bytes: Bytes = UTF8
    pattern: str = USUAL_PATTERN
    client: str = ""
    date: str = ""
    language_names: Mapping[str, str] = field(default_factory=dict)
    timecodes: Timecodes = PLAIN_TIMECODES
    painted: bool = False
    look: bool = False
    numbered: bool = False
    templates: tuple[Template, ...] = ()
    described: bool = False
    about: Mapping[int, About] = field(default_factory=dict)
    """What documents say of each recording, by its id."""

    def options(
        self,
        style: HouseStyle | None = None,
        look: Look | None = None,
        about: About = NOTHING_SAID,
    ) -> Options:
        """Return how each document is written."""
        return Options(
            PLAIN if style is None else style.transcript,
            self.details,
            self.bytes,
            side_by_side=self.side_by_side,
            language_names={**self.language_names},
            client=self.client,
            date=about.date or self.date,
            timecodes=self.timecodes,
            rows=self.rows,
            painted=self.painted,
            look=look if self.look else None,
            numbered=self.numbered,
            templates=self.templates,
            title=about.title,
            fields=about.fields,
            closing=about.closing,
            author=about.author,
            spelling="" if style is None else style.wording.spelling,
        )


@dataclass(frozen=True, slots=True)
class Planned:
    """A file to write; ``language`` None means the source."""

    name: str
    recording_id: int
    suffix: str
    language: str | None


@dataclass(frozen=True, slots=True)
class WrittenFile:
    """The bytes of a file, and what is in it."""

    data: bytes
    facts: Facts


def plan(
    recordings: Sequence[tuple[Recording, Document]], export_options: ExportOptions
) -> list[Planned]:
    """Return the files for these recordings; those without a text are left out. Raises
    NamePatternError."""
    files: list[Planned] = []
    taken: set[str] = set()
    for recording, document in recordings:
        if not any(cue.words for cue in document.transcript.cues):
            continue
        tracks = {track.language for track in document.tracks}
        for language in export_options.languages:
            if language is not None and language not in tracks:
                continue
            for suffix in export_options.suffixes:
                if suffix == DESCRIPTIONS and (language is not None or not document.descriptions):
                    continue
                title = export_options.about.get(recording.id, NOTHING_SAID).title
                values = {
                    "recording": recording.name,
                    "title": title or recording.name,
                    "language": language or "",
                    "date": export_options.date,
                    "client": export_options.client,
                    "document": documents.WRITTEN[suffix].label.lower(),
                }
                name = free(name_by(export_options.pattern, values), suffix, taken)
                files.append(Planned(name, recording.id, suffix, language))
    return files


def written(
    planned: Planned,
    recording: Recording,
    document: Document,
    style: HouseStyle,
    export_options: ExportOptions,
    look: Look | None = None,
) -> WrittenFile:
    """Return the bytes of a file; ``look`` is the recording's caption style."""
    whole = _in_language(document, planned.language)
    if export_options.described and planned.language is None and is_for_reading(planned.suffix):
        whole = interleaved(whole, document.descriptions)
    text = published(
        whole, planned.suffix, style, _ways(document, planned.language, export_options)
    )
    others = _beside(document, whole, planned.language, export_options.below)
    # Cues that a clean text leaves out have no translation either.
    kept = {cue.id for cue in text.cues}
    if is_for_reading(planned.suffix) and len(kept) != len(whole.cues):
        there = [cue.id in kept for cue in whole.cues]
        others = {
            language: [one for one, stays in zip(texts, there, strict=True) if stays]
            for language, texts in others.items()
        }
    part = (recording.part[0], recording.part_end)
    is_whole = part == (0, recording.duration)
    source = Origin(
        recording.path.name,
        recording.duration,
        others,
        None if is_whole else part,
        document.descriptions,
    )
    said = export_options.about.get(recording.id, NOTHING_SAID)
    options = export_options.options(style, look, said)
    data = documents.write(planned.suffix, text, source, options)
    return WrittenFile(data, facts_of(text, source.length))


def _in_language(document: Document, language: str | None) -> Transcript:
    if language is None:
        return document.transcript
    return as_transcript(document.track(language), document.transcript)


def _beside(
    document: Document, whole: Transcript, language: str | None, below: str | None
) -> dict[str, list[str | None]]:
    """Return the texts that documents hold beside each cue, by language: for the source all its
    translations, for a translation the second language, if one is asked for."""
    if language is None:
        return {
            track.language: [track.text(cue.id) or None for cue in whole.cues]
            for track in document.tracks
        }
    second = _second(document, language, below)
    if second is None:
        return {}
    texts = {cue.id: cue.text for cue in second.cues}
    return {second.language: [texts.get(cue.id) or None for cue in whole.cues]}


def _second(document: Document, language: str | None, below: str | None) -> Transcript | None:
    """Return the text in the second language; None if there is none or it is the first."""
    own = document.transcript.language
    if below is None or below == (own if language is None else language):
        return None
    if any(track.language == below for track in document.tracks):
        return _in_language(document, below)
    return document.transcript if below == own else None


def _ways(document: Document, language: str | None, export_options: ExportOptions) -> Ways:
    """Return how to write captions for two languages or as roll-up captions."""
    return Ways(export_options.rows, _second(document, language, export_options.below))

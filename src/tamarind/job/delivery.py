"""Deliver: write for each client all that it wants into one folder, and say what is left to do."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import groupby
from pathlib import Path

from tamarind.checks.check import CheckContext
from tamarind.checks.checker import Checker
from tamarind.checks.finding import PlacedFinding, mark_of, summary
from tamarind.checks.report import finding_lines
from tamarind.formats.documents import is_captions
from tamarind.formats.filenames import free, lawful
from tamarind.job.about import NOTHING_SAID, About
from tamarind.job.client import Client
from tamarind.job.delivered import Delivered, digest_of
from tamarind.job.document import Document
from tamarind.job.export import ExportOptions, Planned, plan, written
from tamarind.job.recording import Recording
from tamarind.language.housestyle import HouseStyle
from tamarind.picture.looks import Look
from tamarind.system.files import write_whole
from tamarind.transcript.languages import name_of

LIST = "checks"
"""The name of the list of what breaks the house style, without its suffix."""


@dataclass(frozen=True, slots=True)
class ToDeliver:
    """A recording with everything that its documents are made of; ``terms`` are always right,
    ``ignored`` the marks of findings that somebody let be."""

    recording: Recording
    document: Document
    style: HouseStyle
    look: Look
    about: About = NOTHING_SAID
    terms: tuple[str, ...] = ()
    ignored: frozenset[str] = frozenset()

    @property
    def has_text(self) -> bool:
        """Whether there is anything to deliver of it."""
        return any(cue.words for cue in self.document.transcript.cues)


@dataclass(frozen=True, slots=True)
class Parcel:
    """What one client gets: the recordings that have a text."""

    client: Client
    works: tuple[ToDeliver, ...]

    @property
    def folder(self) -> str:
        """The name of its folder."""
        return lawful(self.client.name)

    def options(self, day: str) -> ExportOptions:
        """Return how its documents are written, dated ``day``."""
        delivery = self.client.delivery
        spoken = [work.document.transcript.language for work in self.works]
        return ExportOptions(
            delivery.documents,
            (None, *delivery.translations),
            bytes=delivery.bytes,
            pattern=delivery.names,
            client=self.client.name,
            date=day,
            language_names={tag: name_of(tag) for tag in (*spoken, *delivery.translations)},
            look=delivery.look,
            numbered=delivery.numbered,
            templates=self.client.templates,
            about={work.recording.id: work.about for work in self.works},
        )

    def files(self, day: str) -> list[Planned]:
        """Return the files to write. Raises NamePatternError."""
        pairs = [(work.recording, work.document) for work in self.works]
        return plan(pairs, self.options(day))

    def missing(self) -> list[str]:
        """Return a sentence for each text that the client wants and does not get in full."""
        told: list[str] = []
        for work in self.works:
            name = work.recording.name
            if not work.has_text:
                told.append(f"{name}: has no text yet, and is left out.")
                continue
            cues = work.document.transcript.cues
            for language in self.client.delivery.translations:
                track = work.document.track(language)
                count = sum(not track.text(cue.id).strip() for cue in cues if cue.words)
                if count:
                    noun = "1 cue is" if count == 1 else f"{count} cues are"
                    told.append(f"{name}: {noun} not translated into {name_of(language)}.")
        return told

    def left_to_do(self) -> list[str]:
        """Return what is missing, and a sentence for each speaker without a name and each
        recording with speech without text."""
        told = self.missing()
        for work in self.works:
            if not work.has_text:
                continue
            name = work.recording.name
            cues = work.document.transcript.cues
            used = {cue.speaker for cue in cues if cue.words}
            unnamed = [
                one.label
                for one in work.document.transcript.speakers
                if one.id in used and not one.name
            ]
            if unnamed:
                verb = "has no name" if len(unnamed) == 1 else "have no names"
                told.append(f"{name}: {', '.join(unnamed)} {verb} yet.")
            said = dict(work.about.fields)
            told += [
                f"{name}: “{field}” is not filled in."
                for field in self.client.delivery.fields
                if not said.get(field)
            ]
            if work.recording.unheard:
                count = len(work.recording.unheard)
                noun = "1 place" if count == 1 else f"{count} places"
                told.append(f"{name}: somebody speaks at {noun} without text.")
        return told


@dataclass(frozen=True, slots=True)
class Made:
    """What was written for a client: files, failures (a sentence each), findings by recording, and
    what is now known to be delivered."""

    files: tuple[Path, ...]
    failed: tuple[str, ...]
    found: Mapping[int, Sequence[PlacedFinding]]
    delivered: Mapping[int, Delivered]


def parcels(works: Iterable[ToDeliver], clients: Mapping[int, Client | None]) -> list[Parcel]:
    """Return what each client gets of these recordings; ``clients`` by recording. Those of no
    client are left out."""
    mine = [(client, work) for work in works if (client := clients.get(work.recording.id))]
    mine.sort(key=lambda pair: pair[0].name.casefold())
    return [
        Parcel(pairs[0][0], tuple(work for _, work in pairs))
        for _, group in groupby(mine, key=lambda pair: pair[0].name)
        if (pairs := list(group))
    ]


def findings(parcel: Parcel, work: ToDeliver) -> list[PlacedFinding]:
    """Return what in a recording's text breaks the client's house style, or would be lost in its
    files."""
    wanted = parcel.client.delivery
    context = CheckContext(
        work.style,
        tracks=tuple(
            track for track in work.document.tracks if track.language in wanted.translations
        ),
        terms=work.terms,
        unheard=work.recording.unheard,
        at_once=work.recording.at_once,
        encoding=wanted.encoding,
        files=wanted.documents,
        captions=any(map(is_captions, wanted.documents)),
    )
    found = Checker().check(work.document.transcript, context)
    key = work.recording.id
    return [one for one in found if mark_of(key, one.finding) not in work.ignored]


def deliver(
    parcel: Parcel, into: Path, when: datetime, told: Callable[[float], None] = lambda _share: None
) -> Made:
    """Write everything for a client into its folder below ``into``, replacing what is there under
    the same names. ``told`` is called with the share (0 to 1) that is done.

    Each file is written wholly or not at all, and a failure does not stop the others. Raises
    OSError if there can be no folder, and NamePatternError.
    """
    day = f"{when:%Y-%m-%d}"
    files, options = parcel.files(day), parcel.options(day)
    folder = into / parcel.folder
    folder.mkdir(parents=True, exist_ok=True)
    works = {work.recording.id: work for work in parcel.works}
    made, failed, broken = list[Path](), list[str](), set[int]()
    steps = len(files) + len(works)
    for number, file in enumerate(files):
        told(number / steps)
        work = works[file.recording_id]
        try:
            data = written(file, work.recording, work.document, work.style, options, work.look).data
            write_whole(folder / file.name, data)
        except OSError as error:
            failed.append(f"{file.name}: {error.strerror or error}.")
        except ValueError as error:  # a sentence of what the format cannot hold
            failed.append(f"{file.name}: {error}")
        else:
            made.append(folder / file.name)
            continue
        broken.add(file.recording_id)
    found: dict[int, Sequence[PlacedFinding]] = {}
    for number, (key, work) in enumerate(works.items()):
        told((len(files) + number) / steps)
        if work.has_text:
            found[key] = findings(parcel, work)
    if parcel.client.delivery.tells:
        target = folder / free(LIST, "txt", {file.name.casefold() for file in files})
        try:
            write_whole(target, "\n".join(list_of(parcel, found)).encode())
            made.append(target)
        except OSError as error:
            failed.append(f"{target.name}: {error.strerror or error}.")
    stamp = f"{when:%Y-%m-%dT%H:%M:%S}"
    delivered = {
        key: Delivered(stamp, parcel.client.name, digest_of(works[key].document))
        for key in dict.fromkeys(file.recording_id for file in files)
        if key not in broken
    }
    return Made(tuple(made), tuple(failed), found, delivered)


def list_of(parcel: Parcel, found: Mapping[int, Sequence[PlacedFinding]]) -> list[str]:
    """Return the lines of the list of what breaks the house style; uncertain words are counted
    only."""
    lines = [f"{parcel.client.name}: {parcel.client.style.name}", "", *parcel.left_to_do()]
    for work in parcel.works:
        if work.recording.id not in found:
            continue
        told = found[work.recording.id]
        others = [one for one in told if one.finding.rule != "doubt"]
        doubts = len(told) - len(others)
        lines += ["", f"{work.recording.name}: {summary(others)}"]
        if doubts:
            lines.append("1 uncertain word" if doubts == 1 else f"{doubts} uncertain words")
        lines += finding_lines(others)
    return [*lines, ""]

"""``tamarind convert JOB``: write the texts of a job as files, by its own house styles."""

from __future__ import annotations

import argparse
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import replace
from pathlib import Path

from tamarind.cli.clients import client_of, in_degree
from tamarind.cli.jobs import open_job
from tamarind.cli.output import summary, tell, told
from tamarind.cli.second import check_second, second_language
from tamarind.cli.statuses import DONE, SOME_FAILED, UseError
from tamarind.formats.documents import is_for_reading
from tamarind.formats.filenames import USUAL_PATTERN
from tamarind.formats.format import Options
from tamarind.job.about import TITLE, About, about
from tamarind.job.document import Document
from tamarind.job.dressing import dressing_of
from tamarind.job.export import ExportOptions, Planned, plan, written
from tamarind.job.jobfile import JobError
from tamarind.job.recording import Recording
from tamarind.job.settings import CLIENT, DETAILS, JOB_CLIENTS
from tamarind.job.store import JobStore
from tamarind.system.errors import ToldError
from tamarind.system.files import shown, write_whole
from tamarind.transcript.languages import base_of, name_of

USUAL = ("srt",)


def convert_job(path: Path, folder: Path, how: Options, options: argparse.Namespace) -> int:
    """Write each recording's text and translations, or those in --language only; return the exit
    status. Raises UseError and JobError."""
    if not path.exists():
        raise JobError(f"“{shown(str(path))}” is no job: there is no such file.")
    if not options.formats and folder.suffix:
        raise UseError("A job becomes a folder of files: -o DIR, with --format for each.")
    if options.style or options.names or options.lay_out or options.punctuate or options.sound:
        raise UseError(
            "A job has its own house styles, speakers and layout: leave out --style, --names,"
            " --lay-out, --punctuate and --sound."
        )
    if options.second is not None:
        check_second(options.formats or USUAL, options)
    opened = open_job(path)
    for sentence in opened.told:
        tell(sentence)
    try:
        return _write_all(opened.store, folder, how, options)
    finally:
        opened.store.close()


def _write_all(store: JobStore, folder: Path, how: Options, options: argparse.Namespace) -> int:
    pairs = {one.id: (one, store.document(one.id)) for one in store.recordings()}
    tracks = {track.language: None for _, document in pairs.values() for track in document.tracks}
    sources = [document.transcript.language for _, document in pairs.values()]
    wanted = _wanted(tracks, (*tracks, *sources), how, options)
    wanted = replace(wanted, about=_about(store, pairs, options))
    files = plan(list(pairs.values()), wanted)
    if options.language is not None:
        only = base_of(options.language)
        files = [
            file
            for file in files
            if base_of(file.language or pairs[file.recording_id][1].transcript.language) == only
        ]
    status = DONE
    if wanted.below is not None:
        files, lacking = _with_second(files, pairs, wanted.below)
        for name in lacking:
            status = told(f"{name}: it has no text in {wanted.below}.", SOME_FAILED)
    if not files:
        return told("The job has no such texts.", SOME_FAILED)
    made_files: list[Path] = []
    folder.mkdir(parents=True, exist_ok=True)
    for file in files:
        target = folder / file.name
        if target.exists() and not options.overwrite:
            status = told(
                f"{shown(str(target))} already exists; --overwrite replaces it.", SOME_FAILED
            )
            continue
        recording, document = pairs[file.recording_id]
        if wanted.side_by_side and is_for_reading(file.suffix):
            document = _with_tracks(document, (file.language, wanted.below))
        dressing = dressing_of(recording, store.settings())
        try:
            style = in_degree(dressing.style, options)
            made = written(file, recording, document, style, wanted, dressing.look)
            write_whole(target, made.data)
        except ToldError as error:
            status = told(f"{shown(file.name)}: {error}", SOME_FAILED)
        except OSError as error:
            status = told(
                f"{shown(str(target))}: could not be written: {error.strerror}.", SOME_FAILED
            )
        else:
            tell(shown(str(target)))
            made_files.append(target)
    if len(files) > 1:
        tell(summary(made_files, len(files) - len(made_files)))
    return status


def _about(store: JobStore, keys: Iterable[int], options: argparse.Namespace) -> dict[int, About]:
    """Return what documents say of each recording: its details, and what was said in its place."""
    settings = store.settings()
    clients = JOB_CLIENTS.of(settings.get(JOB_CLIENTS.key))
    found: dict[int, About] = {}
    for key in keys:
        kept = DETAILS.of(settings.get(DETAILS.numbered(key).key))
        said = dict(options.fields) | ({TITLE: options.title} if options.title else {})
        client = client_of(options) or clients.get(
            CLIENT.of(settings.get(CLIENT.numbered(key).key))
        )
        found[key] = about({**kept, **said}, client)
    return found


def _wanted(
    tracks: Iterable[str], languages: Collection[str], how: Options, options: argparse.Namespace
) -> ExportOptions:
    """Return what to write of a job with tracks and texts in these languages. Raises UseError."""
    client = client_of(options)
    return ExportOptions(
        tuple(dict.fromkeys(options.formats)) or USUAL,
        (None, *tracks),
        rows=how.rows,
        details=how.details,
        bytes=how.bytes,
        client=how.client,
        pattern=USUAL_PATTERN if client is None else client.delivery.names,
        date=how.date,
        timecodes=how.timecodes,
        painted=how.painted,
        look=True,
        numbered=how.numbered,
        templates=how.templates,
        below=second_language(options, languages),
        side_by_side=options.second is not None,
        language_names={tag: name_of(tag) for tag in languages},
    )


def _with_second(
    files: Sequence[Planned], pairs: Mapping[int, tuple[Recording, Document]], second: str
) -> tuple[list[Planned], list[str]]:
    """Return the files in which the second language can stand, and the names of recordings that
    have no text in it."""
    fits: list[Planned] = []
    lacking: dict[str, None] = {}
    for file in files:
        recording, document = pairs[file.recording_id]
        own = document.transcript.language
        if second not in (own, *(track.language for track in document.tracks)):
            lacking[shown(recording.name)] = None
        elif (file.language or own) != second:
            fits.append(file)
    return fits, list(lacking)


def _with_tracks(document: Document, languages: Sequence[str | None]) -> Document:
    tracks = tuple(track for track in document.tracks if track.language in languages)
    return replace(document, tracks=tracks)

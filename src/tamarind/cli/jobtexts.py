"""``tamarind convert JOB``: write the texts of a job as files, by its own house styles."""

from __future__ import annotations

import argparse
from collections.abc import Iterable
from pathlib import Path

from tamarind.cli.jobs import open_job
from tamarind.cli.output import summary, tell, told
from tamarind.cli.statuses import DONE, SOME_FAILED, UseError
from tamarind.formats.format import Options
from tamarind.job.dressing import dressing_of
from tamarind.job.export import ExportOptions, plan, written
from tamarind.job.jobfile import JobError
from tamarind.job.store import JobStore
from tamarind.system.errors import ToldError
from tamarind.system.files import shown, write_whole
from tamarind.transcript.languages import base_of

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
    wanted = _wanted(tracks, how, options)
    files = plan(list(pairs.values()), wanted)
    if options.language is not None:
        only = base_of(options.language)
        files = [
            file
            for file in files
            if base_of(file.language or pairs[file.recording_id][1].transcript.language) == only
        ]
    if not files:
        return told("The job has no such texts.", SOME_FAILED)
    status = DONE
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
        dressing = dressing_of(recording, store.settings())
        try:
            made = written(file, recording, document, dressing.style, wanted, dressing.look)
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


def _wanted(tracks: Iterable[str], how: Options, options: argparse.Namespace) -> ExportOptions:
    """Return what to write of a job with tracks in these languages."""
    return ExportOptions(
        tuple(dict.fromkeys(options.formats)) or USUAL,
        (None, *tracks),
        rows=how.rows,
        details=how.details,
        bytes=how.bytes,
        client=how.client,
        date=how.date,
        timecodes=how.timecodes,
        painted=how.painted,
        look=True,
        numbered=how.numbered,
        templates=how.templates,
    )

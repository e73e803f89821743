"""``tamarind page``: make a web page of a recording with its captions, or of each in a job."""

from __future__ import annotations

import argparse
from collections.abc import Iterator
from pathlib import Path

from tamarind.audio.media import MediaError
from tamarind.cli.jobs import open_job
from tamarind.cli.output import summary, tell, told
from tamarind.cli.statuses import DONE, SOME_FAILED, WRONG_USE, UseError
from tamarind.formats import documents
from tamarind.formats.filenames import lawful
from tamarind.job.jobfile import SUFFIX, JobError
from tamarind.job.pages import PageOrder
from tamarind.job.settings import JOB_STYLES
from tamarind.job.styles import style_of
from tamarind.language.stylebook import STYLES
from tamarind.system.errors import ToldError
from tamarind.translation.tracks import as_transcript


def page(options: argparse.Namespace) -> int:
    """Make each page; a failure is told and skipped. Return the exit status."""
    try:
        orders = list(_orders(options))
    except ToldError as error:
        return told(error, WRONG_USE)
    status = DONE if orders else told("There is no recording with a text.", SOME_FAILED)
    written: list[Path] = []
    for order in orders:
        if order.page.exists() and not options.overwrite:
            status = told(f"{order.page}: already exists; --overwrite replaces it.", SOME_FAILED)
            continue
        try:
            order.fill()
        except MediaError as error:
            status = told(f"{order.media}: {error}", SOME_FAILED)
        except OSError as error:
            status = told(f"{order.folder}: {error.strerror or error}.", SOME_FAILED)
        else:
            tell(str(order.page))
            written.append(order.page)
    if len(orders) > 1:
        tell(summary(written, len(orders) - len(written)))
    return status


def _orders(options: argparse.Namespace) -> Iterator[PageOrder]:
    if options.media.suffix == SUFFIX:
        if options.captions:
            raise UseError("A job has its own captions: leave out --captions.")
        yield from _of_job(options)
        return
    if not options.captions:
        raise UseError("Which captions? --captions FILE; several for several languages.")
    texts = [documents.read(path, None).transcript for path in options.captions]
    title = options.title or options.media.stem
    style = STYLES.find(options.style)
    captions = any(documents.is_captions(path.suffix.lower()[1:]) for path in options.captions)
    yield PageOrder(
        options.media,
        options.output,
        title,
        texts=texts,
        style=style,
        single=options.single,
        from_captions=captions,
    )


def _of_job(options: argparse.Namespace) -> Iterator[PageOrder]:
    """Make a page of every recording of a job that has a text, each in a folder of its own."""
    if not options.media.exists():
        raise JobError(f"“{options.media}” is no job: there is no such file.")
    opened = open_job(options.media)
    try:
        store = opened.store
        styles = JOB_STYLES.of(store.setting(JOB_STYLES.key))
        for recording in store.recordings():
            document = store.document(recording.id)
            source = document.transcript
            if not any(cue.words for cue in source.cues):
                continue
            texts = [source, *(as_transcript(track, source) for track in document.tracks)]
            folder: Path = options.output
            if not options.single:
                folder = folder / lawful(recording.name)
            pictured = recording.info is not None and recording.info.picture is not None
            yield PageOrder(
                recording.path, folder if not (options.single and pictured)
                else folder / lawful(recording.name), recording.name, texts=texts,
                style=style_of(recording, styles), single=options.single and not pictured,
                descriptions=document.descriptions,
            )  # fmt: skip
    finally:
        opened.store.close()

"""``tamarind excerpts``: the excerpts of a job, listed or written as files."""

from __future__ import annotations

import argparse
import time
from pathlib import Path

from tamarind.audio.media import MediaError
from tamarind.cli.jobs import open_job
from tamarind.cli.output import tell, told
from tamarind.cli.statuses import DONE, SOME_FAILED, WRONG_USE
from tamarind.formats.broadcast.smpte import Frames
from tamarind.formats.timecode import clock
from tamarind.job.dressing import Dressing, dressing_of
from tamarind.job.excerptfiles import USUAL_RATE, ExcerptOptions, has_picture, planned, write
from tamarind.job.excerptkinds import EDIT_LISTS, VIDEOS
from tamarind.job.excerpts import Chosen, fitting, in_order
from tamarind.job.jobfile import JobError
from tamarind.job.settings import JOB_LOOKS
from tamarind.job.store import JobStore
from tamarind.picture.lookbook import LOOKS
from tamarind.picture.looks import LookError

USUAL_KINDS = ("wav",)


def excerpts(options: argparse.Namespace) -> int:
    """List the excerpts of a job, or write files; return the exit status."""
    if not options.job.exists():
        return told(f"“{options.job}” is no job: there is no such file.", WRONG_USE)
    try:
        opened = open_job(options.job)
    except JobError as error:
        return told(error, SOME_FAILED)
    store = opened.store
    try:
        pairs = [(one, store.document(one.id)) for one in store.recordings()]
        chosen = fitting(in_order(pairs), options.words, options.tag)
        if options.output is None:
            for number, one in enumerate(chosen, 1):
                print(_line(number, one))
            return DONE
        if not chosen:
            return told("The job has no such excerpts.", SOME_FAILED)
        return _write(options, store, chosen)
    finally:
        store.close()


def _line(number: int, one: Chosen) -> str:
    excerpt = one.excerpt
    times = f"{clock(excerpt.start, 1)} – {clock(excerpt.end, 1)}"
    tags = f"  [{', '.join(excerpt.tags)}]" if excerpt.tags else ""
    return f"{number}  {one.recording.name}  {times}{tags}  {one.quote or '(its words are gone)'}"


def _write(options: argparse.Namespace, store: JobStore, chosen: list[Chosen]) -> int:
    tags = ", ".join(options.tag)
    wanted = ExcerptOptions(
        tuple(options.format or USUAL_KINDS),
        options.joined,
        options.burn,
        title=f"{store.path.stem}, {tags}" if tags else store.path.stem,
        rate=options.frame_rate,
        begun=options.timecode,
    )
    try:
        Frames(options.frame_rate or USUAL_RATE).number(wanted.begun)
        kept = store.settings()
        looks = JOB_LOOKS.of(kept.get(JOB_LOOKS.key)).items()
        named = LOOKS.find(options.caption_style, looks) if options.caption_style else None
    except (ValueError, LookError) as error:
        return told(error, WRONG_USE)
    recordings = {one.id: one for one in store.recordings()}

    def dressed(recording_id: int) -> Dressing:
        return dressing_of(recordings[recording_id], kept, named)

    status = DONE
    lacking = [one for one in chosen if not has_picture(one)]
    if lacking and not options.joined and set(wanted.kinds) & set(VIDEOS):
        tell(f"{len(lacking)} of {len(chosen)} excerpts have no picture: no video of them.")
    missing = sorted({str(one.recording.path) for one in chosen if not one.recording.path.exists()})
    if missing and set(wanted.kinds) & set(EDIT_LISTS):
        return told(f"{missing[0]}: The file is no longer there.", SOME_FAILED)
    options.output.mkdir(parents=True, exist_ok=True)
    for file in planned(chosen, wanted):
        target: Path = options.output / file.name
        if target.exists() and not options.overwrite:
            status = told(f"{target}: already exists; --overwrite replaces it.", SOME_FAILED)
            continue
        begun = time.monotonic()
        try:
            write(file, options.output, wanted, dressed)
        except MediaError as error:
            status = told(f"{target}: {error}", SOME_FAILED)
        except OSError as error:
            status = told(f"{target}: {error.strerror or error}.", SOME_FAILED)
        else:
            tell(f"{target} ({time.monotonic() - begun:.1f} s)")
    return status

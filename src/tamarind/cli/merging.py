"""``tamarind merge``: take texts that were proofed elsewhere back into a job."""

from __future__ import annotations

import argparse

from tamarind.cli.jobs import open_job
from tamarind.cli.output import tell, told
from tamarind.cli.statuses import BREACHES, DONE, SOME_FAILED, WRONG_USE
from tamarind.formats.timecode import clock
from tamarind.job.recording import Recording
from tamarind.job.store import JobStore
from tamarind.job.takingback import MergedDocument, came_back, in_words, merge_back
from tamarind.system.errors import ToldError


def merge(options: argparse.Namespace) -> int:
    """Merge a job that came back into another; return the exit status."""
    if not options.job.exists():
        return told(f"“{options.job}” is no job: there is no such file.", WRONG_USE)
    try:
        opened = open_job(options.job)
        try:
            with came_back(options.other) as other:
                return _merge(opened.store, other, options.conflicts)
        finally:
            opened.store.close()
    except ToldError as error:
        return told(error, SOME_FAILED)
    except OSError as error:
        return told(f"{options.other}: {error.strerror or error}.", SOME_FAILED)


def _merge(store: JobStore, other: JobStore, counts: str | None) -> int:
    mine = [(one, store.document(one.id)) for one in store.recordings()]
    found, problems = merge_back(other, mine)
    status = DONE
    for sentence in problems:
        status = told(sentence, SOME_FAILED)
    here = {recording.id: (recording, document) for recording, document in mine}
    undecided = sum(len(one.conflicts) for one in found) if counts is None else 0
    for one in found:
        recording, document = here[one.recording_id]
        _tell(recording, one)
        if undecided:
            continue
        new = one.decided(document, lambda _conflict: counts == "there")
        store.save_document(recording.id, document, new)
    if undecided:
        noun = "1 place" if undecided == 1 else f"{undecided} places"
        told(
            f"Both have changed {noun}: nothing was written. --conflicts says what counts; the"
            " window asks for each.",
            BREACHES,
        )
        return BREACHES
    return status


def _tell(recording: Recording, merged: MergedDocument) -> None:
    noun = "1 change" if merged.taken == 1 else f"{merged.taken} changes"
    tell(f"{recording.name}: {noun} from there")
    for conflict in merged.conflicts:
        mine, theirs = in_words(conflict)
        tell(f"  {clock(conflict.start)}  here: {mine}\n                there: {theirs}")

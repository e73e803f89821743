"""``tamarind pack`` and ``tamarind unpack``: a job and its recordings as one file."""

from __future__ import annotations

import argparse

from tamarind.cli.jobs import open_job
from tamarind.cli.output import tell, told
from tamarind.cli.statuses import DONE, SOME_FAILED, WRONG_USE, UseError
from tamarind.job.packing import PackOrder, unpack
from tamarind.system.errors import ToldError
from tamarind.transcript.bounds import LATEST


def pack(options: argparse.Namespace) -> int:
    """Pack a job; return the exit status."""
    if not options.job.exists():
        return told(f"“{options.job}” is no job: there is no such file.", WRONG_USE)
    target = options.output or options.job.with_name(f"{options.job.name}.zip")
    if target.exists() and not options.overwrite:
        return told(f"“{target}” already exists (--overwrite).", SOME_FAILED)
    if target.exists() and target.samefile(options.job):
        return told("That is the job itself: write to another name.", WRONG_USE)
    try:
        only, section = _only(options), _section(options)
    except ToldError as error:
        return told(error, WRONG_USE)
    order = PackOrder(
        options.job,
        target,
        recordings=not options.without_recordings,
        drafts=not options.without_drafts,
        names=not options.without_names,
        only=only,
        section=section,
    )
    try:
        order.fill()
    except ToldError as error:
        return told(error, SOME_FAILED)
    except OSError as error:
        return told(f"“{target}” could not be written: {error.strerror or error}.", SOME_FAILED)
    tell(f"{target} written.")
    return DONE


def _only(options: argparse.Namespace) -> tuple[int, ...]:
    """Return the numbers of the recordings that are named; none for all. Raises UseError."""
    if not options.recording:
        return ()
    opened = open_job(options.job)
    try:
        numbers = {one.name.casefold(): one.id for one in opened.store.recordings()}
    finally:
        opened.store.close()
    unknown = [name for name in options.recording if name.casefold() not in numbers]
    if unknown:
        raise UseError(f"The job has no recording “{unknown[0]}”.")
    return tuple(numbers[name.casefold()] for name in options.recording)


def _section(options: argparse.Namespace) -> tuple[int, int] | None:
    if options.start is None and options.end is None:
        return None
    start, end = options.start or 0, LATEST if options.end is None else options.end
    if end <= start:
        raise UseError("--until must be after --from.")
    return start, end


def unpacked(options: argparse.Namespace) -> int:
    """Unpack a job and print where it lies; return the exit status."""
    folder = options.output or options.packed.absolute().parent
    try:
        if options.output is not None:
            folder.mkdir(parents=True, exist_ok=True)
        job = unpack(options.packed, folder)
    except ToldError as error:
        return told(error, SOME_FAILED)
    except OSError as error:
        return told(f"“{folder}” cannot be written: {error.strerror or error}.", SOME_FAILED)
    print(job)
    return DONE

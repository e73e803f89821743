"""``tamarind compare``: what differs between two texts or jobs."""

from __future__ import annotations

import argparse
from datetime import datetime
from pathlib import Path

from tamarind.cli.output import tell, told
from tamarind.cli.statuses import BREACHES, DONE, SOME_FAILED, WRONG_USE, UseError
from tamarind.cli.textfiles import read_text
from tamarind.formats.reading.compared import SUFFIXES, Versions, change_lines, write_compared
from tamarind.job.jobfile import SUFFIX, is_packed
from tamarind.job.takingback import came_back
from tamarind.system.errors import ToldError
from tamarind.system.files import write_whole
from tamarind.transcript.model import Transcript

DRAFT = "draft"


def compare(options: argparse.Namespace) -> int:
    """Print or write the differences; return the exit status: 0 if there are none, else 1."""
    try:
        target: Path | None = options.output
        if target is not None and target.suffix.lstrip(".") not in SUFFIXES:
            raise UseError(f"Changes are written as {', '.join(f'.{one}' for one in SUFFIXES)}.")
        if target is not None and target.exists() and not options.overwrite:
            raise UseError(f"“{target}” already exists; --overwrite replaces it.")
        versions = _versions(options)
    except UseError as error:
        return told(error, WRONG_USE)
    except ToldError as error:
        return told(error, SOME_FAILED)
    except OSError as error:
        return told(f"{error.filename}: {error.strerror}.", SOME_FAILED)
    count = 0
    for one in versions:
        lines = change_lines(one)
        count += len(lines)
        if target is None:
            print("\n".join([one.name, *lines] if len(versions) > 1 else lines))
    if target is not None:
        try:
            suffix = target.suffix.lstrip(".")
            write_whole(target, write_compared(suffix, versions, datetime.now()))
        except OSError as error:
            return told(f"“{target}” could not be written: {error.strerror}.", SOME_FAILED)
    tell("No word differs." if not count else "1 change" if count == 1 else f"{count} changes")
    return BREACHES if count else DONE


def _versions(options: argparse.Namespace) -> list[Versions]:
    """Return the texts to compare: of two jobs each recording that both have. Raises UseError and
    ToldError."""
    before = _texts(options.before, options)
    if str(options.after) == DRAFT:
        after, before = before, _texts(options.before, options, drafts=True)
    else:
        after = _texts(options.after, options)
    if len(before) == len(after) == 1:
        return [Versions(next(iter(after)), *before.values(), *after.values())]
    shared = [name for name in after if name in before]
    for name in (*before, *after):
        if name not in shared:
            tell(f"{name}: is only in one of them, and left out.")
    if not shared:
        raise UseError("The two have no recording of the same name.")
    return [Versions(name, before[name], after[name]) for name in shared]


def _texts(path: Path, options: argparse.Namespace, drafts: bool = False) -> dict[str, Transcript]:
    """Return the texts in a file by their names."""
    if path.suffix != SUFFIX and not is_packed(path):
        if drafts:
            raise UseError("Only a job has drafts.")
        return {path.stem: read_text(path, options).transcript}
    found: dict[str, Transcript] = {}
    with came_back(path) as store:
        for recording in store.recordings():
            text = store.document(recording.id).transcript
            if drafts:
                text = Transcript(text.language, store.draft(recording.id), text.speakers)
            if text.cues:
                found[recording.name] = text
    return found

"""Open a job in whatever state it is; a damaged one as far as it is whole, in a copy."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from pathlib import Path

from tamarind.job.contents import Contents
from tamarind.job.jobfile import SUFFIX, DamagedJobError, JobError
from tamarind.job.store import JobStore
from tamarind.system.folders import data_home


@dataclass(frozen=True, slots=True)
class Opened:
    """An open job, and sentences to show about it."""

    store: JobStore
    told: tuple[str, ...] = ()


def open_job(path: Path) -> Opened:
    """Open a job, making it if there is none. Raises JobError.

    Of a damaged one what could be read is put into a new job beside it, or in the data folder where
    that is not to be written; the damaged file stays as it was.
    """
    try:
        return Opened(JobStore(path))
    except DamagedJobError as error:
        contents = error.contents
        if not contents.recordings:
            raise JobError(
                f"“{path.name}” is damaged, and nothing of it could be read; it was left as it is."
            ) from None
        store = put_beside(contents, path, "saved")
        cues = sum(len(d.transcript.cues) for d in contents.documents.values())
        first = (
            f"“{path.name}” is damaged. {len(contents.recordings)} recordings with {cues} cues"
            f" could be read; the work goes on in “{store.path.name}”. The damaged file was left"
            " as it is."
        )
        return Opened(store, (first, *contents.damage))


def put_beside(contents: Contents, path: Path, how: str) -> JobStore:
    """Make a new job with these contents beside another one, or in the data folder. Raises
    JobError."""
    refused: JobError | None = None
    for folder in (path.parent, data_home() / "jobs"):
        try:
            folder.mkdir(parents=True, exist_ok=True)
            return write_new(contents, free_name(folder, path.stem, how))
        except JobError as error:
            refused = error
        except OSError as error:
            refused = JobError(f"“{folder}” cannot be written: {error.strerror}.")
    assert refused is not None
    raise refused


def write_new(contents: Contents, path: Path) -> JobStore:
    """Make and open a new job with these contents; on failure nothing is left. Raises JobError."""
    store = JobStore(path)
    try:
        store.put(contents)
    except BaseException:
        store.close()
        path.unlink(missing_ok=True)
        raise
    return store


def free_name(folder: Path, stem: str, how: str) -> Path:
    """Return a name for a copy of a job that is not taken."""
    stem = stem.encode()[:180].decode("utf-8", "ignore")
    names = (f"{stem} ({how}{f' {n}' if n > 1 else ''}){SUFFIX}" for n in itertools.count(1))
    return next(folder / name for name in names if not (folder / name).exists())

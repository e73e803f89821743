"""Pack a job with its recordings into one ZIP file that opens anywhere, and unpack it again.

The file holds the job, its recordings and its clients' documents in folders of their own, and
``contents.json`` with the size and SHA-256 digest of each, which unpacking compares.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
import shutil
import sqlite3
import tempfile
import zipfile
import zlib
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import IO

from tamarind.formats.filenames import LONGEST_NAME, free, shortened
from tamarind.job.givenout import given_out
from tamarind.job.jobfile import SUFFIX, JobError, check_header, refusal
from tamarind.job.recording import Recording
from tamarind.job.settings import (
    ASKED_FOR_MOVED,
    EXPORT_FOLDER,
    EXPORT_TEMPLATES,
    GIVEN_OUT,
    MEDIA_FOLDER,
    WRITTEN_OUT,
)
from tamarind.job.store import JobStore
from tamarind.system.files import open_file, shown, umask
from tamarind.transcript.model import Speaker

LIST = "contents.json"
RECORDINGS, TEMPLATES = "recordings", "templates"
VERSION = 1
MOST_FILES = 10_000
ROOM_FOR_NUMBER = 8
LONGEST_LIST = 10_000_000
"""Bytes of the list of contents."""

_BLOCK = 1 << 20
HERE_ONLY = (MEDIA_FOLDER, EXPORT_FOLDER, WRITTEN_OUT, ASKED_FOR_MOVED)
"""Settings that are of use on this computer only."""

Told = Callable[[float], None]


@dataclass(frozen=True, slots=True)
class PackOrder:
    """A job to pack into ``target``. Without ``drafts`` the undo history stays behind too, since it
    tells the same; without ``names`` speakers have none, and nothing of their voices is packed.
    Of the recordings it may be ``only`` some, and of their texts a ``section`` (from, to in ms)."""

    job: Path
    target: Path
    recordings: bool = True
    drafts: bool = True
    names: bool = True
    only: tuple[int, ...] = ()
    section: tuple[int, int] | None = None

    @property
    def targets(self) -> list[Path]:
        """The file that will be written."""
        return [self.target]

    def fill(self, told: Told = lambda _share: None) -> None:
        """Write the file, completely or not at all. ``told`` is called with the share (0 to 1) that
        is done. The job may be open elsewhere. Raises JobError and OSError."""
        with tempfile.TemporaryDirectory(prefix="tamarind-") as folder:
            copy = Path(folder) / self.job.name
            copy_job(self.job, copy)
            parts = _prepare(copy, self)
            if not self.names or not self.drafts or self.only or self.section:
                forget_deleted(copy)
            missing = [shown(path.name) for path in parts.values() if not path.is_file()]
            if missing:
                raise JobError(
                    f"Not found: {', '.join(missing)}. Find what has moved, or pack the job"
                    " without recordings."
                )
            handle, made = tempfile.mkstemp(prefix=".tamarind-", dir=self.target.parent)
            try:
                with os.fdopen(handle, "wb") as file:
                    _write(file, {_plain(copy.name): copy, **parts}, told)
                    file.flush()
                    os.fsync(file.fileno())
                Path(made).chmod(0o666 & ~umask())
                Path(made).replace(self.target)
            except BaseException:
                Path(made).unlink(missing_ok=True)
                raise
        told(1.0)


def copy_job(job: Path, copy: Path) -> None:
    """Copy a job's file as it is now, with what lies in its log."""
    check_header(job)
    try:
        with (
            contextlib.closing(
                sqlite3.connect(f"{job.absolute().as_uri()}?mode=ro", uri=True)
            ) as db,
            contextlib.closing(sqlite3.connect(copy)) as target,
        ):
            db.backup(target)
    except sqlite3.Error as error:
        raise JobError(refusal(job, error)) from None


@dataclass(slots=True)
class _Names:
    """Gives each file one name in the packed job, however often it is asked for."""

    taken: set[str] = field(default_factory=set)
    given: dict[Path, str] = field(default_factory=dict)

    def of(self, path: Path) -> str:
        """Return the name of a file; two that differ only in capitals get different ones."""
        if path not in self.given:
            name = Path(_plain(path.name))
            suffix = name.suffix[1:] or "media"
            room = LONGEST_NAME - len(suffix.encode()) - ROOM_FOR_NUMBER
            self.given[path] = free(shortened(name.stem, room), suffix, self.taken)
        return self.given[path]


def _plain(name: str) -> str:
    """Return a file's name as text without control characters."""
    return "".join("_" if mark < " " else mark for mark in shown(name))


def _prepare(copy: Path, order: PackOrder) -> dict[str, Path]:
    """Make the copied job fit to travel; return the files that go with it, by their names in the
    packed job."""
    parts: dict[str, Path] = {}
    store = JobStore(copy)
    try:
        names = _Names()
        for recording in store.recordings():
            if order.only and recording.id not in order.only:
                store.remove_recording(recording.id)
                continue
            origin = recording.path
            if origin.is_relative_to(copy.parent):
                origin = order.job.absolute().parent / origin.relative_to(copy.parent)
            name = f"{RECORDINGS}/{names.of(origin)}"
            if order.recordings:
                parts[name] = origin
            _pack_recording(store, replace(recording, path=copy.parent / name), order)
        if not order.names or not order.drafts or order.section:
            store.save_steps((), [step.number for step in store.steps()])
        kept = EXPORT_TEMPLATES.of(store.setting(EXPORT_TEMPLATES.key))
        there = {suffix: order.job.absolute().parent / path for suffix, path in kept.items()}
        packed = {suffix: f"{TEMPLATES}/{suffix}.{suffix}" for suffix in there}
        parts |= {packed[suffix]: path for suffix, path in there.items() if path.is_file()}
        if packed:
            store.set_setting(EXPORT_TEMPLATES.key, EXPORT_TEMPLATES.write(packed))
        for setting in HERE_ONLY:
            for key in store.settings():
                if key == setting.key or key.startswith(f"{setting.key} "):
                    store.set_setting(key, "")
    finally:
        store.close()
    return parts


def _pack_recording(store: JobStore, recording: Recording, order: PackOrder) -> None:
    if not order.names:
        document = store.document(recording.id)
        text = document.transcript
        speakers = tuple(Speaker(one.id, "") for one in text.speakers)
        nameless = replace(document, transcript=replace(text, speakers=speakers))
        store.save_document(recording.id, document, nameless)
        recording = replace(recording, voices=())
    if order.section is not None:
        document = store.document(recording.id)
        first, last = order.section
        kept = [cue for cue in document.transcript.cues if cue.end > first and cue.start < last]
        if not kept:
            raise JobError(f"“{recording.name}” has no text in that section.")
        part = document.with_transcript(replace(document.transcript, cues=tuple(kept)))
        store.save_document(recording.id, document, part)
    if not order.drafts or order.section is not None:
        store.save_draft(recording.id, ())
    key = GIVEN_OUT.numbered(recording.id).key
    if not store.setting(key) or not order.names:
        # One that goes back tells still what it was when it came.
        store.set_setting(key, given_out(store.document(recording.id)))
    store.save_recording(recording)


def forget_deleted(job: Path) -> None:
    """Write a job's file anew, since SQLite leaves in it what was deleted."""
    with contextlib.closing(sqlite3.connect(job, isolation_level=None)) as db:
        db.execute("VACUUM")
        db.execute("PRAGMA wal_checkpoint(TRUNCATE)")


def _write(file: IO[bytes], parts: Mapping[str, Path], told: Told) -> None:
    whole = sum(path.stat().st_size for path in parts.values()) or 1
    done = 0
    listed: list[dict[str, object]] = []
    with zipfile.ZipFile(file, "w") as archive:
        for name, path in parts.items():
            info = zipfile.ZipInfo.from_file(path, name, strict_timestamps=False)
            # Sound and video are compressed as they are.
            packs = name.endswith(SUFFIX)
            info.compress_type = zipfile.ZIP_DEFLATED if packs else zipfile.ZIP_STORED
            digest, size = hashlib.sha256(), 0
            with open_file(path) as source, archive.open(info, "w", force_zip64=True) as target:
                while block := source.read(_BLOCK):
                    target.write(block)
                    digest.update(block)
                    size += len(block)
                    told(min((done + size) / whole, 1.0))
            done += size
            listed.append({"name": name, "bytes": size, "sha256": digest.hexdigest()})
        contents = {"tamarind": "packed job", "version": VERSION, "files": listed}
        archive.writestr(LIST, json.dumps(contents, ensure_ascii=False, indent=1))


@dataclass(frozen=True, slots=True)
class _Listed:
    """A file of a packed job as its list tells it."""

    name: str
    size: int
    digest: str


def unpack(packed: Path, folder: Path, told: Told = lambda _share: None) -> Path:
    """Unpack a job into a new folder of its own in ``folder``; return the job's path.

    Every file is compared with its checksum. Raises JobError with a sentence; nothing is left then.
    """
    try:
        with open_file(packed) as file, zipfile.ZipFile(file) as archive:
            listed = _listed(archive, packed.name)
            needed, there = sum(one.size for one in listed), shutil.disk_usage(folder).free
            if needed > there:
                raise JobError(
                    f"“{packed.name}” needs {needed / 1e6:,.0f} MB, and “{folder}” has"
                    f" {there / 1e6:,.0f} MB left. Nothing was unpacked."
                )
            return _unpacked(archive, listed, packed, folder, told)
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError) as error:
        raise JobError(
            f"“{packed.name}” is not a packed job, or it is damaged ({error}). Nothing was"
            " unpacked."
        ) from None
    except OSError as error:
        raise JobError(
            f"“{packed.name}” could not be unpacked to “{folder}”: {error.strerror or error}."
        ) from None


def unpack_job(packed: Path, folder: Path) -> Path:
    """Unpack the job alone, without its recordings, into ``folder``; return its path. Raises
    JobError."""
    try:
        with open_file(packed) as file, zipfile.ZipFile(file) as archive:
            listed = _listed(archive, packed.name)[0]
            data = archive.read(listed.name)
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError) as error:
        raise JobError(f"“{packed.name}” is not a packed job, or it is damaged.") from error
    except OSError as error:
        raise JobError(f"“{packed.name}” cannot be read: {error.strerror or error}.") from None
    if hashlib.sha256(data).hexdigest() != listed.digest:
        raise JobError(f"“{listed.name}” in “{packed.name}” is damaged: its checksum differs.")
    job = folder / listed.name
    job.write_bytes(data)
    check_header(job)
    return job


def _listed(archive: zipfile.ZipFile, name: str) -> list[_Listed]:
    """Return the files of a packed job, the job first, after checking their names and sizes."""
    foreign = JobError(f"“{name}” is not a packed Tamarind job.")
    found = {info.filename: info for info in archive.infolist()}
    if LIST not in found or found[LIST].file_size > LONGEST_LIST or len(found) > MOST_FILES:
        raise foreign
    try:
        contents = json.loads(archive.read(LIST))
        if contents["tamarind"] != "packed job":
            raise foreign
        if contents["version"] > VERSION:
            raise JobError(f"“{name}” was packed by a newer Tamarind; this one cannot open it.")
        listed = [
            _Listed(str(one["name"]), int(one["bytes"]), str(one["sha256"]))
            for one in contents["files"]
        ]
    except (ValueError, TypeError, KeyError, RecursionError):
        raise foreign from None
    # Other programs put folders into an archive as files of their own.
    files = [info for key, info in found.items() if key != LIST and not info.is_dir()]
    there = {info.filename: info.file_size for info in files}
    if there != {one.name: one.size for one in listed} or len(listed) != len(there):
        raise JobError(
            f"“{name}” does not hold the files that its list tells. Nothing was unpacked."
        )
    jobs = [one for one in listed if "/" not in one.name and one.name.endswith(SUFFIX)]
    others = [one for one in listed if one not in jobs]
    if len(jobs) != 1 or not all(map(_may_be_written, [one.name for one in listed])):
        raise foreign
    return jobs + others


def _may_be_written(name: str) -> bool:
    """Whether a name stays within the folder that is unpacked to."""
    folder, _, last = name.rpartition("/")
    return (
        folder in ("", RECORDINGS, TEMPLATES)
        and last not in ("", ".", "..")
        and not any(mark < " " for mark in last)
        and len(last.encode("utf-8", "surrogatepass")) <= LONGEST_NAME
    )


def _unpacked(
    archive: zipfile.ZipFile, listed: list[_Listed], packed: Path, folder: Path, told: Told
) -> Path:
    whole = sum(one.size for one in listed) or 1
    done = 0
    workplace = Path(tempfile.mkdtemp(prefix=".tamarind-", dir=folder))
    try:
        for one in listed:
            target = workplace / one.name
            target.parent.mkdir(exist_ok=True)
            digest = hashlib.sha256()
            with archive.open(one.name) as source, target.open("xb") as file:
                while block := source.read(_BLOCK):
                    file.write(block)
                    digest.update(block)
                    done += len(block)
                    told(min(done / whole, 1.0))
                file.flush()
                os.fsync(file.fileno())
            if digest.hexdigest() != one.digest:
                raise JobError(
                    f"“{one.name}” in “{packed.name}” is damaged: its checksum differs. Nothing"
                    " was unpacked."
                )
        job = listed[0].name
        check_header(workplace / job)
        workplace.chmod(0o777 & ~umask())
        return _in_place(workplace, folder, Path(job).stem) / job
    except BaseException:
        shutil.rmtree(workplace, ignore_errors=True)
        raise


def _in_place(workplace: Path, folder: Path, stem: str) -> Path:
    """Rename the finished folder to a name that is not taken; return it."""
    for name in _numbered(stem):
        target = folder / name
        if not os.path.lexists(target):
            workplace.rename(target)
            return target
    raise AssertionError("numbers do not end")


def _numbered(stem: str) -> Iterator[str]:
    yield stem
    number = 2
    while True:
        yield f"{stem} {number}"
        number += 1

"""Disks that are full, folders that go away or may not be written: what was typed is kept
somewhere, "saved" is said only where it is so, and an export leaves no half file.

The disk is a small one in memory, in a mount namespace of its own; see ``attacks.quietplace`` for
how such a place is made. As a module it is what happens there.
"""

from __future__ import annotations

import ctypes
import errno
import json
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

from attacks.verdicts import Verdict

DEMO = Path(__file__).parent.parent / "demo"
HERE = Path(__file__).parent.parent
ROOM = "1m"
TROUBLES = (
    "full",
    "full at the export",
    "folder deleted",
    "folder moved",
    "read-only",
    "remounted",
)
PATIENCE_S = 120


def attack(seed: int, count: int) -> Verdict:
    """So many troubles, in turn."""
    verdict = Verdict("full and vanishing disks", "nothing that was typed is lost")
    if not is_possible():
        verdict.skipped = "this machine lets nobody mount a disk of their own"
        return verdict
    chance = random.Random(seed)
    for number in range(count):
        trouble = TROUBLES[number % len(TROUBLES)]
        done = subprocess.run(
            [sys.executable, "-m", "attacks.disks", trouble, str(chance.randrange(10**6))],
            capture_output=True, text=True, cwd=HERE, timeout=PATIENCE_S, check=False,
            env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
        )  # fmt: skip
        lines = done.stdout.strip().splitlines()
        if done.returncode or not lines:
            verdict.failed(f"{trouble}: status {done.returncode}: {done.stderr[-400:]}")
            continue
        held, words = json.loads(lines[-1])
        if held:
            verdict.held(words)
        else:
            verdict.failed(f"{trouble}: {words}")
    return verdict


def is_possible() -> bool:
    """Whether this machine lets us mount a disk in memory."""
    done = subprocess.run(
        [sys.executable, "-m", "attacks.disks", "--try"], capture_output=True, check=False, cwd=HERE
    )
    return done.returncode == 0


_libc = ctypes.CDLL(None, use_errno=True)


def _mount_small(folder: Path, options: str, flags: int = 0) -> None:
    made = _libc.mount(
        b"tmpfs", os.fsencode(folder), b"tmpfs", ctypes.c_ulong(flags), options.encode()
    )
    if made != 0:
        raise OSError(ctypes.get_errno(), os.strerror(ctypes.get_errno()))


def _own_mounts() -> None:
    user, group = os.getuid(), os.getgid()
    if _libc.unshare(0x20000) != 0:
        if _libc.unshare(0x20000 | 0x10000000) != 0:
            raise OSError(ctypes.get_errno(), os.strerror(ctypes.get_errno()))
        Path("/proc/self/setgroups").write_text("deny")
        Path("/proc/self/uid_map").write_text(f"{user} {user} 1")
        Path("/proc/self/gid_map").write_text(f"{group} {group} 1")
    if _libc.mount(b"none", b"/", None, ctypes.c_ulong(16384 | 1 << 18), None) != 0:
        raise OSError(ctypes.get_errno(), os.strerror(ctypes.get_errno()))


def _fill(disk: Path) -> None:
    """No byte more fits on a disk."""
    size = 1 << 16
    with (disk / "filler").open("ab", buffering=0) as file:
        while size:
            try:
                file.write(b"x" * size)
            except OSError as error:
                if error.errno != errno.ENOSPC:
                    raise
                size //= 2


def _trial(trouble: str, seed: int, folder: Path) -> tuple[bool, str]:
    from PySide6.QtTest import QTest
    from PySide6.QtWidgets import QApplication, QDialog

    from tamarind.desktop.app import make_application
    from tamarind.desktop.qtloop import open_session
    from tamarind.desktop.window import make_window
    from tamarind.job import rescue
    from tamarind.job.store import JobStore

    for kind in ("CACHE", "DATA", "CONFIG", "STATE"):
        os.environ[f"XDG_{kind}_HOME"] = str(folder / kind)
    disk = folder / "disk"
    disk.mkdir()
    _mount_small(disk, f"size={ROOM}")
    job = disk / "work" / "job.tamarind"
    job.parent.mkdir()
    shutil.copy(DEMO / "Peatland voices.tamarind", job)
    make_application()
    chance = random.Random(seed)
    window = make_window(open_session(JobStore(job)))
    window.show()
    window.show_step("proof")
    session, sheet = window.session, window.proof.sheet
    typed: list[str] = []

    def type_some(count: int) -> None:
        for _ in range(count):
            word = f"{chance.choice(('peat', 'drain', 'moor'))}{chance.randrange(10**6)}"
            row = chance.randrange(sheet.rows.row_count())
            sheet.caret.set((row, 0))
            QTest.keyClicks(sheet, word + " ")
            typed.append(word)
            QApplication.processEvents()

    def wait(done: Callable[[], object], seconds: float) -> None:
        import time

        end = time.monotonic() + seconds
        while not done() and time.monotonic() < end:
            QApplication.processEvents()
            time.sleep(0.02)

    type_some(5)
    if session.saving.is_behind:
        return False, "it did not say saved while all was well"
    if trouble == "full at the export":
        return _export(window, disk, wait)
    _cause(trouble, disk, job)
    type_some(40)
    wait(lambda: session.saving.is_behind, 5)
    if not session.saving.is_behind:
        # It may still be true, as where a file that is open can be written on.
        held = _all_there(job, typed)
        window.close_at_once()
        return held, "all saved all the same" if held else "said saved, and it was not so"
    shown = window.header.saved.text()
    if shown == "saved":
        return False, "the head says saved"
    asked: list[bool] = []

    def answer(dialog: QDialog) -> int:
        asked.append(True)
        return int(QDialog.DialogCode.Accepted)

    before = QDialog.exec
    QDialog.exec = answer
    try:
        window.close()
    finally:
        QDialog.exec = before
    if not asked:
        # There may have been room again, as where the log was moved into the file meanwhile.
        held = _all_there(job, typed)
        return held, "saved at the end" if held else "it closed without a question"
    copies = [copy.path for copy in rescue.rescued() if copy.origin == job]
    if not copies:
        # There may have been room again at the very end, and a copy is of no use then.
        missing = _missing(job, typed)
        lost = f"{len(typed)} words typed, no copy, and {missing} are not in the job"
        return not missing, lost if missing else "saved at the end"
    missing = _missing(copies[0], typed)
    if missing:
        return (
            False,
            f"of {len(typed)} words typed {missing} are not in the latest of {len(copies)}",
        )
    for copy in copies:
        rescue.discard(copy)
    return True, "kept in a copy"


def _cause(trouble: str, disk: Path, job: Path) -> None:
    if trouble == "full":
        _fill(disk)
    elif trouble == "folder deleted":
        shutil.rmtree(job.parent)
    elif trouble == "folder moved":
        job.parent.rename(disk / "elsewhere")
    elif trouble == "read-only":
        if _libc.mount(b"none", os.fsencode(disk), None, ctypes.c_ulong(32 | 1), None) != 0:
            shutil.rmtree(job.parent)
    else:
        _mount_small(disk, f"size={ROOM}")


def _all_there(job: Path, typed: list[str]) -> bool:
    """Whether every word that was typed is in a job's texts."""
    return not _missing(job, typed)


def _missing(job: Path, typed: list[str]) -> list[str]:
    """The words that were typed and are not in a job's texts."""
    copy = Path(tempfile.mkdtemp()) / "look.tamarind"
    for end in ("", "-wal"):
        source = job.with_name(job.name + end)
        if source.exists():
            shutil.copy(source, copy.with_name(copy.name + end))
    from tamarind.job.jobfile import examine

    contents = examine(copy)
    said = " ".join(
        cue.text for document in contents.documents.values() for cue in document.transcript.cues
    )
    shutil.rmtree(copy.parent)
    return [word for word in typed if word not in said]


def _export(window: Any, disk: Path, wait: Callable[[Any, float], None]) -> tuple[bool, str]:
    """Documents onto a full disk: each is whole, or not there, and that is said."""
    target = disk / "out"
    target.mkdir()
    old = target / "Warden interview.txt"
    old.write_text("older")
    window.export.set_folder(target)
    _fill(disk)
    told: list[object] = []
    window.export.rendering.finished.connect(lambda count, problems: told.append(problems))
    from PySide6.QtWidgets import QMessageBox

    before = QMessageBox.question
    QMessageBox.question = lambda *_: QMessageBox.StandardButton.Yes
    try:
        window.show_step("export")
        window.export.write()
        wait(lambda: told, 60)
    finally:
        QMessageBox.question = before
    window.close_at_once()
    if not told or not told[0]:
        return False, "nothing was said of the full disk"
    half = [path for path in target.iterdir() if path.name != old.name]
    if half or old.read_text() != "older":
        return False, f"left behind: {[path.name for path in half]}"
    return True, "no half file"


def main(arguments: list[str]) -> int:
    """Within the process that has the disk."""
    _own_mounts()
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as name:
        if arguments == ["--try"]:
            _mount_small(Path(name), "size=100k")
            return 0
        held, words = _trial(arguments[0], int(arguments[1]), Path(name))
        print(json.dumps([held, words]), flush=True)
        os._exit(0)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))

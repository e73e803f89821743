"""Uses all that Tamarind does, for somebody who watches: ``python -m attacks.everything FOLDER S``.

The commands hear, check, convert and translate; the window opens a copy of the demo, hears,
plays, translates, checks and exports. All of that is done again every
five minutes until ``S`` seconds are over.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

HERE = Path(__file__).parent
DEMO = HERE.parent / "demo"
LASTS_S = 60
"""The window stays open for so long: libraries that call home may do so only after a while."""

ROUND_S = 300
HEARD_MS = 8_000
"""So much of a recording is heard in the window."""


def by_command(folder: Path) -> None:
    """The commands, each in a process of its own, as they are used."""
    media = DEMO / "media"
    memo = str(media / "Site memo, north drain.ogg")
    out = str(folder / "out")
    text = f"{out}/Site memo, north drain.srt"
    for arguments in (
        ["transcribe", memo, "-o", out, "--format", "srt", "--format", "json", "--reduce-noise",
         "--to", "12", "--speakers", "2", "--quality", "thorough"],
        ["transcribe", memo, "-o", f"{out}-d", "--recogniser", "dictionary", "--to", "2"],
        ["convert", text, f"{out}/memo.docx"],
        ["check", text, "--sound", memo],
        ["translate", text, "--to", "es", "-o", f"{out}/memo.es.srt"],
    ):  # fmt: skip
        command = [sys.executable, "-m", "tamarind", *arguments]
        status = subprocess.run(command, check=False, stdout=subprocess.DEVNULL).returncode
        print("status", status, *arguments[:2], flush=True)


def by_window(folder: Path, until: float) -> None:
    """The window, with the demo job."""
    from PySide6.QtWidgets import QApplication, QMessageBox

    from tamarind.desktop.app import make_application
    from tamarind.desktop.qtloop import open_session
    from tamarind.desktop.window import make_window
    from tamarind.job.store import JobStore

    make_application()
    # Nobody is there to answer; whether anything is asked hangs on what the checks know by then.
    yes = QMessageBox.StandardButton.Yes
    QMessageBox.question = lambda *_: yes  # type: ignore[assignment,method-assign]
    job = folder / "demo" / "Peatland voices.tamarind"
    shutil.copytree(DEMO, job.parent)
    window = make_window(open_session(JobStore(job)))
    window.show()
    session = window.session

    def wait(done: Callable[[], object], seconds: float = 120) -> None:
        end = time.monotonic() + seconds
        while not done() and time.monotonic() < end:
            QApplication.processEvents()
            time.sleep(0.01)

    table = next(r.id for r in session.recordings.all() if r.name == "Volunteers round table")
    wait(lambda: session.queue.can_hear(session.recordings.get(table)))
    recording = session.recordings.get(table)
    session.recordings.change(replace(recording, part=(0, HEARD_MS)))
    session.queue.transcribe([table])
    wait(lambda: session.texts.transcript(table).cues)
    for step in ("intake", "proof", "translation", "export"):
        window.show_step(step)
        wait(lambda: False, 0.3)
    session.show(next(r.id for r in session.recordings.all() if r.name.startswith("Site memo")))
    window.show_step("translation")
    window.translation.show_language("es")
    window.translation.translate_all()
    wait(lambda: not session.translating.queue(), 120)
    window.checking.listen()
    window.show_step("proof")
    window.player.play()
    wait(lambda: False, 1)
    window.player.stop()
    window.export.set_folder(folder)
    window.export.write()
    wait(lambda: time.monotonic() > until, 600)
    cues = len(session.texts.transcript(table).cues)
    print("window", cues, "cues transcribed", flush=True)
    window.close_at_once()


def main(arguments: list[str]) -> int:
    """All of it, again and again until the time is over."""
    folder, seconds = Path(arguments[0]), float(arguments[1])
    for name in ("CACHE", "DATA", "CONFIG", "STATE"):
        os.environ[f"XDG_{name}_HOME"] = str(folder / name.lower())
    os.environ["HOME"] = str(folder)
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    end = time.monotonic() + seconds
    number = 0
    while number == 0 or time.monotonic() < end:
        began = time.monotonic()
        place = folder / f"round {number}"
        place.mkdir()
        by_command(place)
        window = [sys.executable, "-m", "attacks.everything", "--window", str(place),
                  str(min(LASTS_S, seconds) - (time.monotonic() - began))]  # fmt: skip
        subprocess.run(window, check=False)
        shutil.rmtree(place)
        number += 1
        time.sleep(max(min(began + ROUND_S, end) - time.monotonic(), 0))
    print("rounds", number, flush=True)
    return 0


if __name__ == "__main__":
    if sys.argv[1] == "--window":
        by_window(Path(sys.argv[2]), time.monotonic() + float(sys.argv[3]))
    else:
        sys.exit(main(sys.argv[1:]))

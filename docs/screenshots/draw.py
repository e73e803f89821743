"""Draw a picture of each main view from a copy of the demo, without a screen."""

from __future__ import annotations

import os
import shutil
import sys
import tempfile
import time
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from tamarind.application.session import Session

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
HERE = Path(__file__).parent
DEMO = HERE.parent.parent / "demo"


def main() -> None:
    """Write the pictures; names given on the command line limit which."""
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as folder:
        os.environ["XDG_CACHE_HOME"] = f"{folder}/cache"
        os.environ["XDG_DATA_HOME"] = f"{folder}/data"
        os.environ["XDG_CONFIG_HOME"] = f"{folder}/config"
        shutil.copytree(DEMO, Path(folder) / "demo", ignore=shutil.ignore_patterns("*.py"))
        draw(next((Path(folder) / "demo").glob("*.tamarind")), set(sys.argv[1:]))


def draw_page(session: Session, recording_id: int, folder: Path) -> None:
    """A page to publish as the system's Chromium shows it; none is drawn where there is none."""
    from playwright.sync_api import sync_playwright

    from tamarind.job.pages import PageOrder
    from tamarind.translation.tracks import as_transcript

    chromium = shutil.which("chromium")
    if chromium is None:
        return
    recording = session.recordings.get(recording_id)
    document = session.texts.document(recording_id)
    text = document.transcript
    texts = [text, *(as_transcript(track, text) for track in document.tracks)]
    order = PageOrder(recording.path, folder, recording.name, texts, session.styles.of(recording))
    order.fill()
    with sync_playwright() as playwright:
        flags = ["--no-sandbox", "--disable-gpu", "--disable-background-networking"]
        browser = playwright.chromium.launch(executable_path=chromium, args=flags)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(order.page.as_uri())
        page.wait_for_timeout(800)
        page.evaluate("document.getElementById('media').currentTime = 12.4")
        page.wait_for_timeout(600)
        page.screenshot(path=str(HERE / "page.png"))
        browser.close()


def draw(job: Path, wanted: set[str]) -> None:
    """Open the job in a real window and take it through its views."""
    from PySide6.QtCore import QEvent, Qt
    from PySide6.QtGui import QKeyEvent, QPainter
    from PySide6.QtWidgets import QApplication, QDialog, QWidget

    from tamarind.desktop.app import make_application
    from tamarind.desktop.export.videos_dialog import VideosDialog
    from tamarind.desktop.housestyle.editor import StyleEditor
    from tamarind.desktop.looks.editor import LookEditor
    from tamarind.desktop.qtloop import open_session
    from tamarind.desktop.translation.returned_dialog import ReturnedDialog
    from tamarind.desktop.window import make_window
    from tamarind.job.store import JobStore
    from tamarind.transcript.edits import set_heading
    from tamarind.transcript.excerpts import words_of
    from tamarind.translation.exchange.handing import as_lines, from_lines, rows_of
    from tamarind.translation.exchange.returned import fitted

    make_application()
    window = make_window(open_session(JobStore(job)))
    window.resize(1280, 800)
    window.show()
    window.activateWindow()

    def wait(until=lambda: False, seconds: float = 0.4) -> None:
        end = time.monotonic() + seconds
        while time.monotonic() < end and not until():
            QApplication.processEvents()
            time.sleep(0.005)
        QApplication.processEvents()

    def take(name: str) -> None:
        wait()
        if not wanted or name in wanted:
            window.grab().save(str(HERE / f"{name}.png"))

    def take_with(name: str, popup: QWidget) -> None:
        """The window with what lies over it."""
        wait()
        window.said.hide()
        picture = window.grab()
        painter = QPainter(picture)
        painter.drawPixmap(popup.pos() - window.pos(), popup.grab())
        painter.end()
        if not wanted or name in wanted:
            picture.save(str(HERE / f"{name}.png"))

    def take_dialog(name: str, dialog: QDialog) -> None:
        dialog.show()
        wait(seconds=0.8)
        if not wanted or name in wanted:
            dialog.grab().save(str(HERE / f"{name}.png"))
        dialog.close()

    session = window.session
    ids = [recording.id for recording in session.recordings.all()]
    wait(lambda: all(session.sounds.peaks(key) is not None for key in ids), 20)

    window.show_step("proof")
    wait(lambda: window.checking.is_known(session.shown), 20)
    # The sound at the foot is drawn when nothing else has happened for a while.
    wait(seconds=1.0)
    window.proof.sheet.caret.set((6, 0))
    window.proof.sheet.caret.set((3, 0))
    cue = window.proof.sheet.cue_caret.cue()
    window.player.seek(cue.words[7].start + 40)
    take("proof")
    window.proof.change_layout()
    headed = set_heading(window.proof.sheet.transcript, 0, "The moor when it was dry")
    session.edit_shown("heading", headed)
    window.proof.sheet.row_geometry.show_row(0)
    take("proof-paragraphs")
    session.texts.undo()
    window.proof.change_layout()
    window.proof.loupe.toggle()
    for _ in range(8):
        window.proof.loupe.shown.keyPressEvent(
            QKeyEvent(QEvent.Type.KeyPress, Qt.Key.Key_Right, Qt.KeyboardModifier.NoModifier)
        )
    take("proof-loupe")
    window.proof.loupe.close()
    window.theme.set_dark(True)
    take("proof-dark")
    window.theme.set_dark(False)
    again = window.proof.again
    window.proof.sheet.caret.set((14, 0))
    window.proof.sheet.caret.set((20, 0), keep_anchor=True)
    again.way.setCurrentText("Another ear: the multilingual one")
    again.start()
    wait(lambda: again._asked is None, 60)
    take("proof-second-hearing")

    session.show(ids[1])
    wait(lambda: window.checking.is_known(ids[1]), 20)
    window.proof.open_checks()
    wait(lambda: session.on_demand.speech(ids[1]) is not None, 30)
    wait(lambda: window.checking.is_known(ids[1]), 20)
    window.proof.checks.step(1)
    take("checks")
    window.proof.checks.close_panel()
    editor = StyleEditor(session, "ordinary", session.texts.transcript(ids[0]), 3, window)
    take_dialog("house-style", editor)

    window.proof.sheet.caret.set((0, 0))
    window.proof.doubts.go_on(1)
    window.player.play(window.proof.sheet.cue_caret.time())
    wait(seconds=1.2)
    window.player.stop()
    session.looks.choose("torch")
    window.commands.run("picture_large")
    take("proof-picture")
    window.commands.run("picture_large")
    picturing = window.proof.picturing
    frame, sample = picturing.on_desk.frame, picturing.sample()
    take_dialog("look", LookEditor(session, "torch", frame, caption=sample, parent=window))
    folder = job.parent
    take_dialog("videos", VideosDialog(session, frame, lambda: None, folder, window))

    window.proof.find_bar.open()
    window.proof.find_bar.wanted.setText("water table")
    window.proof.find_bar.replacement.setText("water level")
    window.proof.find_bar.step(1)
    take("proof-find")
    window.proof.find_bar.close_bar()

    session.show(ids[2])
    window.show_step("translation")
    translation = window.translation
    cues = session.texts.transcript(ids[2]).cues
    translation.show_language("es")
    wait(lambda: not session.translating.queue(), 60)
    translation.show_language("pt")
    translation.sheet.caret.set((4, 0))
    translation.working.comment("“fuga” as in the report?")
    window.player.seek(cues[5].words[4].start + 20)
    take("translation")
    rows = from_lines(
        as_lines(rows_of(session.texts.transcript(ids[2]), translation.sheet.text.track), True)
    )
    del rows[6], rows[8]
    rows += from_lines("99. Obrigado por ouvir.\n")
    back = fitted(cues, rows, "pt")
    take_dialog(
        "translation-back", ReturnedDialog("the clipboard", back, len(back.texts), cues, window)
    )
    translation.working.offer_versions()
    wait(lambda: translation.working.popup is not None, 30)
    take_with("translation-fit", translation.working.popup)
    translation.working.popup.close()

    kept = [
        session.excerpts.keep(key, first, last)
        for key, first, last in (
            (ids[0], (1, 0), (3, 5)), (ids[1], (2, 0), (4, 3)), (ids[0], (7, 0), (9, 4)),
            (ids[1], (9, 0), (11, 2)),
        )
    ]  # fmt: skip
    session.excerpts.describe(kept[1], name="The healthy bog")
    session.excerpts.describe(kept[1], tags=("water", "bogs"))
    session.excerpts.describe(kept[1], note="After the drone picture")
    session.excerpts.describe(kept[0], tags=("first years",))
    words = [word for _, word in words_of(session.texts.transcript(ids[1]),
                                          session.excerpts.find(kept[1]).excerpt)]  # fmt: skip
    span = session.excerpts.cut_around(ids[1], words[4].start, words[7].end)
    session.excerpts.cut(kept[1], [span])
    window.show_step("excerpts")
    window.excerpts.choose(kept[1])
    window.said.hide()
    take("excerpts")
    if not wanted or "page" in wanted:
        draw_page(session, ids[2], job.parent / "page")

    window.show_step("export")
    for suffix in ("vtt", "docx", "html"):
        window.export.panel.kinds[suffix].setChecked(True)
    file = next(f for f in window.export.files if f.name.endswith("drain.vtt"))
    window.export.choose(file)
    wait(lambda: all(window.checking.is_known(key) for key in ids[:3]), 20)
    wait(seconds=0.6)
    take("export")

    window.show_step("intake")
    broken = job.parent / "Neighbour, second part.ogg"
    broken.write_bytes(b"OggS, and nothing else that could be heard")
    window.intake.add([broken])
    window.intake.choose(ids[3], Qt.KeyboardModifier.NoModifier)
    window.intake.transcribe()
    wait(lambda: session.queue.progress(ids[3]) is not None, 30)
    take("intake")
    window.close()

    window = make_window(open_session(JobStore(job.parent / "Empty.tamarind")))
    window.resize(1280, 800)
    window.show()
    take("intake-empty")
    window.close()


if __name__ == "__main__":
    main()

"""Order what Export makes besides documents: videos, web pages, recordings with chapters."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QFileDialog

from tamarind.application.session import Session
from tamarind.desktop.widgets.replacing import may_replace
from tamarind.formats.data.chapters import chapters_of
from tamarind.job.chapterfile import ChapterOrder
from tamarind.job.export import Planned, plan, written

if TYPE_CHECKING:
    from tamarind.desktop.export.pages_dialog import PagesDialog
    from tamarind.desktop.export.screen import ExportScreen
    from tamarind.desktop.export.videos_dialog import VideosDialog
    from tamarind.picture.order import VideoOrder


class Orders:
    """Puts the choices of a dialog into the queue, asking before files are overwritten."""

    def __init__(self, session: Session, screen: ExportScreen) -> None:
        self._session, self._screen = session, screen

    def make_videos(self, dialog: VideosDialog) -> None:
        """Queue the chosen videos."""
        orders = dialog.orders()
        there = [order.target.name for order in orders if order.target.exists()]
        if there and not may_replace(there, self._screen):
            return
        self._screen.set_folder(dialog.folder)
        beside = dialog.beside.isChecked()
        work = [(order, self._side_files(order) if beside else ()) for order in orders]
        self._session.export_queue.add(work)

    def make_pages(self, dialog: PagesDialog) -> None:
        """Queue the chosen pages."""
        orders = dialog.orders()
        there = [str(order.page.relative_to(dialog.folder)) for order in orders
                 if order.page.exists()]  # fmt: skip
        if there and not may_replace(there, self._screen):
            return
        self._screen.set_folder(dialog.folder)
        self._session.export_queue.add([(order, ()) for order in orders])

    def mark_chapters(self) -> None:
        """Ask where to write a copy of the shown recording that has its headings as chapters."""
        session = self._session
        recording = session.shown_recording()
        text = session.texts.transcript(recording.id) if recording is not None else None
        if recording is None or text is None or not any(cue.heading for cue in text.cues):
            session.told.emit("There are no headings yet. Propose some on the Proof page.")
            return
        usual = recording.path.with_stem(f"{recording.path.stem}, with chapters")
        name, _ = QFileDialog.getSaveFileName(
            self._screen.window(), "Chapter marks", str(self._screen.folder / usual.name)
        )
        if name:
            target = Path(name).with_suffix(recording.path.suffix)
            found = chapters_of(text, recording.name, recording.duration)
            session.export_queue.add([(ChapterOrder(recording.path, target, found), ())])

    def _side_files(self, order: VideoOrder) -> list[tuple[Path, Callable[[], bytes]]]:
        """Return the captions of a video as files beside it, named by the pattern."""
        session = self._session
        recording = next(r for r in session.recordings.all() if r.path == order.source)
        options = replace(
            self._screen.panel.export_options(),
            suffixes=("srt", "vtt"),
            languages=(None,),
            below=None,
        )
        document, style = session.texts.document(recording.id), session.styles.of(recording)

        def made(file: Planned) -> bytes:
            return written(file, recording, document, style, options).data

        return [
            (order.target.parent / file.name, partial(made, file))
            for file in plan([(recording, document)], options)
        ]

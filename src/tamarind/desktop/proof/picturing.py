"""The picture while proofing: on the desk, large beside the sheet, or in a window of its own."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QSize, Qt, Signal
from PySide6.QtGui import QCloseEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget

from tamarind.application.session import Session
from tamarind.desktop.commands import RECORDING, command
from tamarind.desktop.player import Player
from tamarind.desktop.proof.sheet import ProofSheet
from tamarind.desktop.widgets.picture import PictureView
from tamarind.job.settings import PICTURE_WIDTH, SAFE_AREAS
from tamarind.picture.caption import Caption, SaidWord
from tamarind.picture.looks import Look
from tamarind.transcript.edits import set_look
from tamarind.transcript.model import Transcript

if TYPE_CHECKING:
    from tamarind.picture.drawing import Drawing

SAMPLE = "The sluice was open all winter, and the moss came back."

SMALL, LARGE = 296, 520


class Picturing(QObject):
    """Shows the same frame with the same captions in all pictures."""

    width_changed = Signal(int)

    def __init__(
        self, session: Session, player: Player, sheet: ProofSheet, parent: QWidget
    ) -> None:
        super().__init__(parent)
        self._window, self._sheet = parent, sheet
        self._session, self._player = session, player
        self.own_window: _PictureWindow | None = None
        self.on_desk = self.make()
        self._pictures = [self.on_desk]
        player.moved.connect(self._follow)
        session.texts.changed.connect(self._text_changed)
        session.looks.changed.connect(self.refresh)
        session.styles.changed.connect(self.refresh)
        session.preview.changed.connect(self.refresh)
        self.is_large = session.settings.get(PICTURE_WIDTH) > 0

    def make(self) -> PictureView:
        """Make another picture of the shown recording."""
        picture = PictureView(self._player.picture, self._drawing_at)
        picture.shows_safe_areas = self._session.settings.get(SAFE_AREAS)
        return picture

    def forget(self) -> None:
        """Show another recording."""
        for picture in self._pictures:
            picture.forget()

    def refresh(self) -> None:
        """Draw again after the text or its style has changed."""
        for picture in self._pictures:
            picture.refresh()

    def width(self) -> int:
        """The width of the desk."""
        return LARGE if self.is_large else SMALL

    @command(
        "Enlarge the picture",
        "Picture",
        "Ctrl+Alt+P",
        name="picture_large",
        needs=RECORDING,
        also="video player",
    )
    def toggle_large(self) -> None:
        """Switch between a large and a small picture."""
        self.is_large = not self.is_large
        self._session.settings.keep(PICTURE_WIDTH, LARGE if self.is_large else 0)
        self.width_changed.emit(self.width())

    @command(
        "Show the picture in a window",
        "Picture",
        "Ctrl+Alt+Shift+P",
        name="picture_window",
        needs=RECORDING,
        also="video player",
    )
    def toggle_window(self) -> None:
        """Open the picture in a window of its own, or close that."""
        if self.own_window is not None:
            self.own_window.close()
            return
        picture = self.make()
        self._pictures.append(picture)
        window = _PictureWindow(picture)
        window.closed.connect(partial(self._window_closed, picture))
        self.own_window = window
        window.show()

    @command(
        "Caption style…",
        "Checks",
        "Alt+Shift+Y",
        name="look",
        opens="proof",
        also="subtitles font colour appearance karaoke",
    )
    def edit_look(self) -> None:
        """Edit and choose caption styles, with the text at the playhead on its own picture."""
        from tamarind.desktop.looks.editor import LookEditor, Use  # slow to import

        session, shown = self._session, self._session.shown
        key = session.looks.key_of(shown)
        first, last = self._chosen_cues()
        frame, sample = self.on_desk.frame, self.sample()
        dialog = LookEditor(
            session, key, frame, caption=sample, parent=self._window, cues=last - first
        )
        if not dialog.exec():
            return
        chosen = dialog.keep_changes()
        if dialog.used_for is Use.JOB:
            session.looks.leave_to_the_job([one.id for one in session.recordings.all()])
            session.looks.choose(chosen)
        elif shown is not None and dialog.used_for is Use.CUES:
            session.looks.hold(chosen)
            own = "" if chosen == session.looks.key_of(shown) else chosen
            text = set_look(session.texts.transcript(shown), first, last, own)
            session.texts.edit(shown, "caption style", text)
        elif shown is not None:
            session.looks.choose(chosen, [shown])

    def _chosen_cues(self) -> tuple[int, int]:
        """Return the selected cues, or the one at the caret, as [first, last); empty if there are
        none."""
        caret = self._sheet.cue_caret
        if self._session.shown is None or caret.cue() is None:
            return 0, 0
        here = caret.place()
        return caret.selected_cues() or (here, here + 1)

    def sample(self) -> Caption:
        """Return what is said at the playhead, or a made-up text."""
        from tamarind.captions.onpicture import captions_of

        shown = self._session.shown
        text = self._session.texts.transcript(shown) if shown is not None else Transcript("en")
        place = text.place_at(self._player.position) or 0
        limits = self._session.styles.limits_of(shown)
        part = replace(text, cues=text.cues[place : place + 1])
        for found in captions_of(part, limits, Look("")):
            return replace(found, changes=True, speaker=found.speaker or "Maren Tull")
        words = SAMPLE.split()
        said = tuple(SaidWord(word, 0, 0) for word in words)
        return Caption(0, 1, (said[:4], said[4:]), voice=1, speaker="Maren Tull", changes=True)

    @command("Show safe areas", "Picture", "Ctrl+Alt+S", name="safe_areas", needs=RECORDING)
    def toggle_safe_areas(self) -> None:
        """Show or hide the safe areas of the picture."""
        shows = not self._session.settings.get(SAFE_AREAS)
        self._session.settings.keep(SAFE_AREAS, shows)
        for picture in self._pictures:
            picture.shows_safe_areas = shows
            picture.update()

    @command("Go forward one frame", "Picture", "Ctrl+Alt+.", name="frame_on", needs=RECORDING)
    def frame_on(self) -> None:
        """Go to the next frame."""
        self._step(1)

    @command("Go back one frame", "Picture", "Ctrl+Alt+,", name="frame_back", needs=RECORDING)
    def frame_back(self) -> None:
        """Go to the previous frame."""
        self._step(-1)

    def close_window(self) -> None:
        """Close, since the main window does."""
        if self.own_window is not None:
            self.own_window.close()

    def _step(self, frames: int) -> None:
        recording = self._session.shown_recording()
        rate = recording.info.frame_rate if recording is not None and recording.info else None
        if rate:
            self._player.stop()
            number = round(self._player.position * rate / 1000) + frames
            self._player.seek(max(round(number * 1000 / rate), 0))

    def _window_closed(self, picture: PictureView) -> None:
        self._pictures.remove(picture)
        self.own_window = None

    def _follow(self, position: int) -> None:
        for picture in self._pictures:
            if picture.isVisible():
                picture.set_time(position)

    def _text_changed(self, recording_id: int) -> None:
        if recording_id == self._session.shown:
            self.refresh()

    def _drawing_at(self, time: int, size: tuple[int, int]) -> Drawing | None:
        shown = self._session.shown
        if shown is None or not self._session.recordings.has(shown):
            return None
        return self._session.preview.drawing(shown, "", time, size)


class _PictureWindow(QWidget):
    """A window of the picture alone, for a second screen."""

    closed = Signal()

    def __init__(self, picture: PictureView) -> None:
        super().__init__(None, Qt.WindowType.Window)
        self.setWindowTitle("Picture")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(QSize(960, 560))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        policy = picture.sizePolicy()
        policy.setVerticalPolicy(policy.Policy.Expanding)
        picture.setSizePolicy(policy)
        column.addWidget(picture)

    def mouseDoubleClickEvent(self, event: object) -> None:
        """Switch full screen on or off."""
        self.setWindowState(self.windowState() ^ Qt.WindowState.WindowFullScreen)

    def closeEvent(self, event: QCloseEvent) -> None:
        """Note that it can be opened again."""
        self.closed.emit()
        event.accept()

"""The dialog for audio descriptions: where there is a gap, what is said there, and how it
sounds."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPaintEvent
from PySide6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QPlainTextEdit,
    QVBoxLayout,
    QWidget,
)

from tamarind.application.describing import Room
from tamarind.application.session import Session
from tamarind.desktop.commands import RECORDING, command
from tamarind.desktop.exact_sound import ExactSound
from tamarind.desktop.player import Player
from tamarind.desktop.theme import colours
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label, set_tone
from tamarind.desktop.widgets.row_list import RowList
from tamarind.formats.timecode import clock, parse_time
from tamarind.system.later import Later

if TYPE_CHECKING:
    from tamarind.desktop.widgets import framing
    from tamarind.job import describedfile
    from tamarind.speech import aloud
else:
    framing = Later("tamarind.desktop.widgets.framing")
    describedfile = Later("tamarind.job.describedfile")
    aloud = Later("tamarind.speech.aloud")

PICTURE = QSize(436, 245)
AROUND_MS = 1_500


class Describe:
    """The command for the shown recording."""

    def __init__(self, session: Session, player: Player, parent: QWidget) -> None:
        self._session, self._player, self._parent = session, player, parent

    @command(
        "Describe the picture…",
        "Tools",
        "F2",
        opens="proof",
        needs=RECORDING,
        also="ad narration blind",
    )
    def describe(self) -> None:
        """Write audio descriptions for the gaps in the speech."""
        shown_id = self._session.shown
        if shown_id is not None:
            dialog = DescribingDialog(self._session, self._player, shown_id, self._parent.window())
            dialog.exec()
            self._session.texts.close_edit_group()


class DescribingDialog(Dialog):
    """Keeps what is typed at once."""

    def __init__(
        self, session: Session, player: Player, recording_id: int, parent: QWidget | None
    ) -> None:
        super().__init__("Audio description", (1020, 620), parent, "Audio description")
        self._session, self._player, self._id = session, player, recording_id
        self._language = session.texts.transcript(recording_id).language
        self._looked_at: int | None = None
        found = session.on_demand.still_found
        found.connect(self._still_found)
        self.finished.connect(lambda _result: found.disconnect(self._still_found))
        self._voice = ExactSound(self)
        self._fills = False
        self.rooms: list[Room] = []
        self.rows = RowList("Places for descriptions", ("from", "room", "description"))
        header = self.rows.header()
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(1, QHeaderView.ResizeMode.ResizeToContents)
        self.picture = _Still()
        self.text = QPlainTextEdit()
        self.text.setAccessibleName("Description")
        self.text.setTabChangesFocus(True)
        self.text.setObjectName("prose")
        self.text.setFixedHeight(96)
        self.text.setPlaceholderText("What somebody who cannot see the picture needs to know")
        self.start = QLineEdit()
        self.start.setAccessibleName("Starts at")
        self.start.setFixedWidth(110)
        self.told = label("", "note", wrap=True)
        self.speak = button("Play it read aloud", self.read_aloud)
        self.speak.setEnabled(aloud.can_speak(self._language))
        self.write_out = button("Export with audio description…", self.ask_write)
        self.write_out.setEnabled(aloud.can_speak(self._language))
        if not self.speak.isEnabled():
            self.speak.setToolTip("eSpeak NG has no voice for this language, or is not installed")
        self._build()
        self.rows.currentItemChanged.connect(lambda _item: self._show())
        self.text.textChanged.connect(self._typed)
        self.start.editingFinished.connect(self._moved)
        self.finished.connect(lambda _result: self._voice.stop())
        self.refresh()
        self.rows.choose(0)
        self._show()

    def _build(self) -> None:
        about = (
            "Where nobody speaks there is room for a description of the picture. They go out as"
            " WebVTT descriptions, in pages to publish, and in descriptive transcripts."
        )
        self.body.addWidget(label(about, "note", wrap=True))
        side = QVBoxLayout()
        side.setSpacing(8)
        side.addWidget(self.picture)
        begins = QHBoxLayout()
        begins.addWidget(label("starts at", "note"))
        begins.addWidget(self.start)
        begins.addStretch(1)
        side.addLayout(begins)
        side.addWidget(self.text)
        side.addWidget(self.told)
        acts = QHBoxLayout()
        acts.addWidget(self.speak)
        acts.addWidget(button("Play the passage", self.hear_around))
        acts.addWidget(button("Add at the playhead", self.add_here))
        acts.addStretch(1)
        side.addLayout(acts)
        side.addStretch(1)
        row = QHBoxLayout()
        row.setSpacing(16)
        row.addWidget(self.rows, 1)
        row.addLayout(side)
        self.body.addLayout(row, 1)
        self.set_acts(leave="Done", between=(self.write_out,))

    def refresh(self) -> None:
        """Show the current gaps and descriptions."""
        self._fills = True
        chosen = self.rows.row()
        self.rooms = self._session.describing.rooms(self._id)
        if self.rows.topLevelItemCount() != len(self.rooms):
            self.rows.clear()
            for _ in self.rooms:
                self.rows.add(("", "", ""))
        for room, item in zip(self.rooms, self.rows.items(), strict=True):
            one = room.described
            begins = clock(one.start if one else room.start, 1, hours=False)
            texts = (begins, f"{room.words} words", one.text if one else "–")
            for column, text in enumerate(texts):
                item.setText(column, text)
            item.setToolTip(2, f"It {room.problem}." if room.problem else "")
            item.setForeground(2, QColor(colours.PLUM if room.problem else colours.INK))
        if chosen is not None:
            self.rows.choose(min(chosen, len(self.rooms) - 1))
        self._fills = False

    def read_aloud(self) -> None:
        """Speak the description with the system's voice."""
        samples = aloud.aloud(self.text.toPlainText(), self._language)
        if samples is not None:
            length = round(len(samples) / 16)
            self._voice.play(samples, 0, length, 1.0, self._player.volume)

    def hear_around(self) -> None:
        """Play the recording from a little before the gap to a little behind it."""
        room = self._room()
        if room is not None:
            self._player.play(max(room.start - AROUND_MS, 0), room.end + AROUND_MS)

    def ask_write(self) -> None:
        """Ask for a file, and have the recording made with the descriptions read over it."""
        recording = self._session.recordings.get(self._id)
        described = self._session.describing.of(self._id)
        if not described:
            self.told.setText("There are no descriptions yet.")
            return
        pictured = recording.info is not None and recording.info.picture is not None
        suffix = ".mp4" if pictured else ".m4a"
        path = recording.path.with_name(f"{recording.name}, described{suffix}")
        kinds = "Video (*.mp4 *.mkv *.webm)" if pictured else "Sound (*.m4a *.mp3 *.opus *.wav)"
        name, _ = QFileDialog.getSaveFileName(self, "Write with them read aloud", str(path), kinds)
        if name:
            order = describedfile.DescribedOrder(
                recording.path, Path(name), described, language=self._language,
                length=recording.duration,
                track=recording.how.source.track,
            )  # fmt: skip
            self._session.export_queue.add([(order, ())])
            self.told.setText("The file is being written. Export shows the progress.")

    def add_here(self) -> None:
        """Add a description at the playhead, gap or no gap: pages let the sound wait for it."""
        at = self._player.position
        self._session.texts.close_edit_group()
        self._session.describing.write(self._id, at, "…")
        self.refresh()
        new = [n for n, room in enumerate(self.rooms)
               if room.described is not None and room.described.start == at]  # fmt: skip
        self.rows.choose(new[0])
        self._show()
        self.text.setFocus()
        self.text.selectAll()

    def _room(self) -> Room | None:
        row = self.rows.row()
        return self.rooms[row] if row is not None and row < len(self.rooms) else None

    def _show(self) -> None:
        if self._fills:
            return
        self._session.texts.close_edit_group()
        room = self._room()
        self._fills = True
        one = room.described if room is not None else None
        self.text.setEnabled(room is not None)
        self.text.setPlainText(one.text if one is not None else "")
        at = one.start if one is not None else room.start if room is not None else 0
        self.start.setText(clock(at, 1))
        self.start.setEnabled(one is not None)
        self._fills = False
        self._tell()
        self._look(at)

    def _tell(self) -> None:
        room = self._room()
        if room is None:
            self.told.setText("There is no gap in the speech long enough for a description.")
            return
        if room.problem:
            set_tone(self.told, "plum")
            self.told.setText(f"It {room.problem}. Published pages pause the sound for it.")
            return
        set_tone(self.told, "")
        count = len(self.text.toPlainText().split())
        self.told.setText(f"{count} of about {room.words} words that fit")

    def _typed(self) -> None:
        room = self._room()
        if self._fills or room is None:
            return
        one = room.described
        start = one.start if one is not None else room.start
        self._session.describing.write(
            self._id, start, self.text.toPlainText(), one.id if one is not None else None
        )
        self.refresh()
        room = self._room()
        self.start.setEnabled(room is not None and room.described is not None)
        self._tell()

    def _moved(self) -> None:
        room = self._room()
        if room is None or room.described is None:
            return
        try:
            at = parse_time(self.start.text())
        except ValueError as error:
            set_tone(self.told, "plum")
            self.told.setText(str(error))
            return
        one = room.described
        if at != one.start:
            self._session.describing.write(self._id, at, one.text, one.id)
            self.refresh()
            places = [n for n, r in enumerate(self.rooms)
                      if r.described is not None and r.described.id == one.id]  # fmt: skip
            self.rows.choose(places[0])
            self._show()

    def _look(self, time: int) -> None:
        """Show the frame at a time, once a worker has decoded it."""
        self._looked_at = time
        self.picture.show_frame(None)
        self._session.on_demand.look_at(self._id, [time])

    def _still_found(self, recording_id: int, time: int, frame: object) -> None:
        if (recording_id, time) == (self._id, self._looked_at):
            self.picture.show_frame(frame)


class _Still(QWidget):
    """Shows one frame of the recording, or nothing."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedSize(PICTURE)
        self.setAccessibleName("Picture")
        self._image = QImage()

    def show_frame(self, frame: object) -> None:
        """Show a frame; None for no picture."""
        if frame is None:
            self._image = QImage()
        else:
            ratio = self.devicePixelRatioF()
            room = QSize(round(self.width() * ratio), round(self.height() * ratio))
            self._image = framing.shown(frame, None, room)  # type: ignore[arg-type]
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the frame, whole."""
        painter = QPainter(self)
        framing.paint_whole(painter, QRectF(self.rect()), self._image)
        if self._image.isNull():
            painter.setPen(QColor("#EFE6DA"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "no picture")
        painter.end()

"""The dialog for sounds that matter: loud stretches without speech, to be named."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Qt
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QHeaderView, QWidget

from tamarind.application.session import Session
from tamarind.desktop.commands import TEXT, command
from tamarind.desktop.player import Player
from tamarind.desktop.proof.marks import filled, read_marks
from tamarind.desktop.qtloop import tasks_of
from tamarind.desktop.widgets.parts import button, label
from tamarind.desktop.widgets.row_list import RowList
from tamarind.formats.timecode import clock
from tamarind.job.settings import MARKS, SOUNDS_LOOKED
from tamarind.system.later import Later
from tamarind.transcript import edits
from tamarind.transcript.model import Transcript

if TYPE_CHECKING:
    from tamarind.desktop.widgets import ticked_dialog
    from tamarind.speech import activity, soundevents
else:
    ticked_dialog = Later("tamarind.desktop.widgets.ticked_dialog")
    activity = Later("tamarind.speech.activity")
    soundevents = Later("tamarind.speech.soundevents")

NAMES = ("music", "applause", "laughter", "door closes", "phone rings", "bell", "engine", "wind")
"""Those that are offered besides the marks of the job."""

AROUND_MS = 400
GUESSES = {soundevents.SoundKind.MUSIC: "music", soundevents.SoundKind.SOUND: "sound"}


class NamingSounds(QObject):
    """The command for the shown recording."""

    def __init__(self, session: Session, player: Player, parent: QWidget) -> None:
        super().__init__(parent)
        self._session, self._player, self._parent = session, player, parent
        self._tasks = tasks_of(self, "sounds")
        self.is_busy = False

    @command(
        "Name sounds…",
        "Tools",
        "Ctrl+F2",
        name="sounds",
        opens="proof",
        needs=TEXT,
        also="noise effects music laughter",
    )
    def propose(self) -> None:
        """Propose loud stretches without speech, and music, to be named."""
        shown = self._session.shown
        samples = self._session.sounds.samples(shown) if shown is not None else None
        if shown is None or samples is None:
            self._session.told.emit("The sound is still being decoded. Try again in a moment.")
            return
        text = self._session.texts.transcript(shown)
        speech = [(word.start, word.end) for cue in text.cues for word in cue.words]
        measured = self._session.on_demand.speech(shown)
        if measured is not None:
            speech += activity.in_ms(activity.find_speech(measured))
        self.is_busy = True
        self._tasks.run(
            lambda: soundevents.sound_events(samples, sorted(speech)),
            lambda found: self._offer(shown, text, found),
        )

    def _offer(self, shown: int, text: Transcript, found: Sequence[soundevents.SoundEvent]) -> None:
        self.is_busy = False
        if shown != self._session.shown or text is not self._session.texts.transcript(shown):
            return
        if not found:
            self._session.settings.keep(SOUNDS_LOOKED.numbered(shown), True)
            self._session.told.emit("There are no loud sounds where nobody speaks.")
            return
        marks = read_marks(self._session.settings.get(MARKS))
        names = dict.fromkeys((*NAMES, *(mark for mark in marks if "{" not in mark)))
        dialog = SoundsDialog(found, list(names), self._player, self._parent.window())
        if dialog.exec():
            self._session.settings.keep(SOUNDS_LOOKED.numbered(shown), True)
            for event, name in dialog.chosen():
                text = edits.insert_cue(text, event.start, event.end, filled(name, event.start))
            self._session.edit_shown("sounds", text)


class SoundsDialog(ticked_dialog.TickedDialog):
    """Ticked sounds are inserted into the text under their names."""

    def __init__(
        self,
        events: Sequence[soundevents.SoundEvent],
        names: Sequence[str],
        player: Player,
        parent: QWidget | None,
    ) -> None:
        self._events, self._player = events, player
        rows = RowList("Sounds", ("from", "length", "name"))
        rows.header().setSectionResizeMode(1, QHeaderView.ResizeMode.ResizeToContents)
        rows.setColumnWidth(0, 120)
        for event in events:
            length = f"{(event.end - event.start) / 1000:.1f} s"
            told = GUESSES[event.kind]
            rows.add((clock(event.start, 1, hours=False), length, told),
                     event.kind is soundevents.SoundKind.MUSIC)  # fmt: skip
        self.name = QComboBox()
        self.name.setEditable(True)
        self.name.setAccessibleName("Name of the sound")
        self.name.addItems(names)
        super().__init__(
            "Name sounds", (600, 440), parent, heading="Name sounds", rows=rows,
            act=("Insert 1 sound", "Insert {} sounds"), leave="Cancel",
            note="Loud sounds without speech. Tick and name those that somebody who cannot hear"
            " needs to know about.",
        )  # fmt: skip
        line = QHBoxLayout()
        line.addWidget(label("name", "note"))
        line.addWidget(self.name, 1)
        line.addWidget(button("Play", self.hear))
        self.body.addLayout(line)
        self.rows.currentItemChanged.connect(lambda _item: self._show())
        self.name.editTextChanged.connect(self._named)
        self.finished.connect(lambda _result: player.stop())
        self._show()

    def chosen(self) -> list[tuple[soundevents.SoundEvent, str]]:
        """Return the ticked sounds with their names."""
        items = self.rows.items()
        return [(self._events[row], items[row].text(2).strip("[] ") or "sound")
                for row in self.rows.ticked()]  # fmt: skip

    def hear(self) -> None:
        """Play the selected sound, with a little around it."""
        row = self.rows.row()
        if row is not None:
            event = self._events[row]
            self._player.play(max(event.start - AROUND_MS, 0), event.end + AROUND_MS)

    def _show(self) -> None:
        row = self.rows.row()
        if row is not None:
            self.name.blockSignals(True)
            self.name.setEditText(self.rows.items()[row].text(2))
            self.name.blockSignals(False)

    def _named(self, text: str) -> None:
        """Tick a row whose sound was named."""
        row = self.rows.row()
        if row is not None:
            item = self.rows.items()[row]
            item.setText(2, text)
            item.setCheckState(0, Qt.CheckState.Checked)

"""The dialog for the number of speakers and who they are, recomputed while the number is chosen."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QSpinBox,
    QTreeWidget,
    QTreeWidgetItem,
    QWidget,
)

from tamarind.application.session import Session
from tamarind.application.speakersagain import Retold
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.formats.timecode import clock
from tamarind.speech.diarisation.told import Told
from tamarind.speech.hearingoptions import MOST_VOICES
from tamarind.transcript.model import Speaker, Transcript
from tamarind.transcript.speakers import join_speakers

FIRST_WORDS = 60


class SpeakersDialog(Dialog):
    """Lists the speakers that the text would have; the text changes only when that is taken."""

    def __init__(
        self, session: Session, selected: tuple[int, int] | None, parent: QWidget | None = None
    ) -> None:
        """``selected`` are the selected cues as [first, last)."""
        super().__init__("Speakers", (640, 420), parent, "How many speakers?")
        recording = session.shown_recording()
        assert recording is not None
        self._again = session.speakers_again
        self._recording = recording.id
        self._selected = selected
        self._now = session.texts.transcript(recording.id)
        self._retold: Retold | None = None
        self._perhaps = self._again.perhaps(recording.id)
        talking = len({cue.speaker for cue in self._now.cues if cue.speaker is not None})
        self.count = QSpinBox()
        self.count.setRange(1, MOST_VOICES)
        self.count.setValue(self._perhaps or max(talking, 2))
        self.count.setAccessibleName("Number of speakers")
        self.within = QComboBox()
        self.within.addItems(["in the whole recording", "in the selected cues"])
        self.within.setAccessibleName("Where to detect speakers")
        self.within.setVisible(selected is not None)
        self.within.setCurrentIndex(0 if selected is None else 1)
        self._make_list()
        self.join = button("Join selected speakers", self._join)
        self.join.setEnabled(False)
        self.list.itemSelectionChanged.connect(
            lambda: self.join.setEnabled(len(self.list.selectedItems()) > 1)
        )
        self.note = label("", "note", wrap=True)
        top = QHBoxLayout()
        top.addWidget(self.count)
        top.addWidget(self.within)
        top.addStretch(1)
        self.body.addLayout(top)
        self.body.addWidget(self.list, 1)
        self.body.addWidget(self.note)
        self.apply = button("Use these speakers", self.accept, "primary")
        self.set_acts(self.apply, between=(self.join,))
        self.count.valueChanged.connect(lambda _value: self._ask())
        self.within.currentIndexChanged.connect(lambda _index: self._ask())
        self._again.told.connect(self._show_told)
        self._again.listened.connect(self._tell_how_far)
        self.finished.connect(lambda _answer: self._leave())
        self._show(self._now)
        if talking < 2 or self._perhaps:
            self._ask()
        else:
            self.apply.setEnabled(False)

    def _make_list(self) -> None:
        """Make the list of speakers."""
        self.list = QTreeWidget()
        self.list.setAccessibleName("Speakers")
        self.list.setRootIsDecorated(False)
        self.list.setHeaderLabels(["Speaker", "Speaking time", "Turns", "First words"])
        self.list.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.list.header().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        self.list.header().setStretchLastSection(True)
        self.list.setTextElideMode(Qt.TextElideMode.ElideRight)

    @property
    def retold(self) -> Retold | None:
        """The chosen result."""
        return self._retold

    def _ask(self) -> None:
        first, last = 0, len(self._now.cues)
        if self._selected is not None and self.within.currentIndex() == 1:
            first, last = self._selected
        self.apply.setEnabled(False)
        self.note.setText("Detecting speakers…")
        self._again.ask_count(self._recording, first, last, self.count.value())

    def _tell_how_far(self, share: float) -> None:
        self.note.setText(f"Detecting speakers… {round(100 * share)} %")

    def _show_told(self, told: Retold | str) -> None:
        if isinstance(told, str):
            self.note.setText(told)
            return
        self._retold = told
        self._show(told.text)
        found = len({cue.speaker for cue in told.text.cues if cue.speaker is not None})
        whole = self._selected is None or self.within.currentIndex() == 0
        fewer = whole and found < self.count.value()
        changed = _changed_words(told.before, told.text)
        words = "No word would change its speaker." if not changed else (
            f"{changed} word{'s' * (changed != 1)} would change their speaker."
            if changed != 1
            else "1 word would change its speaker."
        )  # fmt: skip
        self.note.setText(f"Only {found} can be detected. {words}" if fewer else words)
        self.apply.setEnabled(told.text != told.before or bool(self._perhaps))

    def _show(self, text: Transcript) -> None:
        self.list.clear()
        for speaker in text.speakers:
            length, turns, first = _spoken(text, speaker)
            if turns:
                item = QTreeWidgetItem([speaker.label, clock(length)[:-4], str(turns), first])
                item.setData(0, Qt.ItemDataRole.UserRole, speaker.id)
                self.list.addTopLevelItem(item)

    def _join(self) -> None:
        """Make the selected speakers one: the one with a name, else the first of the list."""
        base = self._retold or Retold(self._recording, self._now, self._now, Told((), ()))
        text = base.text
        chosen = [item.data(0, Qt.ItemDataRole.UserRole) for item in self.list.selectedItems()]
        kept = sorted(chosen, key=lambda one: (not _named(text.speakers, one), one))
        for one in kept[1:]:
            text = join_speakers(text, one, kept[0])
        voices = tuple(voice for voice in base.told.voices if voice.speaker not in kept[1:])
        self._retold = replace(base, text=text, told=replace(base.told, voices=voices))
        self._show_told(self._retold)

    def _leave(self) -> None:
        self._again.stop()
        self._again.told.disconnect(self._show_told)
        self._again.listened.disconnect(self._tell_how_far)


def _named(speakers: Sequence[Speaker], speaker_id: int) -> bool:
    return any(speaker.id == speaker_id and speaker.name for speaker in speakers)


def _spoken(text: Transcript, speaker: Speaker) -> tuple[int, int, str]:
    """Return how long a speaker speaks (ms), in how many turns, and the first words."""
    length = turns = 0
    first = ""
    before: int | None = None
    for cue in text.cues:
        if cue.speaker == speaker.id:
            length += cue.end - cue.start
            if before != speaker.id:
                turns += 1
                first = first or cue.text[:FIRST_WORDS]
        before = cue.speaker
    return length, turns, first


def _changed_words(before: Transcript, after: Transcript) -> int:
    was, now = (
        [cue.speaker for cue in text.cues for _word in cue.words] for text in (before, after)
    )
    return sum(one != other for one, other in zip(was, now, strict=True))

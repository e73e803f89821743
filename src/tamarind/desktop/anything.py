"""Find anything: search commands, recordings, speakers, text and times from one key."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import partial

from PySide6.QtCore import QEvent, QObject, Qt, QTimer
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QLineEdit, QListWidget, QListWidgetItem, QWidget

from tamarind.application.session import Session
from tamarind.desktop.commands import Command, shown
from tamarind.desktop.keys import current
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.formats.timecode import clock, parse_time
from tamarind.transcript.find import Wanted, find

MOST_PLACES = 40
RESTS_MS = 120
AROUND = 34


@dataclass(frozen=True, slots=True)
class Hit:
    """One result: what it is, what it says, and how to get there."""

    kind: str
    text: str
    go: Callable[[], object]


class Finder:
    """Searches everything in a job and its window."""

    def __init__(
        self,
        session: Session,
        commands: Sequence[Command],
        run: Callable[[str], object],
        go_to: Callable[[int, int, int, int], object],
        go_to_time: Callable[[int], object],
    ) -> None:
        """``run`` runs a command by name, ``go_to`` selects [first, last) in a cue of a recording,
        ``go_to_time`` goes to a time (ms) of the shown recording."""
        self._session, self._known, self._run = session, commands, run
        self._go_to, self._go_to_time = go_to, go_to_time

    def hits(self, query: str) -> list[Hit]:
        """Return the matches for a query, best first; all commands and recordings for an empty
        one."""
        query = query.strip()
        found = [*self._times(query), *self._recordings(query), *self._commands(query)]
        if len(query) >= 2:
            found += [*self._speakers(query), *self._places(query)]
        return found

    def _times(self, query: str) -> Iterator[Hit]:
        recording = self._session.shown_recording()
        if recording is None or not query or (":" not in query and not query.isdigit()):
            return
        try:
            time = parse_time(query)
        except ValueError:
            return
        if time <= recording.duration:
            yield Hit("time", f"go to {clock(time, 1)}", lambda: self._go_to_time(time))

    def _commands(self, query: str) -> Iterator[Hit]:
        """Yield commands with a matching title, then those with a matching synonym."""
        called = [one for one in self._known if _fits(query, f"{one.label} {one.group} {one.name}")]
        others = [one for one in self._known if one not in called]
        also = [one for one in others if _fits(query, f"{one.label} {one.group} {one.also}")]
        for command in (*called, *also):
            keys = "  or  ".join(map(shown, current().of(command.name)))
            yield Hit("command", f"{command.label}   {keys}", partial(self._run, command.name))

    def _recordings(self, query: str) -> Iterator[Hit]:
        for recording in self._session.recordings.all():
            if _fits(query, recording.name):
                go = lambda key=recording.id: self._session.show(key)  # noqa: E731
                yield Hit("recording", recording.name, go)

    def _speakers(self, query: str) -> Iterator[Hit]:
        for recording in self._session.recordings.all():
            text = self._session.texts.transcript(recording.id)
            for speaker in text.speakers:
                if not _fits(query, speaker.label):
                    continue
                place = next((n for n, c in enumerate(text.cues) if c.speaker == speaker.id), None)
                if place is not None:
                    go = lambda k=recording.id, p=place: self._go_to(k, p, 0, 0)  # noqa: E731
                    yield Hit("speaker", f"{speaker.label}   {recording.name}", go)

    def _places(self, query: str) -> Iterator[Hit]:
        left = MOST_PLACES
        recordings = self._session.recordings.all()
        recordings.sort(key=lambda recording: recording.id != self._session.shown)
        for recording in recordings:
            text = self._session.texts.transcript(recording.id)
            for at in find(text, Wanted(query[:200]), most=left):
                cue = text.cues[at.row]
                line = cue.text[max(at.first - AROUND, 0) : at.last + AROUND]
                time = clock(cue.start, 0, hours=False)
                go = lambda k=recording.id, f=at: self._go_to(k, f.row, f.first, f.last)  # noqa: E731
                yield Hit("text", f"…{line}…   {time}   {recording.name}", go)
                left -= 1
            if left <= 0:
                return


class AnythingDialog(Dialog):
    """A search field and its results; Enter goes to the chosen one."""

    def __init__(self, finder: Finder, parent: QWidget | None = None) -> None:
        super().__init__("Find anything", (680, 460), parent)
        self._finder = finder
        self._hits: list[Hit] = []
        self.query = QLineEdit()
        self.query.setPlaceholderText("A command, a recording, a speaker, words, or a time")
        self.query.setAccessibleName("What to find")
        self.list = QListWidget()
        self.list.setAccessibleName("Results")
        self.none = label("No matches.", "note")
        self.body.addWidget(self.query)
        self.body.addWidget(self.list, 1)
        self.body.addWidget(self.none)
        self.set_acts(button("Go", self.accept, "primary"))
        # Who types on does not wait for what the first letters find.
        self._later = QTimer(self, singleShot=True, interval=RESTS_MS)
        self._later.timeout.connect(self.look)
        self.query.textChanged.connect(self._later.start)
        self.query.installEventFilter(self)
        self.list.itemActivated.connect(lambda _item: self.accept())
        self.look()

    def chosen(self) -> Hit | None:
        """The result that the person chose."""
        self._look_now()
        row = self.list.currentRow()
        return self._hits[row] if 0 <= row < len(self._hits) else None

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Let Up, Down and the page keys move through the results while the caret stays in the
        field."""
        moves = (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown)
        if isinstance(event, QKeyEvent) and event.type() is QEvent.Type.KeyPress:
            if event.key() in moves:
                self._look_now()
                self.list.keyPressEvent(event)
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self.accept()
                return True
        return super().eventFilter(watched, event)

    def _look_now(self) -> None:
        """Search for what was typed last, without waiting for a pause in typing."""
        if self._later.isActive():
            self.look()

    def look(self) -> None:
        """Show the matches."""
        self._later.stop()
        self._hits = self._finder.hits(self.query.text())
        self.list.clear()
        for hit in self._hits:
            QListWidgetItem(f"{hit.kind:<10}   {hit.text}", self.list)
        self.list.setCurrentRow(0 if self._hits else -1)
        self.none.setVisible(not self._hits)


def _fits(query: str, text: str) -> bool:
    text = text.casefold()
    return all(part in text for part in query.casefold().split())

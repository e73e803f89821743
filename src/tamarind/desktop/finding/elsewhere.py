"""Fix once, everywhere: offer a correction for the other places where the same stands."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QWidget

from tamarind.application.session import Session
from tamarind.desktop.qtloop import tasks_of
from tamarind.formats.timecode import clock
from tamarind.system.later import Later
from tamarind.transcript.corrections import Correction, Occurrence, put
from tamarind.transcript.model import Transcript, text_of

if TYPE_CHECKING:
    from tamarind.desktop.widgets import changes_dialog
else:
    changes_dialog = Later("tamarind.desktop.widgets.changes_dialog")

AROUND = 4
"""Words shown on both sides of a place."""

MOST_LISTED = 500

Texts = Sequence[tuple[int, Transcript]]
"""Texts with the ids of their recordings."""


@dataclass(frozen=True)
class Places:
    """The texts to search: ``texts`` returns all, ``text`` that of a recording, ``find`` searches
    them in the background, ``edit`` changes one."""

    texts: Callable[[], Texts]
    text: Callable[[int], Transcript]
    find: Callable[[Correction, Texts], list[Occurrence]]
    edit: Callable[[int, str, Transcript], object]
    nowhere: str
    """What is said where there are none, behind the wrong words."""

    note: str
    """What stands above the list."""


class Elsewhere(QObject):
    """Knows the last correction and how many other places there may be; ``check`` looks for a newer
    correction."""

    changed = Signal()

    def __init__(
        self, session: Session, sheet: QWidget, places: Places, check: Callable[[], None]
    ) -> None:
        super().__init__(sheet)
        self._session, self._sheet, self._places = session, sheet, places
        self._check = check
        self.last: Correction | None = None
        self.others = 0
        self._asked: Correction | None = None
        self._tasks = tasks_of(self, "finding other places")

    def take(self, correction: Correction | None) -> None:
        """Set the last correction; None for none."""
        self.last, self.others = correction, 0
        self.changed.emit()

    def count(self, others: int) -> None:
        """Set the number of other places."""
        self.others = others
        self.changed.emit()

    def checked(self) -> Correction | None:
        """Return the current last correction; if there is none, say so."""
        self._check()
        if self.last is None:
            self._session.told.emit("Nothing has been corrected yet.")
        return self.last

    def look(self) -> None:
        """Find every other place of the last correction, and offer to correct them."""
        correction = self.checked()
        if correction is None or self._asked is not None:
            return
        self._asked = correction
        texts = self._places.texts()
        self._tasks.run(
            lambda: self._places.find(correction, texts)[:MOST_LISTED],
            lambda spots: self.show_places(correction, spots),
            self._failed,
        )

    def _failed(self, sentence: str) -> None:
        self._asked = None
        self._session.trouble.emit(sentence)

    def show_places(self, correction: Correction, spots: list[Occurrence]) -> None:
        """Let the person choose among places that were found."""
        self._asked = None
        if not spots:
            self._session.told.emit(f"“{correction.wrong}” {self._places.nowhere}")
            return
        dialog = changes_dialog.ChangesDialog(
            f"“{correction.wrong}” is “{correction.right}”",
            [self._change(number, spot, correction) for number, spot in enumerate(spots)],
            self._sheet.window(),
            note=self._places.note,
            texts=True,
            about="where",
        )
        taken = dialog.exec()
        self._sheet.setFocus()
        if taken:
            self.put([spots[number] for number in dialog.chosen()], correction.right)

    def put(self, spots: list[Occurrence], right: str) -> None:
        """Correct these places, as one step of undo for each recording."""
        for key in dict.fromkeys(spot.recording for spot in spots):
            text = self._places.text(key)
            own = [spot for spot in spots if spot.recording == key]
            for spot in sorted(own, key=lambda s: (s.place, s.first), reverse=True):
                text = put(text, spot, right)
            self._places.edit(key, f"“{right}” everywhere", text)
        count = len(spots)
        told = "1 place corrected." if count == 1 else f"{count} places corrected."
        self._session.told.emit(told)
        self.count(0)

    def _change(
        self, number: int, spot: Occurrence, correction: Correction
    ) -> changes_dialog.ProposedChange:
        words = self._places.text(spot.recording).cues[spot.place].words
        head = text_of(words[max(spot.first - AROUND, 0) : spot.first])
        tail = text_of(words[spot.last : spot.last + AROUND])
        name = self._session.recordings.get(spot.recording).name
        time = clock(words[spot.first].start, 0, hours=False)
        return changes_dialog.ProposedChange(
            number,
            f"{head} {spot.text} {tail}".strip(),
            f"{head} {correction.right} {tail}".strip(),
            f"{time}   {name}",
            spot.unlike == 0.0,
        )

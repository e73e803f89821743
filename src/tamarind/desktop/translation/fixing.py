"""Fix once, everywhere: a correction of a translation, in other places and in its terms."""

from __future__ import annotations

import re
from collections.abc import Callable

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QFrame, QHBoxLayout

from tamarind.application.session import Session
from tamarind.desktop.qtloop import tasks_of
from tamarind.desktop.translation.sheet import TranslationSheet
from tamarind.desktop.translation.trackedits import TrackEdits
from tamarind.desktop.widgets.changes_dialog import ChangesDialog, ProposedChange
from tamarind.desktop.widgets.parts import ElidedLabel, button, label
from tamarind.formats.timecode import clock
from tamarind.transcript.corrections import Correction, Occurrence, corrections, put, same_mistake
from tamarind.transcript.model import text_of
from tamarind.transcript.reconcile import spread
from tamarind.transcript.tokens import tokens_of
from tamarind.translation.correspondence import likely_source
from tamarind.translation.termbook import TermPair

AROUND = 4
"""Words shown on both sides of a place."""

MOST_LISTED = 500


class TrackFixing(QObject):
    """Notices what was corrected in a cue once the caret has left it."""

    changed = Signal()

    def __init__(
        self,
        session: Session,
        sheet: TranslationSheet,
        edits: TrackEdits,
        edit_terms: Callable[[TermPair], object],
    ) -> None:
        """``edit_terms`` lets the person put a pair into the terms."""
        super().__init__(sheet)
        self._session, self._sheet, self._edits = session, sheet, edits
        self._edit_terms = edit_terms
        self._at: tuple[int | None, str, int] | None = None
        self._before = ""
        self.last: Correction | None = None
        self.others = 0
        self._source = ""
        self._tasks = tasks_of(self, "looking for other places")
        sheet.caret.moved.connect(self._caret_moved)

    def forget(self) -> None:
        """Nothing has been corrected."""
        self.last, self._at = None, None
        self.changed.emit()

    def look_elsewhere(self) -> None:
        """Offer every other place of the job's tracks in this language where the same stands."""
        self._check()
        correction = self.last
        if correction is None:
            self._session.told.emit("Nothing has been corrected yet.")
            return
        texts = [(key, self._edits.transcript(key)) for key in self._edits.recordings()]
        self._tasks.run(
            lambda: [s for key, text in texts for s in same_mistake(text, key, correction)],
            lambda spots: self._show(correction, spots[:MOST_LISTED]),
            self._session.trouble.emit,
        )

    def to_terms(self) -> None:
        """With the words of the source that it seems to stand for."""
        self._check()
        if self.last is None:
            self._session.told.emit("Nothing has been corrected yet.")
            return
        language, documents = self._edits.language, self._session.texts.document
        pairs = [
            (cue.text, document.track(language).text(cue.id))
            for document in map(documents, self._edits.recordings())
            for cue in document.transcript.cues
        ]
        here, source = self._source, self._sheet.text.transcript.language
        said = likely_source(pairs, here, (self.last.wrong, self.last.right), source)
        self._edit_terms(TermPair(said, self.last.right))

    def put(self, spots: list[Occurrence], right: str) -> None:
        """Correct these places, with one undo for each recording."""
        for key in dict.fromkeys(spot.recording for spot in spots):
            text = self._edits.transcript(key)
            own = [spot for spot in spots if spot.recording == key]
            for spot in sorted(own, key=lambda s: (s.place, s.first), reverse=True):
                text = put(text, spot, right)
            self._edits.edit(key, f"“{right}” everywhere", text)
        count = len(spots)
        said = "1 place corrected." if count == 1 else f"{count} places corrected."
        self._session.told.emit(said)
        self._count()

    def _show(self, correction: Correction, spots: list[Occurrence]) -> None:
        if not spots:
            self._session.told.emit(f"“{correction.wrong}” stands nowhere else.")
            return
        dialog = ChangesDialog(
            f"“{correction.wrong}” is “{correction.right}”",
            [self._change(number, spot, correction) for number, spot in enumerate(spots)],
            self._sheet.window(),
            "What nobody has read yet stays to be read.",
            texts=True,
            about="where",
        )
        taken = dialog.exec()
        self._sheet.setFocus()
        if taken:
            self.put([spots[number] for number in dialog.chosen()], correction.right)

    def _change(self, number: int, spot: Occurrence, correction: Correction) -> ProposedChange:
        cue = self._edits.transcript(spot.recording).cues[spot.place]
        head = text_of(cue.words[max(spot.first - AROUND, 0) : spot.first])
        tail = text_of(cue.words[spot.last : spot.last + AROUND])
        name = self._session.recordings.get(spot.recording).name
        return ProposedChange(
            number,
            f"{head} {spot.text} {tail}".strip(),
            f"{head} {correction.right} {tail}".strip(),
            f"{clock(cue.start, 0, hours=False)}   {name}",
        )

    def _caret_moved(self) -> None:
        text, row = self._sheet.text, self._sheet.caret.place[0]
        cues = text.transcript.cues
        at = (text.recording_id, text.track.language, cues[row].id) if row < len(cues) else None
        if at == self._at:
            return
        if at is None or self._at is None or at[:2] != self._at[:2]:
            self.last = None
            self.changed.emit()
        else:
            self._check()
        self._at = at
        self._before = text.translation(row) if at is not None else ""

    def _check(self) -> None:
        """Compare the cue that was entered last with what it was then."""
        text = self._sheet.text
        if self._at is None or self._at[:2] != (text.recording_id, text.track.language):
            return
        entry = text.track.texts.get(self._at[2])
        cue = next((cue for cue in text.transcript.cues if cue.id == self._at[2]), None)
        if entry is None or cue is None or not entry.by_person or entry.text == self._before:
            return
        before, after = (
            spread(tokens_of(said), cue.start, cue.end) for said in (self._before, entry.text)
        )
        found = corrections(before, after)
        self._before = entry.text
        if found:
            self.last, self._source = found[-1], cue.text
            self._count()

    def _count(self) -> None:
        """In how many cues of the job what was wrong still stands."""
        if self.last is None:
            return
        wrong = re.compile(rf"(?<!\w){re.escape(self.last.wrong)}(?!\w)", re.IGNORECASE)
        tracks = (
            self._session.texts.document(key).track(self._edits.language)
            for key in self._edits.recordings()
        )
        self.others = sum(
            bool(wrong.search(entry.text)) for track in tracks for entry in track.texts.values()
        )
        self.changed.emit()


class FixStrip(QFrame):
    """Under the sheet, where a correction is wanted in other places; seen only then."""

    def __init__(self, fixing: TrackFixing) -> None:
        super().__init__()
        self.setObjectName("bar")
        self._fixing = fixing
        self._what, self._count = ElidedLabel("", "after"), label("", "note")
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 6, 14, 6)
        row.setSpacing(14)
        row.addWidget(label("CORRECTED", "heading"))
        row.addWidget(self._what, 1)
        row.addWidget(self._count)
        elsewhere = "Other places…"
        for words, act, tip in (
            (elsewhere, fixing.look_elsewhere, "{fix_track_elsewhere}"),
            ("Into the terms…", fixing.to_terms, "{fix_terms}"),
            ("close", fixing.forget, ""),
        ):
            row.addWidget(button(words, act, "link", tip))
        fixing.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the last correction, if what was wrong still stands somewhere."""
        last, count = self._fixing.last, self._fixing.others
        self.setVisible(last is not None and count > 0)
        if last is not None:
            self._what.set_whole(f"{last.wrong} → {last.right}")
            self._count.setText("in 1 more cue" if count == 1 else f"in {count} more cues")

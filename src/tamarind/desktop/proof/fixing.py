"""Fix once, everywhere: after a correction, its other places in the job and the glossary."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer, Signal
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from tamarind.application.session import Session
from tamarind.desktop.commands import TEXT, command
from tamarind.desktop.proof.sheet import ProofSheet
from tamarind.desktop.qtloop import tasks_of
from tamarind.desktop.widgets.parts import ElidedLabel, button, label
from tamarind.formats.timecode import clock
from tamarind.speech.glossary import Glossary, Term
from tamarind.system.later import Later
from tamarind.transcript.corrections import Correction, Occurrence, corrections, put, same_mistake
from tamarind.transcript.model import Transcript, Word, text_of

if TYPE_CHECKING:
    from tamarind.desktop.widgets import changes_dialog
else:
    changes_dialog = Later("tamarind.desktop.widgets.changes_dialog")

BY_HAND = ("typing", "settle a doubt", "move text")
"""Steps by which single words are corrected."""

AROUND = 4
"""Words shown on both sides of a place."""

MOST_LISTED = 500
COUNTED_AFTER_MS, COUNTED_AT_ONCE = 400, 40


class Fixing(QObject):
    """Notices what a person corrects, and does the same in other places if they want."""

    changed = Signal()
    found = Signal(object, object)

    def __init__(self, session: Session, sheet: ProofSheet) -> None:
        super().__init__(sheet)
        self._session, self._sheet = session, sheet
        self._cue: tuple[int | None, int] | None = None
        self._before: tuple[Word, ...] = ()
        self._at: tuple[object, ...] = ()
        self._seen: set[Correction] = set()
        self.last: Correction | None = None
        self.others = 0
        self._asked: Correction | None = None
        self._tasks = tasks_of(self, "looking for other places")
        self._to_count: Iterator[int] = iter(())
        self._counting = QTimer(self, singleShot=True)
        self._counting.timeout.connect(self._count)
        sheet.caret.moved.connect(self._caret_moved)
        session.shown_changed.connect(lambda: self.forget())
        self.found.connect(self._show)

    def forget(self) -> None:
        """Nothing has been corrected."""
        self.last = None
        self._cue = None
        self._seen.clear()
        self.changed.emit()

    @command(
        "The last correction in other places too",
        "Doubts",
        "Alt+O",
        name="fix_elsewhere",
        needs=TEXT,
    )
    def look_elsewhere(self) -> None:
        """Find every other place where the same was heard, or something that sounds like it."""
        self._check()
        correction = self.last
        if correction is None:
            self._session.told.emit("Nothing has been corrected yet.")
            return
        if self._asked is not None:
            return
        self._asked = correction
        texts = [
            (r.id, self._session.texts.transcript(r.id)) for r in self._session.recordings.all()
        ]
        self._tasks.run(
            lambda: other_places(correction, texts),
            lambda spots: self.found.emit(correction, spots),
            self._failed,
        )

    def _failed(self, sentence: str) -> None:
        self._asked = None
        self._session.trouble.emit(sentence)

    @command(
        "The last correction into the glossary",
        "Doubts",
        "Alt+Shift+O",
        name="fix_glossary",
        needs=TEXT,
    )
    def to_glossary(self) -> None:
        """Listen for the right words from now on."""
        self._check()
        if self.last is None:
            self._session.told.emit("Nothing has been corrected yet.")
            return
        glossary, right = self._session.glossary(), self.last.right
        if any(term.text == right for term in glossary.terms):
            self._session.told.emit(f"“{right}” is in the glossary already.")
            return
        term = Term(right, (self.last.wrong,))
        self._session.set_glossary(Glossary((*glossary.terms, term)))
        self._session.told.emit(f"“{right}” is in the glossary: what is heard next knows it.")

    def _show(self, correction: Correction, spots: list[Occurrence]) -> None:
        self._asked = None
        if not spots:
            self._session.told.emit(f"“{correction.wrong}” was heard nowhere else.")
            return
        dialog = changes_dialog.ChangesDialog(
            f"“{correction.wrong}” is “{correction.right}”",
            [self._change(number, spot, correction) for number, spot in enumerate(spots)],
            self._sheet.window(),
            "Ticked: written just the same. Not ticked: sounds like it.",
            texts=True,
            about="where",
        )
        taken = dialog.exec()
        self._sheet.setFocus()
        if taken:
            self.put([spots[number] for number in dialog.chosen()], correction.right)

    def put(self, spots: list[Occurrence], right: str) -> None:
        """Correct these places, with one undo for each recording."""
        for key in dict.fromkeys(spot.recording for spot in spots):
            text = self._session.texts.transcript(key)
            own = [spot for spot in spots if spot.recording == key]
            for spot in sorted(own, key=lambda s: (s.place, s.first), reverse=True):
                text = put(text, spot, right)
            self._session.texts.close_edit_group()
            self._session.texts.edit(key, f"“{right}” everywhere", text)
        count = len(spots)
        self._session.told.emit(
            "1 place corrected." if count == 1 else f"{count} places corrected."
        )
        self.others = 0
        self.changed.emit()

    def _change(
        self, number: int, spot: Occurrence, correction: Correction
    ) -> changes_dialog.ProposedChange:
        words = self._session.texts.transcript(spot.recording).cues[spot.place].words
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

    def _caret_moved(self) -> None:
        """Once the caret has left a word, what was made of it can be told."""
        cue = self._sheet.cue_caret.cue()
        if cue is None:
            return
        at = (self._session.shown, cue.id, self._sheet.cue_caret.word())
        if at == self._at:
            return
        self._at = at
        self._check()
        if self._cue != (self._session.shown, cue.id):
            self._cue, self._before = (self._session.shown, cue.id), cue.words

    def _check(self) -> None:
        """Compare the cue that was entered last with what it was then, if a person wrote in it."""
        if self._cue is None or self._cue[0] != self._session.shown:
            return
        if self._session.texts.undo_labels()[0] not in BY_HAND:
            return
        text = self._sheet.transcript
        here = self._sheet.cue_caret.place()
        near = text.cues[max(here - 2, 0) : here + 3]
        cue = next((cue for cue in near if cue.id == self._cue[1]), None)
        if cue is None or cue.words == self._before:
            return
        new = [c for c in corrections(self._before, cue.words) if c not in self._seen]
        if new:
            self._seen.update(new)
            self.last = new[-1]
            self.others = 0
            self._to_count = iter(range(0, len(text.cues), COUNTED_AT_ONCE))
            self._counting.start(COUNTED_AFTER_MS)
            self.changed.emit()

    def _count(self) -> None:
        """Count the same mistake in a part of the text; the rest when there is time again."""
        first = next(self._to_count, None)
        if first is None or self.last is None:
            return
        text = self._sheet.transcript
        part = Transcript(text.language, text.cues[first : first + COUNTED_AT_ONCE])
        self.others += len(same_mistake(part, 0, self.last))
        self._counting.start(0)
        self.changed.emit()


class FixPanel(QWidget):
    """The place on the desk where a correction is offered to other places; seen only then."""

    def __init__(self, fixing: Fixing) -> None:
        super().__init__()
        self._fixing = fixing
        self._what = ElidedLabel("", "after")
        self._note = label("", "note", wrap=True)
        elsewhere = button("Other places…", fixing.look_elsewhere, "link", "{fix_elsewhere}")
        glossary = button("Into the glossary", fixing.to_glossary, "link", "{fix_glossary}")
        acts = QHBoxLayout()
        acts.setSpacing(14)
        for act in (elsewhere, glossary):
            act.setFocusPolicy(elsewhere.focusPolicy().TabFocus)
            acts.addWidget(act)
        acts.addStretch(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addWidget(label("CORRECTED", "heading"))
        column.addWidget(self._what)
        column.addWidget(self._note)
        column.addLayout(acts)
        fixing.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the last correction."""
        last = self._fixing.last
        self.setVisible(last is not None)
        if last is not None:
            self._what.set_whole(f"{last.wrong} → {last.right}")
            count = self._fixing.others
            self._note.setText(
                f"{count} more in this recording" if count else "nowhere else in this recording"
            )


def other_places(correction: Correction, texts: list[tuple[int, Transcript]]) -> list[Occurrence]:
    """Where a correction may have to be made too. The sounds of all words of a job take a moment,
    as does the dictionary of sounds, which the start should not wait for."""
    from tamarind.speech.alike import sounding_alike

    same = [s for key, text in texts for s in same_mistake(text, key, correction)]
    alike = list(sounding_alike(texts, correction))
    return [*same, *sorted(alike, key=lambda s: s.unlike)][:MOST_LISTED]

"""Fix once, everywhere: after a correction of a translation, offer its other places and the
glossary."""

from __future__ import annotations

import re
from collections.abc import Callable

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QFrame, QHBoxLayout

from tamarind.application.session import Session
from tamarind.desktop.finding.elsewhere import Elsewhere, Places, Texts
from tamarind.desktop.translation.sheet import TranslationSheet
from tamarind.desktop.translation.trackedits import TrackEdits
from tamarind.desktop.widgets.parts import ElidedLabel, button, label
from tamarind.transcript.corrections import Correction, Occurrence, corrections, same_mistake
from tamarind.transcript.reconcile import spread
from tamarind.transcript.tokens import tokens_of
from tamarind.translation.correspondence import likely_source
from tamarind.translation.termbook import TermPair


class TrackFixing(QObject):
    """Notices what was corrected in a cue once the caret has left it."""

    def __init__(
        self,
        session: Session,
        sheet: TranslationSheet,
        edits: TrackEdits,
        edit_terms: Callable[[TermPair], object],
    ) -> None:
        """``edit_terms`` lets the person add a pair to the glossary."""
        super().__init__(sheet)
        self._session, self._sheet, self._edits = session, sheet, edits
        self._edit_terms = edit_terms
        self._at: tuple[int | None, str, int] | None = None
        self._before = ""
        self._source = ""
        places = Places(
            lambda: [(key, edits.transcript(key)) for key in edits.recordings()],
            edits.transcript,
            _same_places,
            edit=edits.edit,
            nowhere="does not occur elsewhere.",
            note="Translations that nobody has checked stay marked as such.",
        )
        self.elsewhere = Elsewhere(session, sheet, places, self._check)
        sheet.caret.moved.connect(self._caret_moved)

    def forget(self) -> None:
        """Forget the last correction."""
        self._at = None
        self.elsewhere.take(None)

    def look_elsewhere(self) -> None:
        """Offer every other place of the job's tracks in this language where the same stands."""
        self.elsewhere.look()

    def to_terms(self) -> None:
        """Add a glossary term with the source words that it seems to stand for."""
        correction = self.elsewhere.checked()
        if correction is None:
            return
        language, documents = self._edits.language, self._session.texts.document
        pairs = [
            (cue.text, document.track(language).text(cue.id))
            for document in map(documents, self._edits.recordings())
            for cue in document.transcript.cues
        ]
        here, source = self._source, self._sheet.text.transcript.language
        said = likely_source(pairs, here, (correction.wrong, correction.right), source)
        self._edit_terms(TermPair(said, correction.right))

    def _caret_moved(self) -> None:
        text, row = self._sheet.text, self._sheet.caret.place[0]
        cues = text.transcript.cues
        at = (text.recording_id, text.track.language, cues[row].id) if row < len(cues) else None
        if at == self._at:
            return
        if at is None or self._at is None or at[:2] != self._at[:2]:
            self.elsewhere.take(None)
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
            self._source = cue.text
            self.elsewhere.take(found[-1])
            self._count(found[-1])

    def _count(self, last: Correction) -> None:
        """Count the cues of the job in which the wrong words still stand."""
        wrong = re.compile(rf"(?<!\w){re.escape(last.wrong)}(?!\w)", re.IGNORECASE)
        tracks = (
            self._session.texts.document(key).track(self._edits.language)
            for key in self._edits.recordings()
        )
        self.elsewhere.count(
            sum(bool(wrong.search(one.text)) for track in tracks for one in track.texts.values())
        )


def _same_places(correction: Correction, texts: Texts) -> list[Occurrence]:
    return [spot for key, text in texts for spot in same_mistake(text, key, correction)]


class FixStrip(QFrame):
    """The strip under the sheet that offers the correction for other places; hidden otherwise."""

    def __init__(self, fixing: TrackFixing) -> None:
        super().__init__()
        self.setObjectName("bar")
        self._elsewhere = fixing.elsewhere
        self._what, self._count = ElidedLabel("", "after"), label("", "note")
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 6, 14, 6)
        row.setSpacing(14)
        row.addWidget(label("CORRECTED", "heading"))
        row.addWidget(self._what, 1)
        row.addWidget(self._count)
        elsewhere = "Fix everywhere…"
        for words, act, tip in (
            (elsewhere, fixing.look_elsewhere, "{fix_elsewhere}"),
            ("Add to glossary…", fixing.to_terms, "{fix_glossary}"),
            ("close", fixing.forget, ""),
        ):
            row.addWidget(button(words, act, "link", tip))
        self._elsewhere.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the last correction if its wrong words still stand somewhere."""
        last, count = self._elsewhere.last, self._elsewhere.others
        self.setVisible(last is not None and count > 0)
        if last is not None:
            self._what.set_whole(f"{last.wrong} → {last.right}")
            self._count.setText("in 1 more cue" if count == 1 else f"in {count} more cues")

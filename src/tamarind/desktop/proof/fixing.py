"""Fix once, everywhere: after a correction, offer its other places in the job and the glossary."""

from __future__ import annotations

from collections.abc import Iterator

from PySide6.QtCore import QObject, QTimer
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from tamarind.application.session import Session
from tamarind.desktop.commands import TEXT, command
from tamarind.desktop.finding.elsewhere import Elsewhere, Places, Texts
from tamarind.desktop.proof.sheet import ProofSheet
from tamarind.desktop.widgets.parts import ElidedLabel, button, label
from tamarind.speech.glossary import Glossary, Term
from tamarind.transcript.corrections import Correction, Occurrence, corrections, same_mistake
from tamarind.transcript.model import Transcript, Word

BY_HAND = ("typing", "review a word", "move text")
"""Steps by which single words are corrected."""

COUNTED_AFTER_MS, COUNTED_AT_ONCE = 400, 40


class Fixing(QObject):
    """Notices corrections, and makes them in other places if the person wants."""

    def __init__(self, session: Session, sheet: ProofSheet) -> None:
        super().__init__(sheet)
        self._session, self._sheet = session, sheet
        self._cue: tuple[int | None, int] | None = None
        self._before: tuple[Word, ...] = ()
        self._at: tuple[object, ...] = ()
        self._seen: set[Correction] = set()
        places = Places(
            self._texts,
            session.texts.transcript,
            lambda correction, texts: other_places(correction, texts),
            edit=self._edit,
            nowhere="does not occur elsewhere.",
            note="Ticked: the same spelling. Not ticked: sounds like it.",
        )
        self.elsewhere = Elsewhere(session, sheet, places, self._check)
        self._to_count: Iterator[int] = iter(())
        self._counting = QTimer(self, singleShot=True)
        self._counting.timeout.connect(self._count)
        sheet.caret.moved.connect(self._caret_moved)
        session.shown_changed.connect(lambda: self.forget())

    def forget(self) -> None:
        """Forget the last correction."""
        self._cue = None
        self._seen.clear()
        self.elsewhere.take(None)

    def _texts(self) -> Texts:
        known = self._session.recordings.all()
        return [(one.id, self._session.texts.transcript(one.id)) for one in known]

    def _edit(self, key: int, label: str, text: Transcript) -> None:
        self._session.texts.close_edit_group()
        self._session.texts.edit(key, label, text)

    @command(
        "Fix the last correction everywhere",
        "Edit",
        "Alt+O",
        name="fix_elsewhere",
        needs=TEXT,
        also="replace all",
    )
    def look_elsewhere(self) -> None:
        """Find every other place where the same was heard, or something that sounds like it."""
        self.elsewhere.look()

    @command(
        "Add the last correction to the glossary",
        "Edit",
        "Alt+Shift+O",
        name="fix_glossary",
        needs=TEXT,
    )
    def to_glossary(self) -> None:
        """Listen for the right words from now on."""
        correction = self.elsewhere.checked()
        if correction is None:
            return
        glossary, right = self._session.glossary(), correction.right
        if any(term.text == right for term in glossary.terms):
            self._session.told.emit(f"“{right}” is in the glossary already.")
            return
        term = Term(right, (correction.wrong,))
        self._session.set_glossary(Glossary((*glossary.terms, term)))
        self._session.told.emit(
            f"“{right}” is in the glossary: it is used in what is transcribed next."
        )

    def _caret_moved(self) -> None:
        """Check the correction once the caret has left the word."""
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
        """Compare the cue that was entered last with its text then, if a person wrote in it."""
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
            self._to_count = iter(range(0, len(text.cues), COUNTED_AT_ONCE))
            self._counting.start(COUNTED_AFTER_MS)
            self.elsewhere.take(new[-1])

    def _count(self) -> None:
        """Count the same mistake in a part of the text, and the rest when idle."""
        first, last = next(self._to_count, None), self.elsewhere.last
        if first is None or last is None:
            return
        text = self._sheet.transcript
        part = Transcript(text.language, text.cues[first : first + COUNTED_AT_ONCE])
        self._counting.start(0)
        self.elsewhere.count(self.elsewhere.others + len(same_mistake(part, 0, last)))


class FixPanel(QWidget):
    """The place on the desk where a correction is offered for other places; hidden otherwise."""

    def __init__(self, fixing: Fixing) -> None:
        super().__init__()
        self._elsewhere = fixing.elsewhere
        self._what = ElidedLabel("", "after")
        self._note = label("", "note", wrap=True)
        elsewhere = button("Fix everywhere…", fixing.look_elsewhere, "link", "{fix_elsewhere}")
        glossary = button("Add to glossary", fixing.to_glossary, "link", "{fix_glossary}")
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
        self._elsewhere.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the last correction."""
        last = self._elsewhere.last
        self.setVisible(last is not None)
        if last is not None:
            self._what.set_whole(f"{last.wrong} → {last.right}")
            count = self._elsewhere.others
            self._note.setText(
                f"{count} more in this recording" if count else "nowhere else in this recording"
            )


def other_places(correction: Correction, texts: Texts) -> list[Occurrence]:
    """Return where a correction may be needed too. Loads the sounds of words when first used, which
    takes a moment that the start should not wait for."""
    from tamarind.speech.alike import sounding_alike

    same = [s for key, text in texts for s in same_mistake(text, key, correction)]
    alike = list(sounding_alike(list(texts), correction))
    return [*same, *sorted(alike, key=lambda s: s.unlike)]

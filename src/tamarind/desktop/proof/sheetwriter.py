"""Turn what is typed into the proof sheet into edits of the text."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import AbstractContextManager

from tamarind.application.session import Session
from tamarind.desktop.editor.content import Place
from tamarind.desktop.proof.rows import Layout
from tamarind.desktop.proof.sheettext import SheetText
from tamarind.desktop.proof.spots import Spots
from tamarind.transcript import edits


class ProofWriter:
    """Writes every keystroke to disk as an edit; undo takes back a word at a time."""

    joins_rows = True

    def __init__(self, session: Session, text: SheetText, spots: Spots) -> None:
        self._session, self._text, self._spots = session, text, spots
        self.wrote: Callable[[], None] = lambda: None
        """Called at every keystroke."""

    def write(self, first: Place, last: Place, text: str, typed: bool) -> None:
        """Replace the text between two places; the cues or paragraphs they lie in are joined."""
        recording, old = self._text.recording_id, self._text.transcript
        if recording is None:
            return
        self.wrote()
        (low, start), (high, stop) = self._spots.spot_of(first), self._spots.spot_of(last)
        cue = old.cues[low]
        whole = self._spots.shown_cue(low)[:start] + text + self._spots.shown_cue(high)[stop:]
        if low == high:
            new = edits.set_text(old, low, whole)
        elif self._text.layout is Layout.CUES:
            new = old
            for _ in range(high - low):
                new = edits.join(new, low)
            new = edits.set_text(new, low, whole)
        else:
            new = old
            for row in range(last[0], first[0], -1):
                new = edits.join_paragraph(new, self._text.cues_of(row)[0])
            new = edits.set_text_over(new, low, high + 1, whole)
        alone = typed and low == high
        if not alone:
            self._session.texts.close_edit_group()
        group = f"typing {cue.id}" if alone else None
        self._session.texts.edit(recording, "typing", new, group)
        if text.isspace():
            self._session.texts.close_edit_group()

    def as_one(self) -> AbstractContextManager[None]:
        """Make all edits within this context one step of undo."""
        return self._session.texts.as_one("move text")

    def break_row(self, place: Place) -> Place | None:
        """Split the cue or paragraph at the caret; return where the caret goes."""
        recording, old = self._text.recording_id, self._text.transcript
        spot = self._spots.spot_of(place)
        cue, word = spot[0], self._spots.words_before(spot)
        new = edits.split(old, cue, word)
        if self._text.layout is Layout.PARAGRAPHS:
            following = cue + 1 if word else cue
            if following >= len(new.cues):
                return None
            new = edits.set_paragraph(new, following, True)
        if recording is None or new == old:
            return None
        self._session.texts.edit(recording, "split", new)
        return place[0] + 1, 0

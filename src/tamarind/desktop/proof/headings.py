"""Commands for headings before paragraphs: written by hand, or proposed for a whole text."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QInputDialog

from tamarind.application.session import Session
from tamarind.desktop.commands import TEXT, command
from tamarind.desktop.proof.sheet import ProofSheet
from tamarind.desktop.qtloop import tasks_of
from tamarind.formats.timecode import clock
from tamarind.system.later import Later
from tamarind.transcript import edits
from tamarind.transcript.model import Transcript

if TYPE_CHECKING:
    from tamarind.desktop.widgets import changes_dialog
    from tamarind.language import headings as wordings
else:
    changes_dialog = Later("tamarind.desktop.widgets.changes_dialog")
    wordings = Later("tamarind.language.headings")

MANY_CUES = 1_500
"""For a longer text it is said that it takes a moment."""

BEGINNING = 90
"""Letters of a paragraph that are shown of it."""


class Headings(QObject):
    """Headings of the shown recording."""

    def __init__(self, session: Session, sheet: ProofSheet) -> None:
        super().__init__(sheet)
        self._session, self._sheet = session, sheet
        self._tasks = tasks_of(self, "headings")
        sheet.heading_asked.connect(self.ask)

    @command(
        "Add a heading…",
        "Paragraphs",
        "Ctrl+Shift+K",
        name="heading",
        needs=TEXT,
        also="title section chapter",
    )
    def ask(self) -> None:
        """Ask for the heading of the caret's paragraph, with proposals; an empty one removes it."""
        text = self._sheet.transcript
        if self._sheet.cue_caret.cue() is None:
            return
        place, _ = edits.paragraph_of(text, self._sheet.cue_caret.place())
        now = text.cues[place].heading
        offered = [one for one in (now, *wordings.wordings_at(text, place)) if one]
        heading, accepted = QInputDialog.getItem(
            self._sheet.window(),
            "A heading before this paragraph",
            "Choose one or type another. Leave it empty for no heading.",
            offered,
            0,
            True,
        )
        if accepted and " ".join(heading.split()) != now:
            new = edits.set_heading(text, place, heading)
            self._session.edit_shown("heading", new)

    @command(
        "Propose headings…",
        "Paragraphs",
        "Ctrl+Shift+G",
        name="headings",
        opens="proof",
        needs=TEXT,
    )
    def propose(self) -> None:
        """Propose headings for the whole text, to be ticked."""
        text = self._sheet.transcript
        shown = self._session.shown
        if len(text.cues) > MANY_CUES:
            self._session.told.emit("Finding topics…")
        self._tasks.run(
            lambda: wordings.proposals(text), lambda found: self._offer(shown, text, found)
        )

    def _offer(
        self, shown: int | None, text: Transcript, found: Sequence[wordings.HeadingProposal]
    ) -> None:
        if shown != self._session.shown:
            return
        if text is not self._sheet.transcript:
            self._session.told.emit("The text has changed meanwhile; ask for headings again.")
            return
        if not found:
            self._session.told.emit(
                "No headings to propose: the text is short, or has headings already."
            )
            return
        changes = [
            changes_dialog.ProposedChange(
                one.place,
                text.cues[one.place].text[:BEGINNING],
                one.wordings[0],
                clock(text.cues[one.place].start, 0),
            )
            for one in found
        ]
        note = (
            "Each heading goes before the paragraph that begins like this. You can change it later."
        )
        dialog = changes_dialog.ChangesDialog(
            "Headings", changes, self._sheet.window(), note=note, texts=True, about="where",
            columns=("paragraph", "heading"), act=("Add 1 heading", "Add {} headings"),
        )  # fmt: skip
        if dialog.exec():
            wording = {one.place: one.wordings[0] for one in found}
            for place in dialog.chosen():
                text = edits.set_heading(text, place, wording[place])
            self._session.edit_shown("headings", text)

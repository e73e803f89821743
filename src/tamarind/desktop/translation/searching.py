"""The translation sheet as the find bar sees it."""

from __future__ import annotations

from tamarind.application.session import Session
from tamarind.desktop.translation.sheet import TranslationSheet
from tamarind.job.document import Document
from tamarind.transcript.find import Found
from tamarind.transcript.model import Transcript
from tamarind.translation.tracks import as_transcript, with_rewording


class SearchedTracks:
    """The tracks of all recordings in the language that is shown."""

    def __init__(self, session: Session, sheet: TranslationSheet) -> None:
        self._session, self._sheet = session, sheet
        self._known: dict[int, tuple[Document, str, Transcript]] = {}

    def transcript(self, recording_id: int) -> Transcript:
        """A recording's track as a text; without words where it has none in this language."""
        document = self._session.texts.document(recording_id)
        language = self._sheet.text.track.language
        known = self._known.get(recording_id)
        if known is None or known[0] is not document or known[1] != language:
            text = as_transcript(document.track(language), document.transcript)
            known = self._known[recording_id] = document, language, text
        return known[2]

    def replace(self, recording_id: int, transcript: Transcript) -> None:
        """What reads otherwise is the person's now."""
        document = self._session.texts.document(recording_id)
        track = document.track(self._sheet.text.track.language)
        texts = {cue.id: cue.text for cue in transcript.cues}
        changed = with_rewording(track, document.transcript.cues, texts)
        self._session.texts.close_edit_group()
        self._session.texts.edit_document(recording_id, "replace", document.with_track(changed))

    def selected_text(self) -> str:
        """What is selected on the sheet."""
        return self._sheet.caret.selected_text()

    def start(self) -> tuple[bool, tuple[int, int]]:
        """Where the selection or the caret is; rows are cues."""
        selection = self._sheet.caret.selection()
        return selection is not None, selection[0] if selection else self._sheet.caret.place

    def select(self, found: Found) -> None:
        """Select a place."""
        self._sheet.caret.select((found.row, found.first), (found.row, found.last))

    def take_focus(self) -> None:
        """Back to the sheet."""
        self._sheet.setFocus()

"""Commands for translating: approving, moving on, other versions, borders."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial

from PySide6.QtCore import QPoint, QTimer
from PySide6.QtWidgets import QInputDialog, QWidget

from tamarind.application.session import Session
from tamarind.captions.limits import Limits
from tamarind.desktop.qtloop import tasks_of
from tamarind.desktop.translation.sheet import TranslationSheet
from tamarind.desktop.translation.versions_popup import VersionChoice, VersionsPopup
from tamarind.transcript.model import Cue
from tamarind.transcript.timing import set_times
from tamarind.translation.fit import Help, helps
from tamarind.translation.states import letters_over, next_open
from tamarind.translation.tracks import (
    Track,
    with_approval,
    with_comment,
    with_doubt,
    with_edit,
    with_word_moved,
)
from tamarind.translation.versions import Version, versions

MARGIN, ASKING_AFTER_MS = 40, 700
ALL_DONE = "Nothing left to do in this translation."


class Working:
    """Acts on the caret's cue of the shown track."""

    def __init__(self, session: Session, sheet: TranslationSheet, parent: QWidget) -> None:
        self._session, self._sheet, self._parent = session, sheet, parent
        self._tasks = tasks_of(parent, "other versions")
        # What comes at once needs no word.
        self._asking = QTimer(parent, singleShot=True, interval=ASKING_AFTER_MS)
        self._asking.timeout.connect(lambda: session.told.emit("Asking for other versions…"))
        self.popup: VersionsPopup | None = None
        """The versions that were offered last."""

    def go_on(self, direction: int) -> None:
        """Move the caret to the next or previous cue that has something to do."""
        text = self._sheet.text
        place = next_open(
            text.track, text.transcript.cues, self._limits(), self._place(), direction
        )
        if place is None:
            self._session.told.emit(ALL_DONE)
        else:
            self._sheet.caret.set((place, 0))

    def approve_to_here(self) -> None:
        """Approve everything up to the caret's cue; if it is approved, take the caret's back."""
        cues, place = self._sheet.text.transcript.cues, self._place()
        track = self._sheet.text.track
        new = with_approval(track, cues[: place + 1])
        if new is track and self._cue() is not None:
            new = with_approval(track, cues[place : place + 1], approved=False)
        self._edit("approve translations", new)

    def doubt(self) -> None:
        """Mark the caret's cue for later review."""
        cue = self._cue()
        if cue is not None:
            track = self._sheet.text.track
            entry = track.texts.get(cue.id)
            is_doubtful = entry is not None and entry.doubtful
            self._edit("mark for review", with_doubt(track, cue, not is_doubtful))

    def ask_comment(self) -> None:
        """Ask for a comment on the caret's cue."""
        cue, text = self._cue(), self._sheet.text
        entry = text.track.texts.get(cue.id) if cue is not None else None
        if cue is None or entry is None:
            self._session.told.emit("There is no translation here yet.")
            return
        asked = "The comment stays with the translation and is exported with it:"
        said, accepted = QInputDialog.getText(self._parent, "Comment", asked, text=entry.comment)
        if accepted:
            self.comment(said)
        self._sheet.setFocus()

    def comment(self, said: str) -> None:
        """Keep a comment on the caret's cue; "" removes it."""
        cue = self._cue()
        if cue is not None:
            changed = with_comment(self._sheet.text.track, cue, " ".join(said.split()))
            self._edit("comment", changed)

    def copy_source(self) -> None:
        """Copy the source into the caret's cue."""
        cue = self._cue()
        if cue is not None:
            self._edit("copy the source", with_edit(self._sheet.text.track, cue, cue.text))

    def move_word(self, forward: bool) -> None:
        """Move the cue's last word to the next cue, or its first to the one before."""
        cues, place = self._sheet.text.transcript.cues, self._place()
        first = place if forward else place - 1
        if not 0 <= first < len(cues) - 1:
            where = "after" if forward else "before"
            self._session.told.emit(f"There is no cue {where} this one.")
            return
        track = self._sheet.text.track
        self._edit("move a word", with_word_moved(track, cues[first], cues[first + 1], forward))

    def offer_versions(self) -> None:
        """Ask every route, and offer their versions by number."""
        text, cue = self._sheet.text, self._cue()
        recording = text.recording_id
        if cue is None or recording is None:
            return
        language, cues = text.track.language, text.transcript.cues
        translating = self._session.translating
        brief = translating.brief(recording, language)
        self._asking.start()
        is_current = self._tasks.is_current()
        self._tasks.run(
            lambda: versions(cues, cue, brief, translating.router, lambda: not is_current()),
            lambda found: self._offer(recording, language, cue, found),
            self._not_offered,
        )

    def _not_offered(self, sentence: str) -> None:
        self._asking.stop()
        self._session.trouble.emit(sentence)

    def _offer(self, recording: int, language: str, cue: Cue, found: list[Version]) -> None:
        self._asking.stop()
        text = self._sheet.text
        if text.recording_id != recording or text.track.language != language:
            return
        now = text.track.text(cue.id)
        other = [version for version in found if version.text != now]
        cues = text.transcript.cues
        place = next((n for n, one in enumerate(cues) if one.id == cue.id), None)
        ways = helps(text.track, cues, place, self._limits()) if place is not None else []
        if place is None or not (other or ways):
            self._session.told.emit("There are no other translations here.")
            return
        choices = []
        for version in other:
            over = letters_over(version.text, cue, self._limits())
            note = f"{version.how} · {over} characters too long" if over else version.how
            take = partial(self._choose, recording, language, {cue.id: version.text})
            choices.append(VersionChoice(version.text, note, take))
        choices += [
            VersionChoice("", way.label, partial(self._take, recording, language, cue, way))
            for way in ways
        ]
        self.popup = VersionsPopup(choices, self._parent)
        area = self._sheet.row_geometry.row_area(place).toRect()
        left = round(self._sheet.row_geometry.text_area(place).left()) - MARGIN
        corner = QPoint(left, area.bottom())
        self.popup.open_at(self._sheet.viewport().mapToGlobal(corner))

    def _take(self, recording: int, language: str, cue: Cue, way: Help) -> None:
        if way.end is None:
            self._choose(recording, language, way.texts)
        else:
            self._give_time(recording, cue, way.end)

    def _choose(self, recording: int, language: str, texts: Mapping[int, str]) -> None:
        if not self._session.recordings.has(recording):
            return
        document = self._session.texts.document(recording)
        track = document.track(language)
        for cue in document.transcript.cues:
            if cue.id in texts:
                track = with_edit(track, cue, texts[cue.id])
        label = "another version"
        self._session.texts.edit_document(recording, label, document.with_track(track))

    def _give_time(self, recording: int, cue: Cue, end: int) -> None:
        if not self._session.recordings.has(recording):
            return
        text = self._session.texts.transcript(recording)
        place = next((n for n, one in enumerate(text.cues) if one.id == cue.id), None)
        if place is not None:
            longer = set_times(text, place, text.cues[place].start, end)
            self._session.texts.edit(recording, "more time for a translation", longer)

    def _place(self) -> int:
        return self._sheet.caret.place[0]

    def _cue(self) -> Cue | None:
        cues, place = self._sheet.text.transcript.cues, self._place()
        return cues[place] if place < len(cues) else None

    def _limits(self) -> Limits:
        text = self._sheet.text
        return self._session.styles.limits_of(text.recording_id, text.track.language)

    def _edit(self, label: str, track: Track) -> None:
        recording = self._sheet.text.recording_id
        if recording is None or track is self._sheet.text.track:
            return
        document = self._session.texts.document(recording)
        self._session.texts.close_edit_group()
        self._session.texts.edit_document(recording, label, document.with_track(track))

"""The Translation screen: languages along the top, the sheet below."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QMenu, QStackedWidget, QVBoxLayout, QWidget

from tamarind.application.session import Session
from tamarind.application.translating import Task
from tamarind.batch.timeleft import human
from tamarind.desktop.hearing_dialog import HearingDialog
from tamarind.desktop.translation.sheet import TranslationSheet
from tamarind.desktop.widgets.parts import button, clear, label
from tamarind.speech.recognisers.catalogue import languages_of_many
from tamarind.transcript.languages import base_of, name_of
from tamarind.transcript.model import Cue, Word
from tamarind.translation.engines.apertium import HOW_TO_INSTALL
from tamarind.translation.tracks import Track, by_time, to_translate, with_some

ENGLISH = "en"
FROM_SOUND = "English, heard from the sound"
BY_EAR = "The multilingual recogniser can write in English what it hears in this language."


class TranslationScreen(QWidget):
    """Shows one track of the shown recording."""

    def __init__(self, session: Session, hearing_dialog: HearingDialog) -> None:
        super().__init__()
        self._session, self._translating = session, session.translating
        self._hearing_dialog = hearing_dialog
        self._language = ""
        self._missed = False
        self.sheet = TranslationSheet(session)
        self._languages = QHBoxLayout()
        self._languages.setSpacing(14)
        self.state = label("", "plum")
        self.go = button("Translate", self.translate)
        self._recording_name = label("", "note")
        bar = QWidget()
        bar.setObjectName("bar")
        bar.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        bar.setFixedHeight(50)
        row = QHBoxLayout(bar)
        row.setContentsMargins(24, 0, 20, 0)
        row.addLayout(self._languages)
        row.addSpacing(16)
        row.addWidget(self._recording_name)
        row.addStretch(1)
        row.addWidget(self.state)
        row.addSpacing(10)
        row.addWidget(self.go)
        self._empty_title = label("", "title")
        self.empty_note = label("", "note", wrap=True)
        self.empty_note.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.empty_note.setFixedWidth(560)
        self._start = QHBoxLayout()
        empty = QWidget()
        column = QVBoxLayout(empty)
        column.addStretch(2)
        for widget in (self._empty_title, self.empty_note):
            column.addWidget(widget, 0, Qt.AlignmentFlag.AlignCenter)
        column.addSpacing(10)
        column.addLayout(self._start)
        column.addStretch(3)
        self._pages = QStackedWidget()
        self._pages.addWidget(self.sheet)
        self._pages.addWidget(empty)
        inner = QVBoxLayout()
        inner.setContentsMargins(20, 12, 20, 0)
        inner.addWidget(self._pages)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        outer.addWidget(bar)
        outer.addLayout(inner, 1)
        session.shown_changed.connect(self.show_recording)
        session.texts.changed.connect(self._document_changed)
        session.translating.changed.connect(self._line_changed)
        self.show_recording()

    def show_recording(self) -> None:
        """Another recording is shown now; its first track, unless it has the one that was open."""
        shown = self._session.shown
        tracks = self._session.texts.document(shown).tracks if shown is not None else ()
        languages = [track.language for track in tracks]
        if self._language not in languages:
            self._language = languages[0] if languages else ""
        self.sheet.show_track(shown, self._language)
        self.refresh()

    def showEvent(self, event: object) -> None:
        """Edits made on other screens meanwhile show now."""
        if self._missed:
            self._missed = False
            self.sheet.follow_document()
            self.refresh()

    def show_language(self, language: str) -> None:
        """Open the track in a language, making it if there is none."""
        shown = self._session.shown
        if shown is None:
            return
        self._language = language
        document = self._session.texts.document(shown)
        self.sheet.show_track(shown, language)
        if all(track.language != language for track in document.tracks):
            self.translate()
        self.refresh()

    def hear_in_english(self) -> None:
        """Make the English track of what is heard in the sound, where no person has written."""
        shown = self._session.shown
        if shown is None:
            return

        def take(words: tuple[Word, ...]) -> None:
            if not self._session.recordings.has(shown):
                return
            document = self._session.texts.document(shown)
            track = next((t for t in document.tracks if t.language == ENGLISH), Track(ENGLISH))
            every = document.transcript.cues
            heard = {cue.id: text for cue, text in zip(every, by_time(every, words), strict=True)}
            # Where nothing was heard, what is there stays.
            cues = [cue for cue in to_translate(track, document.transcript) if heard[cue.id]]
            track = with_some(track, cues, heard)
            added = document.with_track(track)
            self._session.texts.edit_document(shown, "hear it in English", added)
            self._language = ENGLISH
            self.show_recording()

        self._hearing_dialog.hear(shown, "Hearing it in English…", take, into_english=True)

    def _can_hear_in_english(self, language: str) -> bool:
        return base_of(language) != ENGLISH and base_of(language) in languages_of_many()

    def translate(self) -> None:
        """Translate what is missing or stale; what is being translated is stopped."""
        shown = self._session.shown
        if shown is None or not self._language:
            return
        if self._translating.is_in_line(shown, self._language):
            self._translating.cancel(shown)
        else:
            self._translating.add([Task(shown, self._language)])

    def _line_changed(self) -> None:
        if self.isVisible():
            self.refresh()
        else:
            self._missed = True

    def _document_changed(self, recording_id: int) -> None:
        if recording_id != self._session.shown:
            return
        if self.isVisible():
            self.sheet.follow_document()
            self.refresh()
        else:
            self._missed = True

    def _targets(self, source: str) -> list[str]:
        return self._translating.router.targets(source)

    def refresh(self) -> None:
        """Show the recording as it is now."""
        recording = self._session.shown_recording()
        document = self._session.texts.document(recording.id) if recording else None
        self._recording_name.setText(recording.name if recording else "")
        clear(self._languages)
        if document is None or not document.transcript.cues:
            self._say("Nothing to translate yet", "Transcribe a recording first.", [])
            return
        source = document.transcript.language
        self._languages.addWidget(label(name_of(source), "job"))
        if document.tracks:
            self._languages.addWidget(label("→", "note"))
        tracks = [track.language for track in document.tracks]
        more = [target for target in self._targets(source) if target not in tracks]
        for language in tracks:
            tab = button(name_of(language), partial(self.show_language, language), "step")
            tab.setCheckable(True)
            tab.setChecked(language == self._language)
            self._languages.addWidget(tab)
        by_ear = self._can_hear_in_english(source)
        if tracks and (more or by_ear):
            menu = QMenu(self)
            for language in more:
                menu.addAction(name_of(language), partial(self.show_language, language))
            if by_ear:
                menu.addAction(FROM_SOUND, self.hear_in_english)
            add = button("+ another language", lambda: None, "plain")
            add.setMenu(menu)
            self._languages.addWidget(add)
        if not tracks:
            if more or by_ear:
                note = f"The offline translator on this computer reads {name_of(source)}."
                self._say("Choose a language", note if more else BY_EAR, more, by_ear)
            else:
                self._say("No translator is installed", HOW_TO_INSTALL, [])
            return
        self._pages.setCurrentIndex(0)
        self._show_state(document.track(self._language), document.transcript.cues)

    def _show_state(self, track: Track, cues: tuple[Cue, ...]) -> None:
        stale = sum(track.is_stale(cue) for cue in cues)
        missing = sum(track.is_missing(cue) for cue in cues)
        limits = self._session.styles.limits_of(self._session.shown)
        long = sum(limits.is_too_fast(track.text(cue.id), cue.start, cue.end) for cue in cues)
        said = [f"{missing} to translate"] if missing else []
        said += [f"{stale} stale"] if stale else []
        said += [f"{long} too long"] if long else []
        shown = self._session.shown
        self.go.setVisible(True)
        if shown is not None and self._translating.is_in_line(shown, track.language):
            self.state.setText(self._how_far())
            self.go.setText("Stop")
            self.go.setEnabled(True)
            return
        self.state.setText(" · ".join(said))
        machine = sum(
            track.is_missing(cue) or (track.is_stale(cue) and not track.texts[cue.id].is_settled)
            for cue in cues
        )
        self.go.setEnabled(bool(machine))
        self.go.setText(
            ("Translate 1 cue" if machine == 1 else f"Translate {machine} cues")
            if machine
            else "All translated"
        )

    def _how_far(self) -> str:
        progress = self._translating.progress()
        left = f" · {human(progress.left_s)}" if progress.left_s is not None else ""
        return f"translating: {progress.done} of {progress.whole} cues{left}"

    def _say(self, title: str, note: str, languages: list[str], by_ear: bool = False) -> None:
        self._pages.setCurrentIndex(1)
        self.state.setText("")
        self.go.setVisible(False)
        self._empty_title.setText(title)
        self.empty_note.setText(note)
        clear(self._start)
        self._start.addStretch(1)
        for language in languages:
            self._start.addWidget(button(name_of(language), partial(self.show_language, language)))
        if by_ear:
            self._start.addWidget(button(FROM_SOUND, self.hear_in_english))
        self._start.addStretch(1)

"""The Translation page: languages along the top, the sheet below."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QHBoxLayout, QMenu, QStackedWidget, QVBoxLayout, QWidget

from tamarind.application.checking import Checking
from tamarind.application.session import Session
from tamarind.application.translating import Task, TranslationProgress
from tamarind.batch.timeleft import human
from tamarind.captions.limits import Limits
from tamarind.desktop.finding.find_bar import FindBar
from tamarind.desktop.hearing_dialog import HearingDialog
from tamarind.desktop.player import Player
from tamarind.desktop.translation.empty_page import EmptyPage
from tamarind.desktop.translation.fixing import FixStrip, TrackFixing
from tamarind.desktop.translation.language_tabs import LanguageTabs
from tamarind.desktop.translation.languages import Languages
from tamarind.desktop.translation.outside import Outside
from tamarind.desktop.translation.searching import SearchedTracks
from tamarind.desktop.translation.sheet import TranslationSheet
from tamarind.desktop.translation.timeleft import TimeLeft
from tamarind.desktop.translation.trackedits import TrackEdits
from tamarind.desktop.translation.working import Working
from tamarind.desktop.widgets.lines_dialog import LinesDialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.desktop.widgets.picture import PictureView
from tamarind.transcript.languages import base_of, name_of
from tamarind.transcript.model import Transcript
from tamarind.translation.engines.server import ServerEngine
from tamarind.translation.routes import Route
from tamarind.translation.states import CueState
from tamarind.translation.termbook import TermPair, read_terms, write_terms
from tamarind.translation.tracks import Track, to_translate
from tamarind.translation.tracksurvey import TrackSurvey

if TYPE_CHECKING:
    from tamarind.picture.drawing import Drawing

SPELLING = "translation-spelling"
PICTURE_WIDTH = 290
ROUTE_TIP = "The route from one language to the other; another can be chosen"
MORE_TIP = "All recordings, glossary, export and import"
TERMS = "Glossary of this translation"
HOW = (
    "One term on each line with its translation behind “=”; one alone stays as it is. They are "
    "kept in any form, such as the plural."
)
LEAVES = "sentences go to your server"


class TranslationScreen(QWidget):
    """Shows one track of the shown recording."""

    def __init__(
        self, session: Session, player: Player, checking: Checking, hearing_dialog: HearingDialog
    ) -> None:
        super().__init__()
        self._session, self._translating = session, session.translating
        self._player, self._checking = player, checking
        self._language = ""
        self._missed = False
        self._survey = TrackSurvey()
        self._soon = QTimer(self, singleShot=True, interval=FOLLOWS_MS)
        self._soon.timeout.connect(self.refresh)
        self._played_from = 0
        self.sheet = TranslationSheet(session)
        self.working = Working(session, self.sheet, self)
        self.time_left = TimeLeft(session, self.sheet, self)
        edits = TrackEdits(session, self.sheet)
        self.find_bar = FindBar(session, SearchedTracks(self.sheet, edits))
        self.fixing = TrackFixing(session, self.sheet, edits, self.edit_terms)
        self.picture = PictureView(player.picture, self._drawing_at)
        self._tabs = LanguageTabs(self.show_language)
        self.state = label("", "plum")
        self.server_on = label("", "plum")
        self.go = button("Translate", self.translate)
        self._make_menus(session, hearing_dialog)
        bar = self._make_bar()
        self.empty = EmptyPage()
        self._pages = QStackedWidget()
        self._pages.addWidget(self.sheet)
        self._pages.addWidget(self.empty)
        self._side = QWidget()
        side = QVBoxLayout(self._side)
        side.setContentsMargins(0, 4, 0, 0)
        side.addWidget(self.picture)
        side.addStretch(1)
        self._side.setFixedWidth(PICTURE_WIDTH)
        across = QHBoxLayout()
        across.setSpacing(16)
        across.addWidget(self._pages, 1)
        across.addWidget(self._side)
        inner = QVBoxLayout()
        inner.setContentsMargins(20, 12, 20, 0)
        inner.setSpacing(7)
        inner.addLayout(across, 1)
        inner.addWidget(FixStrip(self.fixing))
        inner.addWidget(self.find_bar)
        self._lay_out(bar, inner)
        self._follow(session, player, checking)

    def _make_menus(self, session: Session, hearing_dialog: HearingDialog) -> None:
        """Make the parts that act on tracks, and the menus."""
        self.outside = Outside(session, self.sheet, self)
        self.languages = Languages(
            session,
            hearing_dialog,
            self,
            show=self.open_track,
            refresh=self.refresh,
            take_file=self.outside.read,
        )
        self.more = button("More", lambda: None, "plain", MORE_TIP)
        self.more.setMenu(self._more_menu())
        self.route = button("Route", lambda: None, "plain", ROUTE_TIP)
        self.route.setMenu(QMenu(self))

    def _make_bar(self) -> QWidget:
        """Make the bar with the tabs of languages."""
        bar = QWidget()
        bar.setObjectName("bar")
        bar.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        bar.setFixedHeight(50)
        row = QHBoxLayout(bar)
        row.setContentsMargins(24, 0, 20, 0)
        row.addWidget(self._tabs)
        row.addSpacing(16)
        row.addWidget(self.route)
        row.addWidget(self.server_on)
        row.addStretch(1)
        row.addWidget(self.state)
        row.addSpacing(10)
        row.addWidget(self.go)
        row.addSpacing(6)
        row.addWidget(self.more)
        return bar

    def _lay_out(self, bar: QWidget, inner: QVBoxLayout) -> None:
        """Place the bar above the sheet, and the picture beside it."""
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        outer.addWidget(bar)
        outer.addLayout(inner, 1)

    def _follow(self, session: Session, player: Player, checking: Checking) -> None:
        """Connect to what changes."""
        session.shown_changed.connect(self.show_recording)
        session.texts.changed.connect(self._document_changed)
        session.recordings.changed.connect(self._recording_changed)
        session.translating.changed.connect(self._queue_changed)
        session.styles.changed.connect(self._queue_changed)
        checking.changed.connect(self._checks_changed)
        player.moved.connect(self._playhead_moved)
        self.sheet.play_from.connect(player.play)
        self.show_recording()

    def play_or_stop(self) -> None:
        """Stop; or play from the caret's cue if the caret has moved since, else from the
        playhead."""
        row = self.sheet.caret.place[0]
        if self._player.is_playing:
            self._player.stop()
        elif self.has_track() and row != self._played_from:
            self.play_from_caret()
        else:
            self._player.play()

    def play_from_caret(self) -> None:
        """Play the caret's cue."""
        self._played_from = self.sheet.caret.place[0]
        self._player.play(self.sheet.caret_time())

    def has_track(self) -> bool:
        """Whether a translation is shown."""
        return bool(self._language) and self._pages.currentWidget() is self.sheet

    def show_recording(self) -> None:
        """Show another recording, in the language that was open if it has that, else its first."""
        shown = self._session.shown
        languages = self.languages.tracks()
        if self._language not in languages:
            self._language = languages[0] if languages else ""
        self.sheet.show_track(shown, self._language)
        self.picture.forget()
        self._show_picture()
        self._show_misspelled()
        self.refresh()

    def open_track(self, language: str) -> None:
        """Show the shown recording's track in a language."""
        self._language = language
        self.show_recording()

    def go_to_cue(self, cue_id: int) -> None:
        """Move the caret to a cue."""
        cues = self.sheet.text.transcript.cues
        place = next((n for n, cue in enumerate(cues) if cue.id == cue_id), None)
        if place is not None:
            self.sheet.caret.set((place, 0))
            self.sheet.setFocus()

    def showEvent(self, event: object) -> None:
        """Show edits made on other pages."""
        if self._missed:
            self._missed = False
            self.sheet.follow_document()
            self.refresh()

    def show_language(self, language: str) -> None:
        """Show the track in a language, making it if there is none."""
        shown = self._session.shown
        if shown is None:
            return
        is_new = language not in self.languages.tracks()
        self._language = language
        self.sheet.show_track(shown, language)
        self._show_misspelled()
        if is_new:
            self.translate()
        self.refresh()

    def translate(self) -> None:
        """Translate what is missing or stale; stop if it is being translated."""
        shown = self._session.shown
        if shown is None or not self._language:
            return
        if self._translating.is_queued(shown, self._language):
            self._translating.cancel(shown, self._language)
        else:
            self._translating.add([Task(shown, self._language)])

    def translate_all(self) -> None:
        """Translate every recording with a text into the shown language."""
        tasks = [
            Task(recording.id, self._language)
            for recording in self._session.recordings.all()
            if self._wants(recording.id)
        ]
        if tasks:
            self._translating.add(tasks)
            self._session.told.emit(f"{_counted(len(tasks), 'recording')} to translate.")
        else:
            self._session.told.emit(
                f"Every recording has been translated into {self._name()} already."
            )

    def _more_menu(self) -> QMenu:
        menu = QMenu(self)
        menu.addAction("Translate all recordings into this language", self.translate_all)
        along = menu.addAction("Translate new text as it is proofed")
        along.setCheckable(True)
        along.setChecked(self._translating.follows())
        along.toggled.connect(self._translating.set_follows)
        menu.addAction(f"{TERMS}…", lambda: self.edit_terms())
        styles = menu.addMenu("House style of this language")
        styles.aboutToShow.connect(lambda: self._list_styles(styles))
        menu.addSeparator()
        menu.addAction("Copy the source in numbered lines", self.outside.copy)
        menu.addAction("Paste translated lines", self.outside.paste)
        menu.addAction("Export the translation…", self.outside.ask_write)
        menu.addAction("Import a translation…", self.outside.ask_read)
        menu.addSeparator()
        menu.addAction("Remove this language", self.remove_language)
        return menu

    def edit_terms(self, new: TermPair | None = None) -> None:
        """Let the person edit the glossary of the shown language; a ``new`` pair is added, with its
        source to be filled in if it is not known."""
        terms = self._translating.terms(self._language)
        text = write_terms(terms if new is None or not new.source else terms.with_pair(new))
        if new is not None and not new.source:
            text += f" = {new.target}"
        dialog = LinesDialog(
            f"{TERMS}: {self._name()}",
            HOW,
            "peat dam = barragem de turfa\nHarrow Creek",
            text=text,
            check=read_terms,
            act="Save",
            parent=self.window(),
        )
        if dialog.exec():
            self._translating.set_terms(self._language, read_terms(dialog.text.toPlainText()))
            self._session.told.emit("Translations from now on use these terms.")

    def _list_styles(self, menu: QMenu) -> None:
        styles = self._session.styles
        now = styles.of_track(self._language)
        menu.clear()
        known = {"": "Same as the recording", **{k: s.name for k, s in styles.all().items()}}
        for key, name in known.items():
            choice = menu.addAction(name, partial(self.choose_style, key))
            choice.setCheckable(True)
            choice.setChecked(key == now)

    def choose_style(self, key: str) -> None:
        """Set the house style of the shown language; none for that of the recordings."""
        self._session.styles.choose_for_tracks(self._language, key)

    def remove_language(self) -> None:
        """Remove the shown track from the recording; undo brings it back."""
        shown = self._session.shown
        if shown is None:
            return
        document = self._session.texts.document(shown)
        others = tuple(t for t in document.tracks if t.language != self._language)
        self._translating.cancel(shown, self._language)
        label_text = f"remove {self._name()}"
        without = replace(document, tracks=others)
        self._session.texts.edit_document(shown, label_text, without)
        self.show_recording()

    def _wants(self, recording_id: int) -> bool:
        document = self._session.texts.document(recording_id)
        text, language = document.transcript, self._language
        if not text.cues or base_of(text.language) == base_of(language):
            return False
        return bool(to_translate(document.track(language), text))

    def _name(self) -> str:
        return name_of(self._language)

    def _choose_route(self, route: Route) -> None:
        self._translating.choose_route(route)
        self._session.told.emit(
            f"From now on {route.described}. Existing translations stay as they are."
        )

    def _queue_changed(self) -> None:
        if self.isVisible():
            self.refresh()
        else:
            self._missed = True

    def _document_changed(self, recording_id: int) -> None:
        if recording_id != self._session.shown:
            return
        if self.isVisible():
            self.sheet.follow_document()
            if not self._soon.isActive():
                self._soon.start()
        else:
            self._missed = True

    def _recording_changed(self, recording_id: int) -> None:
        if recording_id == self._session.shown:
            self.sheet.take_sound()
            self._show_picture()

    def _checks_changed(self, recording_id: int) -> None:
        if recording_id == self._session.shown:
            self._show_misspelled()

    def _show_misspelled(self) -> None:
        """Mark the misspelled words that the checks have found."""
        places: dict[int, list[tuple[int, int]]] = {}
        for told in self._checking.findings(self._session.shown):
            found = told.finding
            if found.rule == SPELLING and found.language == self._language:
                places.setdefault(found.cue, []).append((found.first, found.last))
        self.sheet.misspelled.places = places
        self.sheet.viewport().update()

    def _show_picture(self) -> None:
        """Show the picture where the recording has one."""
        recording = self._session.shown_recording()
        info = recording.info if recording is not None else None
        self._side.setVisible(info is not None and info.picture is not None)

    def _playhead_moved(self, position: int) -> None:
        if not self.isVisible():
            return
        self.sheet.following.set_playhead(position, self._player.is_playing)
        self.picture.set_time(position)

    def _drawing_at(self, time: int, size: tuple[int, int]) -> Drawing | None:
        """Return the translated captions at a time."""
        shown = self._session.shown
        if shown is None or not self._language:
            return None
        return self._session.preview.drawing(shown, self._language, time, size)

    def _limits(self) -> Limits:
        return self._session.styles.limits_of(self._session.shown, self._language)

    def refresh(self) -> None:
        """Show the recording as it is now."""
        recording = self._session.shown_recording()
        document = self._session.texts.document(recording.id) if recording else None
        tracks = [track.language for track in document.tracks] if document else []
        if document is not None and document.transcript.cues and tracks:
            source = document.transcript.language
            self._tabs.show_tracks(source, tracks, self._language, self.languages)
            self._pages.setCurrentWidget(self.sheet)
            self._show_route(source)
            self._show_state(document.track(self._language), document.transcript)
            return
        for part in (self.route, self.more, self.go):
            part.setVisible(False)
        self.server_on.setText("")
        self.state.setText("")
        self._pages.setCurrentWidget(self.empty)
        if document is None or not document.transcript.cues:
            self._tabs.show_source("")
            self.empty.say("Nothing to translate yet", "Transcribe a recording first.")
            return
        source = document.transcript.language
        self._tabs.show_source(source)
        self.empty.offer(source, self.languages, self.show_language)

    def _show_route(self, source: str) -> None:
        """Show the route of the shown language, with the others to choose from."""
        routes = self._translating.router.routes(source, self._language)
        menu = self.route.menu()
        menu.clear()
        self.route.setVisible(bool(routes))
        self.server_on.setText("")
        if not routes:
            return
        now = self._translating.route(source, self._language)
        leaves = any(leg.engine == ServerEngine.name for leg in now.legs)
        self.server_on.setText(LEAVES if leaves else "")
        self.route.setText(f"route: {now.short}")
        self.route.setAccessibleName(f"Route: {now.described}")
        for route in routes:
            action = menu.addAction(route.described, partial(self._choose_route, route))
            action.setCheckable(True)
            action.setChecked(route.key == now.key)

    def _show_state(self, track: Track, text: Transcript) -> None:
        shown = self._session.shown
        has_route = self.route.isVisibleTo(self)
        self.go.setVisible(has_route)
        self.more.setVisible(True)
        if shown is not None and self._translating.is_queued(shown, track.language):
            self.state.setText(_how_far(self._translating.progress()))
            self.go.setText("Stop")
            self.go.setEnabled(True)
            return
        limits = self._limits()
        survey = self._survey.follow(track, text, limits)
        counted = survey.states
        said = [f"{counted[state]} {words}" for state, words in _SAID.items() if counted[state]]
        said += [left] if said and (left := self.time_left.sentence(survey)) else []
        self.state.setText(" · ".join(said) if said else "all done")
        machine = survey.to_translate
        self.go.setEnabled(bool(machine))
        self.go.setText(f"Translate {_counted(machine, 'cue')}" if machine else "All translated")


FOLLOWS_MS = 60

_SAID = {
    CueState.MISSING: "to translate",
    CueState.STALE: "stale",
    CueState.DOUBTFUL: "marked for review",
    CueState.TOO_LONG: "too long",
    CueState.MACHINE: "to check",
}


def _counted(number: int, thing: str) -> str:
    return f"{number} {thing}" if number == 1 else f"{number} {thing}s"


def _how_far(progress: TranslationProgress) -> str:
    left = f" · {human(progress.left_s)}" if progress.left_s is not None else ""
    return f"translating: {progress.done} of {progress.whole} cues{left}"

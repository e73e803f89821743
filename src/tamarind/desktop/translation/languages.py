"""Add languages to a recording: by a translator, from the sound, from a track, from a file, by
hand; and add translators."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QInputDialog, QMenu, QWidget

from tamarind.application.session import Session
from tamarind.application.translating import Task
from tamarind.desktop.hearing_dialog import HearingDialog
from tamarind.desktop.qtloop import tasks_of
from tamarind.desktop.translation.fetch_dialog import FetchDialog
from tamarind.desktop.translation.outside import BACK
from tamarind.desktop.translation.server_dialog import ServerDialog
from tamarind.speech.recognisers.known.multilingual import languages_of_many
from tamarind.transcript.languages import USUAL, base_of, by_name, is_known, name_of
from tamarind.transcript.model import Word
from tamarind.translation.engines import shelf
from tamarind.translation.engines.catalogue import look_again
from tamarind.translation.engines.modelfolder import TranslationModel
from tamarind.translation.tracks import Track, by_time, to_translate, with_some

ENGLISH = "en"
FROM_SOUND = "English, from the sound"


class Languages:
    """Adds tracks to the shown recording. ``show`` opens the track of a language, ``refresh`` is
    called when translators have changed, ``take_file`` puts a file's texts into a track."""

    def __init__(
        self,
        session: Session,
        hearing_dialog: HearingDialog,
        parent: QWidget,
        *,
        show: Callable[[str], object],
        refresh: Callable[[], object],
        take_file: Callable[[Path], object],
    ) -> None:
        self._session, self._hearing_dialog, self._parent = session, hearing_dialog, parent
        self._show, self._refresh, self._take_file = show, refresh, take_file
        self._tasks = tasks_of(parent, "taking a model", latest_only=False)

    def tracks(self) -> list[str]:
        """Return the tracks of the shown recording."""
        shown = self._session.shown
        tracks = self._session.texts.document(shown).tracks if shown is not None else ()
        return [track.language for track in tracks]

    def targets(self, source: str) -> list[str]:
        """Return the languages that translators reach from a language."""
        return self._session.translating.router.targets(source)

    def can_be_heard_in_english(self, language: str) -> bool:
        """Whether the multilingual recogniser can transcribe a language into English."""
        return base_of(language) != ENGLISH and base_of(language) in languages_of_many()

    def menu(self, source: str, known: Sequence[str]) -> QMenu:
        """Return the menu of languages that are not ``known`` and how to get each; empty tracks for
        others; and where to get more translators."""
        menu = QMenu(self._parent)
        reached = self.targets(source)
        for language in reached:
            if language not in known:
                how = self._session.translating.route(source, language).described
                menu.addAction(f"{name_of(language)}, {how}", partial(self.translate, language))
        if self.can_be_heard_in_english(source):
            menu.addAction(FROM_SOUND, self.hear_in_english)
        for track in self.tracks():
            others = [one for one in self.targets(track) if one not in (*known, base_of(source))]
            if others:
                of_track = menu.addMenu(f"From {name_of(track)}")
                for language in others:
                    of_track.addAction(name_of(language), partial(self.translate, language, track))
        menu.addSeparator()
        menu.addAction("Add a translation model, a folder…", self._add_folder)
        menu.addAction("Add a translation model, a zip file…", self._add_zip)
        menu.addAction("Download a translation model…", partial(self.fetch, source))
        menu.addAction("A translation server of your own…", self.name_server)
        menu.addAction("From a file with captions or a table…", self._ask_file)
        by_hand = menu.addMenu("Empty, to type by hand")
        for language in by_name({*USUAL, *reached} - {base_of(source), *known}):
            by_hand.addAction(name_of(language), partial(self.add_by_hand, language))
        return menu

    def translate(self, language: str, source: str = "") -> None:
        """Make a track from the text, or from another track."""
        shown = self._session.shown
        if shown is not None:
            self._session.translating.add([Task(shown, language, source)])
            self._show(language)

    def add_by_hand(self, language: str) -> None:
        """Make an empty track."""
        shown = self._session.shown
        if shown is None:
            return
        document = self._session.texts.document(shown)
        if language not in self.tracks():
            added = document.with_track(Track(language))
            self._session.texts.edit_document(shown, f"add {name_of(language)}", added)
        self._show(language)

    def _ask_file(self) -> None:
        chosen, _ = QFileDialog.getOpenFileName(self._parent, "A translation", "", BACK)
        if chosen:
            self.from_file(Path(chosen))

    def from_file(self, path: Path) -> None:
        """Make a track from a file, in the language that its name tells or the person chooses; its
        texts are matched by number, time and words."""
        language = path.stem.rpartition(".")[2]
        if not is_known(language):
            names = {name_of(tag): tag for tag in by_name(USUAL)}
            asked = f"In which language is “{path.name}”?"
            name, accepted = QInputDialog.getItem(
                self._parent, "A translation", asked, list(names), editable=False
            )
            if not accepted:
                return
            language = names[name]
        self.add_by_hand(language)
        self._take_file(path)

    def hear_in_english(self) -> None:
        """Make the English track from the sound, except where a person has written."""
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
            added = document.with_track(with_some(track, cues, heard))
            self._session.texts.edit_document(shown, "transcribe in English", added)
            self._show(ENGLISH)

        self._hearing_dialog.hear(shown, "Transcribing into English…", take, into_english=True)

    def _add_folder(self) -> None:
        title = "A folder with a translation model"
        self.add_model(QFileDialog.getExistingDirectory(self._parent, title))

    def _add_zip(self) -> None:
        chosen, _ = QFileDialog.getOpenFileName(
            self._parent, "A translation model", "", "Zip files (*.zip);;All files (*)"
        )
        self.add_model(chosen)

    def add_model(self, chosen: str) -> None:
        """Add a model that a person has; nothing happens if none was chosen."""
        if not chosen:
            return

        def taken(model: TranslationModel) -> None:
            look_again()
            said = f"{name_of(model.source)} to {name_of(model.target)}"
            self._session.told.emit(f"{model.folder.name} translates {said} from now on.")
            self._refresh()

        self._tasks.run(lambda: shelf.add(Path(chosen)), taken, self._session.trouble.emit)

    def fetch(self, source: str) -> None:
        """Let the person download a model for a pair of languages."""
        dialog = FetchDialog(base_of(source), self._parent.window())
        dialog.exec()
        if dialog.fetched:
            look_again()
            self._refresh()

    def name_server(self) -> None:
        """Let the person set a server, or switch it on or off."""
        if ServerDialog(self._parent.window()).exec():
            look_again()
            self._refresh()

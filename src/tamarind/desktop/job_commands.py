"""The commands for a whole job: recent ones, renaming, its folder, earlier states, a second window;
and finding recordings that have moved."""

from __future__ import annotations

import sys
from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QObject, QProcess, QTimer, Signal
from PySide6.QtWidgets import (
    QFileDialog,
    QInputDialog,
    QListWidget,
    QMenu,
    QWidget,
)

from tamarind.application.session import Session
from tamarind.desktop.commands import command
from tamarind.desktop.openpath import open_path
from tamarind.desktop.recent import recent
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.job import backups, whereabouts
from tamarind.job.jobfile import PACKED_SUFFIX, SUFFIX, JobError, examine
from tamarind.job.opening import free_name, put_beside
from tamarind.job.recording import Recording, State
from tamarind.job.settings import ASKED_FOR_MOVED, EXPORT_FOLDER

BACK_UP_MS = 15 * 60_000
FILTER = f"Jobs (*{SUFFIX})"
OPENED = f"Jobs (*{SUFFIX} *{PACKED_SUFFIX})"


class JobCommands(QObject):
    """``job_asked`` is emitted with a job to open in the window, ``name_asked`` with the job's new
    path, ``recordings_asked`` when a person wants to add some."""

    job_asked = Signal(object)
    recordings_asked = Signal()
    name_asked = Signal(object)
    cue_asked = Signal(int)
    """The place of a cue of the shown text to go to."""

    def __init__(self, session: Session, window: QWidget) -> None:
        super().__init__(window)
        self._session, self._window = session, window
        self._closed = False
        self._timer = QTimer(self, interval=BACK_UP_MS)
        self._timer.timeout.connect(self.back_up)
        self._timer.start()

    @property
    def _path(self) -> Path:
        return self._session.store.path

    def close(self) -> None:
        """Stop, since the job is being closed."""
        self._closed = True
        self._timer.stop()

    @command("New job…", "File", "Ctrl+N", name="new", first=True)
    def ask_new(self) -> None:
        """Ask for a path, and make a job there."""
        name, _ = QFileDialog.getSaveFileName(
            self._window, "New job", str(self._path.parent / f"New job{SUFFIX}"), FILTER
        )
        if name:
            self.job_asked.emit(_with_suffix(name))

    @command("Open job…", "File", "Ctrl+O", name="open", first=True)
    def ask_open(self) -> None:
        """Ask for a job, and open it."""
        name, _ = QFileDialog.getOpenFileName(
            self._window, "Open a job", str(self._path.parent), OPENED
        )
        if name:
            self.job_asked.emit(Path(name))

    @command("Save a copy…", "File", "Ctrl+Shift+S")
    def save_copy(self) -> None:
        """Ask for a path, and write a copy of the job there."""
        free = free_name(self._path.parent, self._session.name, "copy")
        name, _ = QFileDialog.getSaveFileName(
            self._window, "Save a copy of the job", str(free), FILTER
        )
        if not name:
            return
        path = _with_suffix(name)
        try:
            self._session.save_copy(path)
        except JobError as error:
            self._say(str(error))
        else:
            self._say(f"A copy of the job as it is now is in “{path}”.")

    @command("Pack job…", "File", name="pack", also="zip archive send share move bundle")
    def pack(self) -> None:
        """Ask what of the job to pack into one file."""
        if self._session.saving.is_behind:
            self._say("The last changes are not saved yet: pack the job when they are.")
            return
        from tamarind.desktop.pack_dialog import PackDialog  # seldom wanted

        PackDialog(self._session, self._window).exec()

    @command("Clients…", "Tools", name="clients", also="customer order template style delivery")
    def edit_clients(self) -> None:
        """Edit what each client wants."""
        from tamarind.desktop.clients.editor import edit_clients  # seldom wanted

        session = self._session
        edit_clients(session, session.clients.key_of(session.shown), self._window)

    @command("Document details…", "File", name="details", also="title date case present header")
    def edit_details(self) -> None:
        """Ask for title, date and header fields of the shown recording's documents."""
        from tamarind.desktop.clients.details_dialog import ask_details  # seldom wanted

        if self._session.shown is not None:
            ask_details(self._session, [self._session.shown], self._window)

    @command("Deliver…", "File", "Ctrl+Shift+H", name="deliver", also="client send hand over order")
    def deliver(self) -> None:
        """Write what each client wants into a folder of its own."""
        from tamarind.desktop.clients.deliver_dialog import DeliverDialog  # seldom wanted

        folder = self._session.settings.get(EXPORT_FOLDER) or self._path.parent
        DeliverDialog(self._session, folder, self._window).exec()

    @command("Merge a returned job…", "File", name="merge_job", also="take back proofreader")
    def merge_returned(self) -> None:
        """Merge what was packed from this job and proofed elsewhere."""
        from tamarind.desktop.merge_dialog import take_back  # seldom wanted

        take_back(self._session, self._window)

    @command(
        "Copy without names…", "File", name="without_names",
        also="anonymise anonymize redact pseudonym privacy names out",
    )  # fmt: skip
    def copy_without_names(self) -> None:
        """Take names out of a copy of the job, its sound and its video."""
        if self._session.saving.is_behind:
            self._say("The last changes are not saved yet: make the copy when they are.")
            return
        from tamarind.desktop.withoutnames_dialog import WithoutNamesDialog  # seldom wanted

        WithoutNamesDialog(self._session, self._window).exec()

    @command("Put names back…", "File", name="names_back", also="key list restore")
    def put_names_back(self) -> None:
        """Put the names of a key list back into the texts of this job."""
        from tamarind.desktop.keylist_opening import ask_for_key_list  # seldom wanted

        ask_for_key_list(self._session, self._window)

    def recent_menu(self) -> QMenu:
        """Return the menu of recently opened jobs, filled when it is shown."""
        menu = QMenu("Recent jobs", self._window)
        menu.aboutToShow.connect(lambda: self._fill(menu))
        return menu

    def _fill(self, menu: QMenu) -> None:
        menu.clear()
        others = [path for path in recent() if path != self._path]
        for path in others:
            act = menu.addAction(path.stem)
            act.setToolTip(str(path))
            act.triggered.connect(lambda _=False, path=path: self.job_asked.emit(path))
        menu.setToolTipsVisible(True)
        if not others:
            menu.addAction("no other job yet").setEnabled(False)

    @command(
        "Add recordings…",
        "File",
        name="add_recordings",
        opens="intake",
        first=True,
        also="import audio video mp3 mp4 wav files upload",
    )
    def add_recordings(self) -> None:
        """Ask which recordings belong to the job."""
        self.recordings_asked.emit()

    @command("Rename job…", "File", name="rename_job")
    def rename(self) -> None:
        """Ask for another name for the job's file."""
        name, given = QInputDialog.getText(
            self._window, "Rename the job", "The job's new name", text=self._session.name
        )
        if given:
            self.rename_to(name)

    def rename_to(self, name: str) -> None:
        """Rename the job, or say why not."""
        name = name.strip().removesuffix(SUFFIX)
        if not name or name == self._session.name:
            return
        if "/" in name or len(f"{name}{SUFFIX}".encode()) > 250:
            self._say("A name cannot contain “/” or be longer than 240 characters.")
            return
        target = self._path.with_name(f"{name}{SUFFIX}")
        if target.exists():
            self._say(f"There is a job “{name}” in this folder already.")
        else:
            self.name_asked.emit(target)

    @command("Show in folder", "File", name="job_folder")
    def show_folder(self) -> None:
        """Show the job's folder in the file manager, and its path in a sentence."""
        open_path(self._path.parent)
        self._session.told.emit(f"The job is “{self._path}”.")

    @command("Open in another window…", "File", "Ctrl+Shift+O", name="other_window", first=True)
    def open_beside(self) -> None:
        """Ask for a job and show it in a window of its own."""
        name, _ = QFileDialog.getOpenFileName(
            self._window, "A job in another window", str(self._path.parent), FILTER
        )
        if name:
            QProcess.startDetached(sys.executable, ["-m", "tamarind", name])

    def back_up(self) -> None:
        """Keep a copy of the job as it is, unless there is one."""
        if not self._session.saving.is_behind:
            backups.back_up(self._path)

    @command("Versions…", "File", name="earlier", also="backup history restore recover")
    def show_earlier(self) -> None:
        """Show the automatic copies; the chosen one is opened beside the job."""
        dialog = EarlierDialog(self._path, self.job_asked.emit, self._window)
        if not dialog.exec() or dialog.compared is None:
            return
        from tamarind.desktop.compare_dialog import compare_with  # seldom wanted

        other = f"the version of {dialog.compared.made:%d %B %Y, %H:%M}"
        place = compare_with(self._session, dialog.compared.path, other, self._window)
        if place is not None:
            self.cue_asked.emit(place)

    def find_moved(self) -> None:
        """Look for recordings that are not where they were; ask once for a folder if need be."""
        if self._closed:
            return
        gone = whereabouts.missing(self._session.recordings.all())
        if not gone:
            return
        self._take(whereabouts.found_again(gone, self._path.parent))
        gone = whereabouts.missing(self._session.recordings.all())
        names = "\n".join(sorted(recording.path.name for recording in gone))
        if not gone or self._session.settings.get(ASKED_FOR_MOVED) == names:
            return
        self._session.settings.keep(ASKED_FOR_MOVED, names)
        question = MovedDialog(gone, self._window)
        question.folder_chosen.connect(self.look_in)
        question.open()

    def look_in(self, folder: Path) -> None:
        """Look for all missing recordings in a folder."""
        gone = whereabouts.missing(self._session.recordings.all())
        found = whereabouts.found_again(gone, folder)
        self._take(found)
        self._say(f"{len(found)} of {len(gone)} recordings were found there.")

    def _take(self, found: Sequence[Recording]) -> None:
        for recording in found:
            failed = recording.state is State.FAILED
            self._session.recordings.change(replace(recording, problem=None))
            if failed:
                self._session.queue.look_again(recording.id)

    def _say(self, sentence: str) -> None:
        self._session.told.emit(sentence)


class MovedDialog(Dialog):
    """Lists recordings that are not where they were, and asks where to look for them."""

    folder_chosen = Signal(object)

    def __init__(self, gone: Sequence[Recording], parent: QWidget) -> None:
        title = "Missing recordings"
        super().__init__(title, (560, 340), parent, title)
        self.body.addWidget(
            label(
                "You can work on their texts. To listen, choose the folder they are in now; it is"
                " searched with all its subfolders.",
                "note",
                wrap=True,
            )
        )
        rows = QListWidget()
        rows.setAccessibleName(title)
        rows.addItems([str(recording.path) for recording in gone])
        self.body.addWidget(rows, 1)
        choose = button("Choose the folder…", self._choose, "primary")
        choose.setDefault(True)
        self.set_acts(choose, leave="Cancel")

    def _choose(self) -> None:
        name = QFileDialog.getExistingDirectory(self, "The folder with the recordings")
        if name:
            self.accept()
            self.folder_chosen.emit(Path(name))


class EarlierDialog(Dialog):
    """Lists the earlier states of a job, by age."""

    def __init__(self, job: Path, opens: Callable[[Path], None], parent: QWidget) -> None:
        super().__init__("Versions of the job", (520, 380), parent, "Versions")
        self._job, self._opens = job, opens
        self._found = backups.backups(job)
        self.compared: backups.Backup | None = None
        """The version to compare with."""
        self.body.addWidget(
            label(
                "The last ten versions are kept automatically: whenever the job was opened, and"
                " every quarter of an hour while it is worked on. One is opened as a job of its"
                " own beside this one, which stays as it is.",
                "note",
                wrap=True,
            )
        )
        self.list = QListWidget()
        self.list.setAccessibleName("Versions, the latest first")
        for one in self._found:
            size = one.path.stat().st_size / 1000
            self.list.addItem(f"{one.made:%d %B %Y, %H:%M}   ·   {size:,.0f} kB")
        self.list.setCurrentRow(0)
        self.problem = label("", "note", wrap=True)
        if not self._found:
            self.problem.setText("There are no versions yet.")
        self.body.addWidget(self.list, 1)
        self.body.addWidget(self.problem)
        opening = button("Open in another window", self.open_chosen, "primary")
        opening.setEnabled(bool(self._found))
        opening.setDefault(True)
        comparing = button("Compare with the shown text", self.compare_chosen)
        comparing.setEnabled(bool(self._found))
        self.set_acts(opening, leave="Close", between=(comparing,))

    def compare_chosen(self) -> None:
        """Leave, to compare the chosen version with the text."""
        self.compared = self._found[self.list.currentRow()]
        self.accept()

    def open_chosen(self) -> None:
        """Copy the chosen state to a place beside the job and open it."""
        chosen = self._found[self.list.currentRow()]
        try:
            store = put_beside(examine(chosen.path, drafts=True), self._job, "earlier")
        except JobError as error:
            self.problem.setText(str(error))
            return
        path = store.path
        store.close()
        self.accept()
        self._opens(path)


def renamed(old: Path, new: Path) -> None:
    """Rename a closed job, with its copies and its place in the list of recent jobs. Raises
    OSError."""
    old.rename(new)
    backups.follow(old, new)


def _with_suffix(name: str) -> Path:
    return Path(name if name.endswith(SUFFIX) else name + SUFFIX)

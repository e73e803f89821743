"""Start the window: choose the job to open, and say why it cannot be opened."""

from __future__ import annotations

import os
import sys
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QLoggingCategory, Qt, QTimer
from PySide6.QtWidgets import QApplication, QMessageBox, QProgressDialog

from tamarind.application import personal
from tamarind.desktop import keys, placement, recent, systemsettings
from tamarind.desktop.failures import watch
from tamarind.desktop.job_commands import renamed
from tamarind.desktop.qtloop import open_session
from tamarind.desktop.room_dialog import use_setting
from tamarind.desktop.screenreaders import tell_screen_readers
from tamarind.desktop.signals import Signals
from tamarind.desktop.theme import fonts
from tamarind.desktop.theme.apply import apply
from tamarind.desktop.theme.icons import icon
from tamarind.desktop.window import MainWindow, make_window
from tamarind.formats.filenames import shortened
from tamarind.job.backups import back_up
from tamarind.job.bringing import is_media
from tamarind.job.jobfile import SUFFIX, JobError, examine, is_packed
from tamarind.job.opening import free_name, open_job, put_beside
from tamarind.job.rescue import Rescued, discard, rescued
from tamarind.system.folders import data_home
from tamarind.system.log import start_logging

CANNOT_OPEN = 3
UNSEEN_MS = 500
"""Work that takes no longer shows no progress."""
WAIT_FOR_THREAD_S = 0.0001
"""The window's thread, which gives the interpreter away dozens of times a frame, waits so long for
it to come back from one that checks texts; with the usual 5 ms a frame took a quarter second."""


def run(job: Path | None) -> int:
    """Open a job in a window until it is closed; return the exit status."""
    start_logging()
    watch()
    app = make_application()
    use_setting()
    opener = Opener()
    if job is not None and job.suffix != SUFFIX and is_media(job):
        if not opener.open_recording(job):
            return CANNOT_OPEN
    elif not opener.open(job or last_job()) and (job is not None or not opener.open(default_job())):
        return CANNOT_OPEN
    status = 0

    def ended(number: int) -> None:
        nonlocal status
        status = 128 + number
        opener.close()
        app.quit()

    Signals(ended, app)
    QTimer.singleShot(0, opener.offer_rescued)
    closed = app.exec()
    return status or closed


def make_application() -> QApplication:
    """Return the Qt application with our colours and fonts, made once."""
    app = QApplication.instance()
    if isinstance(app, QApplication):
        return app
    # The player's own chatter about codecs is not for the terminal.
    QLoggingCategory.setFilterRules("qt.multimedia.*=false\nqt.qpa.*=false")
    system = systemsettings.read()
    with systemsettings.applied(system):
        app = QApplication(sys.argv[:1])
    sys.setswitchinterval(WAIT_FOR_THREAD_S)
    app.setApplicationName("Tamarind")
    app.setDesktopFileName("tamarind")
    app.setWindowIcon(icon("pod"))
    app.setStyle("Fusion")
    tell_screen_readers()
    fonts.load_fonts()
    app.setFont(fonts.interface(14))
    keys.use(keys.read_keys())
    dark = replace(personal.DARK, default=bool(system.is_dark))
    contrast = replace(personal.HIGH_CONTRAST, default=system.high_contrast)
    apply(app, personal.read(dark), personal.read(contrast))
    app.setAttribute(Qt.ApplicationAttribute.AA_DontShowIconsInMenus)
    return app


def default_job() -> Path:
    """Return the job for a start with nothing else to open."""
    folder = data_home() / "jobs"
    folder.mkdir(parents=True, exist_ok=True)
    return folder / f"My first job{SUFFIX}"


def last_job() -> Path:
    """Return the job that was open last if it exists, else the default one."""
    try:
        path = Path((data_home() / "last-job").read_text().strip())
    except OSError:
        return default_job()
    return path if path.is_file() else default_job()


class Opener:
    """Holds the one window and replaces it when another job is opened."""

    def __init__(self) -> None:
        self.window: MainWindow | None = None

    def open(self, path: Path) -> bool:
        """Replace the open job by another; say why if that fails."""
        if self.window is not None and path.absolute() == self.window.session.store.path:
            return True
        if is_packed(path) and path.exists():
            unpacked = self._unpack(path)
            if unpacked is None:
                return False
            path = unpacked
        if path.is_file():
            back_up(path)
        try:
            opened = open_job(path)
        except JobError as error:
            self._tell(str(error))
            return False
        if self.window is not None:
            if not self.window.close():
                opened.store.close()
                return False
            self.window.deleteLater()
        self.window = make_window(open_session(opened.store))
        self.window.job_asked.connect(self.open)
        self.window.name_asked.connect(self.rename)
        placement.put(self.window)
        self.window.show()
        QTimer.singleShot(0, self.window, self.window.job.find_moved)
        self._remember(opened.store.path)
        told = (*opened.told, *self.window.session.unread())
        if told:
            from tamarind.desktop.rescued_dialog import ToldDialog  # seldom wanted

            ToldDialog.show_later("Not everything could be read", told, self.window)
        return True

    def _unpack(self, packed: Path) -> Path | None:
        """Unpack a job beside the file, or in the data folder where that is not to be written;
        return its path, or None after saying why not."""
        from tamarind.batch.elsewhere import CancelledError  # both seldom wanted
        from tamarind.job.packing import unpack

        folder = packed.absolute().parent
        if not os.access(folder, os.W_OK):
            folder = data_home() / "jobs"
            folder.mkdir(parents=True, exist_ok=True)
        progress = QProgressDialog("Unpacking the job…", "Cancel", 0, 1000, self.window)
        progress.setWindowModality(Qt.WindowModality.WindowModal)
        progress.setMinimumDuration(UNSEEN_MS)

        def told(share: float) -> None:
            progress.setValue(round(share * 1000))
            if progress.wasCanceled():
                raise CancelledError

        try:
            return unpack(packed, folder, told)
        except CancelledError:
            return None
        except JobError as error:
            self._tell(str(error))
            return None
        finally:
            progress.deleteLater()

    def rename(self, path: Path) -> None:
        """Rename the shown job, which is closed for that and opened again."""
        window = self.window
        if window is None:
            return
        old = window.session.store.path
        if not window.close():
            return
        window.deleteLater()
        self.window = None
        try:
            renamed(old, path)
            recent.follow(old, path)
        except OSError as error:
            self._tell(f"The job could not be renamed: {error.strerror}.")
            path = old
        self.open(path)

    def open_recording(self, path: Path) -> bool:
        """Open a new job with a recording in it."""
        folder = data_home() / "jobs"
        try:
            folder.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            self._tell(f"“{folder}” cannot be written: {error.strerror}.")
            return False
        job = folder / f"{shortened(path.stem, 180)}{SUFFIX}"
        opened = self.open(job if not job.exists() else free_name(folder, path.stem, "new"))
        if opened and self.window is not None:
            self.window.show_step("intake")
            self.window.intake.add([path])
        return opened

    def close(self) -> None:
        """Close the window without asking."""
        if self.window is not None:
            self.window.close_at_once()

    def offer_rescued(self) -> None:
        """Offer copies of jobs that could not be saved in their place, if there are any."""
        found = [copy for copy in rescued() if not self._is_shown(copy.path)]
        if found and self.window is not None:
            from tamarind.desktop.rescued_dialog import RescuedDialog  # seldom wanted

            dialog = RescuedDialog(found, self.window)
            dialog.open_asked.connect(self._open_rescued)
            dialog.open()

    def _open_rescued(self, copy: Rescued) -> None:
        """Move a rescued copy beside its job under a free name, and open it."""
        try:
            store = put_beside(examine(copy.path, drafts=True), copy.origin, "saved")
        except JobError as error:
            self._tell(str(error))
            return
        path = store.path
        store.close()
        discard(copy.path)
        self.open(path)

    def _is_shown(self, path: Path) -> bool:
        return self.window is not None and self.window.session.store.path == path

    def _tell(self, sentence: str) -> None:
        if self.window is None:
            print(f"tamarind: {sentence}", file=sys.stderr)
        if self.window is not None or os.environ.get("QT_QPA_PLATFORM") != "offscreen":
            QMessageBox.warning(self.window, "Tamarind", sentence)

    def _remember(self, path: Path) -> None:
        recent.remember(path)
        try:
            data_home().mkdir(parents=True, exist_ok=True)
            (data_home() / "last-job").write_text(str(path))
        except OSError:
            return

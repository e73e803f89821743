"""Files made and written beside the window, so that it never waits for them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from tamarind.formats.captionfile import FormatError
from tamarind.formats.safefile import write_whole
from tamarind.job.export import Planned, Written

Make = Callable[[], Written]


class Rendering(QObject):
    """One thread; what is asked for later makes an earlier preview needless."""

    made = Signal(object, object)
    """A preview: the planned file and what is written, or a sentence."""
    progressed = Signal(int, int)
    """So many of so many files are written."""
    finished = Signal(int, list)
    """All are done: how many were written, and what went wrong, a sentence each."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._thread = ThreadPoolExecutor(1, "export")
        self._wanted = 0
        self._stopped = False

    def preview(self, planned: Planned, make: Make) -> None:
        """Make a file to be looked at; ``made`` tells."""
        self._wanted += 1
        number = self._wanted

        def work() -> None:
            if number != self._wanted or self._stopped:
                return
            try:
                result: Written | str = make()
            except (FormatError, ValueError) as error:
                result = str(error)
            if not self._stopped:
                self.made.emit(planned, result)

        self._thread.submit(work)

    def write(self, folder: Path, files: Sequence[tuple[Planned, Make]]) -> None:
        """Write files, each whole or not at all; one that cannot be written does not stop the
        others."""

        def work() -> None:
            problems: list[str] = []
            for number, (planned, make) in enumerate(files):
                if self._stopped:
                    return
                self.progressed.emit(number, len(files))
                try:
                    write_whole(folder / planned.name, make().data)
                except OSError as error:
                    problems.append(f"{planned.name}: {error.strerror or error}.")
                except (FormatError, ValueError) as error:
                    problems.append(f"{planned.name}: {error}")
            if not self._stopped:
                self.finished.emit(len(files) - len(problems), problems)

        self._thread.submit(work)

    def close(self) -> None:
        """Finish the file that is being written and stop."""
        self._stopped = True
        self._thread.shutdown(wait=True, cancel_futures=True)

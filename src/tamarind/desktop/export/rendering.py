"""Make and write files in a thread, so that the window never waits for them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from tamarind.application.failures import sentence_of
from tamarind.desktop.qtloop import tasks_of
from tamarind.job.export import Planned, WrittenFile
from tamarind.system.files import write_whole

Make = Callable[[], WrittenFile]


class Rendering(QObject):
    """Uses one thread; a later preview replaces an earlier one."""

    made = Signal(object, object)
    """A preview: the planned file and what is written, or a sentence."""
    progressed = Signal(int, int)
    """So many of so many files are written."""
    finished = Signal(int, list)
    """All are done: how many were written, and what went wrong, a sentence each."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._previews = tasks_of(self, "previewing a document")
        self._writing = tasks_of(self, "writing documents", latest_only=False)
        self._stopped = False

    def preview(self, planned: Planned, make: Make) -> None:
        """Make a file for the preview; ``made`` is emitted."""
        self._previews.run(
            make,
            lambda result: self.made.emit(planned, result),
            lambda sentence: self.made.emit(planned, sentence),
        )

    def write(self, folder: Path, files: Sequence[tuple[Planned, Make]]) -> None:
        """Write files, each completely or not at all; a failure does not stop the others."""

        def work() -> list[str]:
            problems: list[str] = []
            for number, (planned, make) in enumerate(files):
                if self._stopped:
                    break
                self.progressed.emit(number, len(files))
                try:
                    write_whole(folder / planned.name, make().data)
                except OSError as error:
                    problems.append(f"{planned.name}: {error.strerror or error}.")
                except Exception as error:
                    problems.append(f"{planned.name}: {sentence_of(error, 'writing a document')}")
            return problems

        self._writing.run(
            work,
            lambda problems: self.finished.emit(len(files) - len(problems), problems),
            lambda sentence: self.finished.emit(0, [sentence]),
        )

    def close(self) -> None:
        """Finish the file being written and stop; previews are dropped."""
        self._stopped = True
        self._previews.close(wait=False)
        self._writing.close()

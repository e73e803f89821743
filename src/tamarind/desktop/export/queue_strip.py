"""The strip that shows the progress of files being made, with a button to cancel."""

from __future__ import annotations

from PySide6.QtWidgets import QFrame, QProgressBar, QVBoxLayout

from tamarind.application.exportqueue import ExportQueue, FileStage, QueuedFile
from tamarind.batch.timeleft import human
from tamarind.desktop.widgets.parts import ElidedLabel, button, label, set_tone


class ExportQueueStrip(QFrame):
    """Is hidden while no files are asked for."""

    def __init__(self, queue: ExportQueue) -> None:
        super().__init__()
        self._export_queue = queue
        self.title = label("FILES", "heading")
        self.name = ElidedLabel("", "")
        self.bar = QProgressBar()
        self.bar.setRange(0, 1000)
        self.bar.setTextVisible(False)
        self.bar.setFixedHeight(6)
        self.bar.setAccessibleName("Progress of the file")
        self.told = label("", "note", wrap=True)
        self.stop = button("Cancel", queue.cancel, "link")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        column.setSpacing(4)
        for widget in (self.title, self.name, self.bar, self.told, self.stop):
            column.addWidget(widget)
        queue.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the progress."""
        made = self._export_queue.made
        self.setVisible(bool(made))
        now = next((one for one in made if one.stage is FileStage.MAKING), None)
        busy = self._export_queue.is_busy
        self.bar.setVisible(now is not None)
        self.name.setVisible(now is not None)
        self.stop.setVisible(busy)
        set_tone(self.told, "plum" if not busy and _problems(made) else "")
        if now is not None:
            number = made.index(now) + 1
            self.title.setText(f"FILE {number} OF {len(made)}")
            self.name.set_whole(_named(now))
            self.bar.setValue(round(1000 * now.share))
            left = f", {human(now.left)} left" if now.left is not None else ""
            self.told.setText(f"{now.share:.0%}{left}")
        elif busy:
            self.told.setText("Starting…")
        else:
            self.title.setText("FILES")
            self.told.setText("\n".join([_made(made), *_problems(made)[:3]]))


def _named(one: QueuedFile) -> str:
    """Return the file of an order that is being made, by its progress."""
    targets = one.order.targets
    return targets[min(int(one.share * len(targets)), len(targets) - 1)].name


def _made(made: list[QueuedFile]) -> str:
    done = sum(len(one.order.targets) for one in made if one.stage is FileStage.DONE)
    gone = sum(one.stage is FileStage.CANCELLED for one in made)
    told = "1 file written." if done == 1 else f"{done} files written."
    return told + (f" {gone} cancelled." if gone else "")


def _problems(made: list[QueuedFile]) -> list[str]:
    return [f"{_named(one)}: {one.problem}" for one in made if one.stage is FileStage.FAILED]

"""The Accessibility dialog: what recordings lack for everybody to follow them, and the way to
it."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QCheckBox, QFileDialog, QHBoxLayout, QWidget

from tamarind.application.checking import Checking
from tamarind.application.session import Session
from tamarind.checks.accessible import Answer, Criterion, Looked, points, report
from tamarind.desktop.theme import colours
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.desktop.widgets.row_list import RowList
from tamarind.formats.documents import is_captions, is_for_reading
from tamarind.job.recording import Recording
from tamarind.job.settings import EXPORT_DOCUMENTS, NEEDS_NO_DESCRIPTION, SOUNDS_LOOKED
from tamarind.language.housestyle import Level
from tamarind.system.files import write_whole

MARKS = {Answer.DONE: "✓", Answer.MISSING: "to do", Answer.NEEDLESS: "–"}


class EverybodyDialog(Dialog):
    """``mend_asked`` is emitted with the name of a command for the shown recording."""

    mend_asked = Signal(str)

    def __init__(self, session: Session, checking: Checking, parent: QWidget | None) -> None:
        super().__init__("Accessibility check", (860, 560), parent, "Accessibility check")
        self._session, self._checking = session, checking
        self._there = session.recordings.all()
        self.recordings = RowList("Recordings")
        self.recordings.setFixedWidth(250)
        self.points = RowList("Criteria", ("point", "", "details"))
        self.points.setColumnWidth(0, 120)
        self.points.setColumnWidth(1, 60)
        self.needless = QCheckBox("Nothing in the picture needs a description")
        self.mend = button("Go to it", self._mend)
        self.said = label("", "note")
        row = QHBoxLayout()
        row.addWidget(self.recordings)
        row.addWidget(self.points, 1)
        below = QHBoxLayout()
        below.addWidget(self.needless)
        below.addStretch(1)
        below.addWidget(self.mend)
        self.body.addLayout(row, 1)
        self.body.addLayout(below)
        self.body.addWidget(self.said)
        self.set_acts(leave="Close", between=(button("Write the report…", self.ask_report),))
        for one in self._there:
            self.recordings.add((one.name,))
        self.recordings.currentItemChanged.connect(lambda _item: self._show())
        self.points.currentItemChanged.connect(lambda _item: self._choose())
        self.points.itemDoubleClicked.connect(lambda _item, _column: self._mend())
        self.needless.toggled.connect(self._settle)
        checking.changed.connect(self._checked)
        checking.check([one.id for one in self._there])
        shown = [n for n, one in enumerate(self._there) if one.id == session.shown]
        self.recordings.choose(shown[0] if shown else 0)
        self._count()

    def done(self, result: int) -> None:
        """Disconnect from the checks."""
        self._checking.changed.disconnect(self._checked)
        super().done(result)

    def found(self, recording: Recording) -> list[Criterion]:
        """Return the criteria of a recording with their current answers."""
        session = self._session
        document = session.texts.document(recording.id)
        musts = [one for one in self._checking.findings(recording.id)
                 if one.level is Level.MUST and one.finding.rule != "doubt"]  # fmt: skip
        kinds = session.settings.get(EXPORT_DOCUMENTS)
        context = self._checking.context(recording.id)
        looked = Looked(
            recording.duration,
            recording.info is not None and recording.info.picture is not None,
            session.settings.get(NEEDS_NO_DESCRIPTION.numbered(recording.id)),
            doubts=session.survey(recording.id).doubt_count(),
            broken=len(musts),
            contrasts=tuple(ratio for _, ratio in context.contrasts),
            sounds_looked=session.settings.get(SOUNDS_LOOKED.numbered(recording.id)),
            writes_transcript=any(map(is_for_reading, kinds)),
            writes_captions=any(map(is_captions, kinds)),
        )
        return points(document.transcript, document.descriptions, looked)

    def ask_report(self) -> None:
        """Ask for a file, and write the report of all recordings."""
        path = self._session.store.path.with_name("Accessibility check.html")
        name, _ = QFileDialog.getSaveFileName(
            self, "Write the report", str(path), "Web page (*.html)"
        )
        if name:
            self.write_report(Path(name))

    def write_report(self, path: Path) -> None:
        """Write the report; a failure is told."""
        found = [(one.name, self.found(one)) for one in self._there]
        try:
            write_whole(path, report(f"{self._session.name}: accessibility check", found).encode())
        except OSError as error:
            self.said.setText(f"“{path.name}” cannot be written: {error.strerror}.")
        else:
            self.said.setText(f"Written to “{path.name}”.")

    def _recording(self) -> Recording | None:
        row = self.recordings.row()
        return self._there[row] if row is not None else None

    def _show(self) -> None:
        recording = self._recording()
        if recording is None:
            return
        chosen = self.points.row() or 0
        self._shown = self.found(recording)
        self.points.clear()
        for point in self._shown:
            item = self.points.add((point.title, MARKS[point.answer], point.told))
            missing = point.answer is Answer.MISSING
            item.setForeground(1, QColor(colours.PLUM if missing else colours.LEAF_TEXT))
            item.setToolTip(2, point.told)
            item.setData(0, Qt.ItemDataRole.AccessibleTextRole,
                         f"{point.title}: {point.answer.value}. {point.told}")  # fmt: skip
        self.points.choose(min(chosen, len(self._shown) - 1))
        self.needless.blockSignals(True)
        key = NEEDS_NO_DESCRIPTION.numbered(recording.id)
        self.needless.setChecked(self._session.settings.get(key))
        pictured = recording.info is not None and recording.info.picture is not None
        self.needless.setEnabled(pictured)
        self.needless.blockSignals(False)
        self._choose()

    def _choose(self) -> None:
        row = self.points.row()
        self.mend.setEnabled(row is not None and bool(self._shown[row].mend))

    def _mend(self) -> None:
        recording, row = self._recording(), self.points.row()
        if recording is None or row is None or not self._shown[row].mend:
            return
        self._session.show(recording.id)
        self.accept()
        self.mend_asked.emit(self._shown[row].mend)

    def _settle(self, needless: bool) -> None:
        recording = self._recording()
        if recording is not None:
            self._session.settings.keep(NEEDS_NO_DESCRIPTION.numbered(recording.id), needless)
            self._show()
            self._count()

    def _checked(self, _recording_id: int) -> None:
        self._show()
        self._count()

    def _count(self) -> None:
        for one, item in zip(self._there, self.recordings.items(), strict=True):
            missing = sum(point.answer is Answer.MISSING for point in self.found(one))
            item.setText(
                0, f"{one.name} · {missing} to do" if missing else f"{one.name} · complete"
            )
            item.setToolTip(0, item.text(0))

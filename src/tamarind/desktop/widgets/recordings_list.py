"""The list of recordings on the left of Proof and Export: name, length, progress."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QFont, QFontMetrics, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QScrollArea, QVBoxLayout, QWidget

from tamarind.application.session import Session
from tamarind.desktop.theme import colours, fonts
from tamarind.desktop.widgets.parts import label
from tamarind.desktop.words import RecordingState, stage_of
from tamarind.formats.timecode import clock
from tamarind.job.recording import Recording

REFRESH_MS = 300


class _Entry(QAbstractButton):
    """One recording: a small card with a bar for what is proofed."""

    def __init__(self) -> None:
        super().__init__()
        self.setCheckable(True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFixedHeight(74)
        self._told: tuple[str, str, RecordingState] | None = None

    def tell(self, session: Session, recording: Recording) -> None:
        """Show a recording's current state."""
        length = clock(recording.duration, 0, hours=False) if recording.duration else "–"
        told = recording.name, length, stage_of(session, recording)
        if told != self._told:
            self._told = told
            self.setToolTip(recording.name)
            self.setAccessibleName(f"{recording.name}, {told[2].text}")
            self.update()

    def sizeHint(self) -> QSize:
        """Return a size as wide as the list."""
        return QSize(160, 74)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint name, length, bar and stage."""
        if self._told is None:
            return
        name, length, stage = self._told
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        if self.isChecked() or self.hasFocus() or self.underMouse():
            edge = colours.PULP if self.hasFocus() else colours.LINE
            painter.setPen(QPen(QColor(edge), 1))
            painter.setBrush(QColor(colours.SHEET if self.isChecked() else colours.PAPER))
            painter.drawRoundedRect(area, 8, 8)
        font = fonts.interface(15, QFont.Weight.Medium)
        painter.setFont(font)
        painter.setPen(QColor(colours.INK))
        short = QFontMetrics(font).elidedText(name, Qt.TextElideMode.ElideRight, self.width() - 24)
        painter.drawText(12, 25, short)
        small = fonts.interface(13)
        painter.setFont(small)
        painter.setPen(QColor(colours.GREY))
        painter.drawText(12, 45, length)
        painter.setPen(QColor(colours.PLUM if stage.needs_attention else colours.GREY))
        place = QRectF(60, 32, self.width() - 72, 18)
        said = QFontMetrics(small).elidedText(
            stage.text, Qt.TextElideMode.ElideRight, int(place.width())
        )
        painter.drawText(place, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, said)
        bar = QRectF(12, 57, self.width() - 24, 5)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colours.LINE))
        painter.drawRoundedRect(bar, 2.5, 2.5)
        if stage.proofed > 0:
            bar.setWidth(max(bar.width() * stage.proofed, 5))
            painter.setBrush(QColor(colours.LEAF))
            painter.drawRoundedRect(bar, 2.5, 2.5)
        painter.end()


class RecordingsList(QWidget):
    """Selecting a recording shows it on all pages."""

    chosen = Signal(int)
    menu_asked = Signal(int, QPoint)
    """A recording's menu is wanted at a point of the screen."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("side")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(206)
        self._session = session
        inside = QWidget()
        inside.setObjectName("page")
        self._entries = QVBoxLayout(inside)
        self._entries.setContentsMargins(8, 0, 8, 8)
        self._entries.setSpacing(4)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(inside)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 14, 0, 0)
        heading = label("RECORDINGS", "heading")
        heading.setContentsMargins(20, 0, 0, 6)
        column.addWidget(heading)
        column.addWidget(scroll, 1)
        self._made: dict[int, _Entry] = {}
        self._stale: set[int] = set()
        self._is_new = True
        # A batch tells of its recordings, and typing of the text, faster than anyone looks here.
        self._later = QTimer(self, singleShot=True, interval=REFRESH_MS)
        self._later.timeout.connect(self.refresh)
        self._soon = QTimer(self, singleShot=True, interval=0)
        self._soon.timeout.connect(self.refresh)
        session.recordings.list_changed.connect(self._list_changed)
        session.shown_changed.connect(self._mark_shown)
        for signal in (session.recordings.changed, session.texts.changed):
            signal.connect(self._went_stale)

    def showEvent(self, event: object) -> None:
        """Show what has changed while hidden."""
        self.refresh()

    def refresh(self) -> None:
        """Update the entries, unless the list is hidden."""
        if not self.isVisible():
            return
        recordings = self._session.recordings.all()
        if self._is_new and [recording.id for recording in recordings] != list(self._made):
            self._arrange([recording.id for recording in recordings])
        for recording in recordings:
            if self._is_new or recording.id in self._stale:
                self._made[recording.id].tell(self._session, recording)
        self._is_new = False
        self._stale.clear()
        self._mark_shown()

    def _arrange(self, keys: list[int]) -> None:
        """Make an entry for each recording, in order."""
        before, self._made = self._made, {}
        while self._entries.count():
            self._entries.takeAt(0)
        for key in keys:
            entry = before.pop(key, None)
            if entry is None:
                entry = _Entry()
                entry.clicked.connect(lambda _=False, key=key: self.chosen.emit(key))
                entry.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
                entry.customContextMenuRequested.connect(
                    lambda point, key=key, at=entry: self.menu_asked.emit(
                        key, at.mapToGlobal(point)
                    )
                )
            self._made[key] = entry
            self._entries.addWidget(entry)
        self._entries.addStretch(1)
        for gone in before.values():
            gone.hide()
            gone.deleteLater()

    def _list_changed(self) -> None:
        self._is_new = True
        self._soon.start()

    def _went_stale(self, recording_id: int) -> None:
        self._stale.add(recording_id)
        if not self._later.isActive():
            self._later.start()

    def _mark_shown(self) -> None:
        for key, entry in self._made.items():
            entry.setChecked(key == self._session.shown)

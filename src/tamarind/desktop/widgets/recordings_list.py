"""The job's recordings, down the left side of Proof and Export: name, length, how far they are."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QFont, QFontMetrics, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QScrollArea, QVBoxLayout, QWidget

from tamarind.application.session import Session
from tamarind.desktop.theme import colours, fonts
from tamarind.desktop.widgets.parts import clear, label
from tamarind.desktop.words import stage_of
from tamarind.formats.timecode import clock
from tamarind.job.recording import Recording

REFRESH_MS = 300


class _Entry(QAbstractButton):
    """One recording: a small card with a bar for what is proofed."""

    def __init__(self, session: Session, recording: Recording) -> None:
        super().__init__()
        self.setCheckable(True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFixedHeight(74)
        self._name = recording.name
        self._length = clock(recording.duration, 0, hours=False) if recording.duration else "–"
        stage = stage_of(session, recording)
        self._stage, self._plum, self._share = stage.text, stage.is_plum, stage.proofed
        self.setToolTip(recording.name)
        self.setAccessibleName(f"{recording.name}, {self._stage}")

    def sizeHint(self) -> QSize:
        """As wide as the list lets it be."""
        return QSize(160, 74)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Name, length, bar and stage."""
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
        name = QFontMetrics(font).elidedText(
            self._name, Qt.TextElideMode.ElideRight, self.width() - 24
        )
        painter.drawText(12, 25, name)
        small = fonts.interface(13)
        painter.setFont(small)
        painter.setPen(QColor(colours.GREY))
        painter.drawText(12, 45, self._length)
        painter.setPen(QColor(colours.PLUM if self._plum else colours.GREY))
        place = QRectF(60, 32, self.width() - 72, 18)
        stage = QFontMetrics(small).elidedText(
            self._stage, Qt.TextElideMode.ElideRight, int(place.width())
        )
        painter.drawText(place, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, stage)
        bar = QRectF(12, 57, self.width() - 24, 5)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colours.LINE))
        painter.drawRoundedRect(bar, 2.5, 2.5)
        if self._share > 0:
            bar.setWidth(max(bar.width() * self._share, 5))
            painter.setBrush(QColor(colours.LEAF))
            painter.drawRoundedRect(bar, 2.5, 2.5)
        painter.end()


class RecordingsList(QWidget):
    """Choosing a recording shows it everywhere."""

    chosen = Signal(int)

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
        # Typing changes the text faster than anyone looks here.
        self._later = QTimer(self, singleShot=True, interval=REFRESH_MS)
        self._later.timeout.connect(self.refresh)
        session.recordings.list_changed.connect(self.refresh)
        session.shown_changed.connect(self.refresh)
        for signal in (session.recordings.changed, session.texts.changed):
            signal.connect(lambda _id: self._later.start())

    def showEvent(self, event: object) -> None:
        """Changes while it was hidden show now."""
        self.refresh()

    def refresh(self) -> None:
        """Draw the entries anew; nothing to do while nobody sees them."""
        if not self.isVisible():
            return
        clear(self._entries)
        for recording in self._session.recordings.all():
            entry = _Entry(self._session, recording)
            entry.setChecked(recording.id == self._session.shown)
            entry.clicked.connect(lambda _=False, key=recording.id: self.chosen.emit(key))
            self._entries.addWidget(entry)
        self._entries.addStretch(1)

"""The Excerpts page: the list, the sequence as one text, the points in the sound, the details."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from tamarind.application.excerpting import Key
from tamarind.application.session import Session
from tamarind.desktop.excerpts.details import ExcerptDetails, warning_of
from tamarind.desktop.excerpts.excerpt_list import ExcerptList
from tamarind.desktop.excerpts.hearing import ExcerptHearing
from tamarind.desktop.excerpts.points import EndPoints
from tamarind.desktop.excerpts.sequence import SequenceSheet
from tamarind.desktop.excerpts.smoothing_dialog import SmoothingDialog
from tamarind.desktop.export.queue_strip import ExportQueueStrip
from tamarind.desktop.player import Player
from tamarind.desktop.widgets.hints import set_hint
from tamarind.desktop.widgets.parts import ElidedLabel, button, label
from tamarind.desktop.widgets.replacing import may_replace
from tamarind.job.excerptfiles import ExcerptsOrder, planned
from tamarind.job.excerpts import Chosen, fitting, tags_of
from tamarind.job.settings import EXPORT_FOLDER
from tamarind.language.smoothing import proposed_cuts
from tamarind.transcript.excerpts import words_of

LIST_WIDTH, NARROW_LIST_WIDTH = 300, 226
DETAILS_WIDTH, NARROW_DETAILS_WIDTH = 286, 240
NARROW = 1000
ALL, SHOWN = "all recordings", "the shown recording"


class ExcerptsScreen(QWidget):
    """Keeps the selection the same in all parts."""

    source_asked = Signal(int, int)
    """Show a recording's text at a time (ms)."""

    def __init__(self, session: Session, player: Player) -> None:
        super().__init__()
        self._session, self._player = session, player
        self.current: Key | None = None
        self.found: list[Chosen] = []
        self._is_stale = True
        self.list = ExcerptList()
        self.sequence = SequenceSheet()
        self.points = EndPoints(session)
        self.details = ExcerptDetails(session)
        self.hearing = ExcerptHearing(session, player, self)
        self.sought = QLineEdit()
        self.sought.setPlaceholderText("search")
        self.sought.setAccessibleName("Search excerpts")
        self.sought.setClearButtonEnabled(True)
        self.tag, self.scope = QComboBox(), QComboBox()
        self.tag.setAccessibleName("Tag")
        self.scope.setAccessibleName("Recordings shown")
        self.scope.addItems([ALL, SHOWN])
        self.count = label("", "title")
        self.strip = ExportQueueStrip(session.export_queue)
        self._pages = QStackedWidget()
        self._build()
        self._connect()

    def _build(self) -> None:
        side = QVBoxLayout()
        side.setContentsMargins(18, 16, 0, 12)
        side.setSpacing(8)
        side.addWidget(self.count)
        side.addWidget(self.sought)
        choices = QHBoxLayout()
        choices.setSpacing(8)
        choices.addWidget(self.tag, 2)
        choices.addWidget(self.scope, 3)
        side.addLayout(choices)
        side.addWidget(self.list, 1)
        side.addWidget(button("Play all in order", self.play_all, tip="{play_excerpts}"))
        side.addWidget(self.strip)
        self._left = QWidget()
        self._left.setLayout(side)
        middle = QVBoxLayout()
        middle.setContentsMargins(14, 16, 14, 12)
        middle.setSpacing(8)
        middle.addWidget(self.sequence, 1)
        hint = "Delete cuts or restores the selected words   ·   Enter splits   ·   Ctrl ↑ ↓ move   ·   space plays"  # noqa: E501 – one line on the screen
        middle.addWidget(ElidedLabel(hint, "note"))
        middle.addWidget(self.points)
        row = QHBoxLayout()
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._left)
        row.addLayout(middle, 1)
        row.addWidget(self.details)
        full = QWidget()
        full.setLayout(row)
        self._pages.addWidget(full)
        self._pages.addWidget(_empty())
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self._pages)

    def _connect(self) -> None:
        session = self._session
        session.excerpts.changed.connect(self._stale)
        session.shown_changed.connect(self._shown_changed)
        for signal in (self.sought.textChanged, self.tag.activated, self.scope.activated):
            signal.connect(lambda _value: self.refresh())
        self.list.chosen.connect(self.choose)
        self.list.moved.connect(self._move)
        self.list.removed.connect(lambda key: self._take_out([key]))
        self.list.played.connect(lambda key: self.hearing.hear([key]))
        self.sequence.chosen.connect(self.choose)
        self.sequence.moved.connect(self.list.move_current)
        self.sequence.taken_out.connect(self._cut)
        self.sequence.restored.connect(session.excerpts.restore)
        self.sequence.split.connect(self._split)
        self.sequence.played.connect(self.play_or_stop)
        self.points.moved.connect(self._set_points)
        self.points.released.connect(session.texts.close_edit_group)
        self.points.heard.connect(self._hear_part)
        self.details.play_asked.connect(self.play_or_stop)
        self.details.source_asked.connect(self.show_source)
        self.details.smooth_asked.connect(self.smooth)
        self.details.removal_asked.connect(self._remove_current)
        self.details.write_asked.connect(self.write)
        self.hearing.reached.connect(self.choose)

    def resizeEvent(self, event: object) -> None:
        """Leave room for the sequence where the page is narrow."""
        is_narrow = self.width() < NARROW
        self._left.setFixedWidth(NARROW_LIST_WIDTH if is_narrow else LIST_WIDTH)
        self.details.setFixedWidth(NARROW_DETAILS_WIDTH if is_narrow else DETAILS_WIDTH)

    def showEvent(self, event: object) -> None:
        """Show what has changed meanwhile."""
        if self._is_stale:
            self.refresh()

    def refresh(self) -> None:
        """Show the excerpts as they are now."""
        every = self._session.excerpts.all()
        self._pages.setCurrentIndex(0 if every else 1)
        self._is_stale = False
        self._show_tags(tags_of(every))
        tags = [self.tag.currentData()] if self.tag.currentData() else []
        found = fitting(every, self.sought.text(), tags)
        if self.scope.currentText() == SHOWN:
            found = [one for one in found if one.recording.id == self._session.shown]
        self.found = found
        keys = [one.key for one in found]
        if self.current not in keys:
            self.current = keys[0] if keys else None
        told = "1 excerpt" if len(found) == 1 else f"{len(found)} excerpts"
        seconds = sum(one.excerpt.length for one in found) // 1000
        self.count.setText(f"{told}, {seconds // 60}:{seconds % 60:02}")
        self.list.show_excerpts(
            [(one, warning_of(self._session, one)) for one in found], self.current
        )
        self.sequence.show_excerpts(found)
        self._show_current()

    def choose(self, key: Key) -> None:
        """Select an excerpt in all parts."""
        if key == self.current:
            return
        self.current = key
        self._session.show(key[0])
        self.list.choose(key)
        self._show_current()
        self.sequence.go_to(key)

    def take(self, key: Key) -> None:
        """Select an excerpt that has just been kept."""
        self.current = key
        self._stale()

    def play_or_stop(self, start: int | None = None) -> None:
        """Play the chosen excerpt, from a time (ms) or its beginning; the recording if none is
        chosen."""
        if self._player.is_playing:
            self.hearing.stop()
        elif self.current is not None:
            self.hearing.hear([self.current], start or None)
        else:
            self._player.play()

    def play_all(self) -> None:
        """Play all shown excerpts from the selected one on; given again, stop."""
        if self.hearing.is_going_on or self._player.is_playing:
            self.hearing.stop()
            return
        keys = [one.key for one in self.found]
        first = keys.index(self.current) if self.current in keys else 0
        self.hearing.hear(keys[first:])

    def smooth(self) -> None:
        """Propose cuts of fillers, false starts and pauses, to be heard and ticked."""
        one = self._current()
        if one is None:
            return
        style = self._session.styles.of(one.recording)
        text = one.document.transcript
        proposed = proposed_cuts(text, one.excerpt, style.wording.fillers)
        if not proposed:
            self._session.told.emit(
                "There is nothing to cut: no filler, false start or long pause."
            )
            return
        spans = [
            self._session.excerpts.cut_around(one.recording.id, *cut.span) if cut.words
            else cut.span
            for cut in proposed
        ]  # fmt: skip
        dialog = SmoothingDialog(one, proposed, spans, self.hearing, self.window())
        if dialog.exec() and dialog.chosen():
            self._session.excerpts.cut(one.key, dialog.chosen())

    def write(self) -> None:
        """Write sound, videos, captions, edit lists or the quotation sheet of the shown
        excerpts."""
        from tamarind.desktop.excerpts.write_dialog import WriteDialog  # slow to import

        if not self.found:
            return
        session = self._session
        folder = session.settings.get(EXPORT_FOLDER) or session.store.path.parent
        tag = self.tag.currentData() or ""
        dialog = WriteDialog(session, self.found, f"{session.name}, {tag}" if tag else session.name,
                             folder, self.window())  # fmt: skip
        if not dialog.exec():
            return
        options, folder = dialog.options(), dialog.folder
        files = planned(self.found, options)
        there = [file.name for file in files if (folder / file.name).exists()]
        if there and not may_replace(there, self.window()):
            return
        order = ExcerptsOrder(tuple(files), folder, options, session.dressings(
            {one.recording.id for one in self.found}))  # fmt: skip
        session.export_queue.add([(order, ())])

    def show_source(self) -> None:
        """Show the chosen excerpt in the text that it is from."""
        one = self._current()
        if one is not None:
            words = words_of(one.document.transcript, one.excerpt)
            start = words[0][1].start if words else one.excerpt.start
            self.source_asked.emit(one.recording.id, start)

    def _current(self) -> Chosen | None:
        return None if self.current is None else self._session.excerpts.find(self.current)

    def _show_current(self) -> None:
        one = self._current()
        self.details.show_excerpt(one)
        self.points.show_excerpt(one)
        self.sequence.mark(self.current)
        self.details.write.setEnabled(bool(self.found))

    def _show_tags(self, tags: Sequence[str]) -> None:
        now = self.tag.currentData()
        shown = [self.tag.itemData(place) for place in range(1, self.tag.count())]
        if self.tag.count() and shown == list(tags):
            return
        self.tag.clear()
        self.tag.addItem("any tag", "")
        for tag in tags:
            self.tag.addItem(tag, tag)
        self.tag.setCurrentIndex(max(self.tag.findData(now), 0))

    def _stale(self) -> None:
        self._is_stale = True
        if self.isVisible():
            self.refresh()

    def _shown_changed(self) -> None:
        if self.scope.currentText() == SHOWN:
            self._stale()

    def _move(self, key: Key, before: Key | None) -> None:
        self.current = key
        if before is None and self.found:
            # Behind the last that is shown, which need not be the last of all.
            every = [one.key for one in self._session.excerpts.all()]
            last = next(one.key for one in reversed(self.found) if one.key != key)
            behind = every[every.index(last) + 1 :]
            before = next((other for other in behind if other != key), None)
        self._session.excerpts.move(key, before)

    def _cut(self, key: Key, start: int, end: int) -> None:
        span = self._session.excerpts.cut_around(key[0], start, end)
        self._try(lambda: self._session.excerpts.cut(key, [span]),
                  "Nothing would be left of it. Remove the excerpt instead.")  # fmt: skip

    def _split(self, key: Key, time: int) -> None:
        one = self._session.excerpts.find(key)
        if one is None:
            return
        before = [word for _, word in words_of(one.document.transcript, one.excerpt)
                  if word.start < time]  # fmt: skip
        at = self._session.excerpts.cut_around(key[0], time, one.excerpt.end)[0]

        def part() -> None:
            made = self._session.excerpts.split(key, at)
            if made is not None:
                self.choose(made)

        if before:
            self._try(part, "The excerpt cannot be split there.")

    def _set_points(self, start: int, end: int) -> None:
        if self.current is not None:
            excerpts, key = self._session.excerpts, self.current
            self._try(lambda: excerpts.set_points(key, start, end, f"points {key}"), "")

    def _try(self, act: Callable[[], object], sentence: str) -> None:
        try:
            act()
        except ValueError:
            if sentence:
                self._session.told.emit(sentence)

    def _hear_part(self, start: int, end: int) -> None:
        if self.current is not None:
            self.hearing.hear_spans(self.current[0], [(start, end)])

    def _remove_current(self) -> None:
        if self.current is not None:
            self._take_out([self.current])

    def _take_out(self, keys: Sequence[Key]) -> None:
        shown = [one.key for one in self.found]
        place = shown.index(keys[0]) if keys[0] in shown else 0
        rest = [key for key in shown if key not in keys]
        self.current = rest[min(place, len(rest) - 1)] if rest else None
        self._session.excerpts.take_out(keys)


def _empty() -> QWidget:
    page = QWidget()
    column = QVBoxLayout(page)
    told = label("", "note")
    set_hint(
        told,
        "Select words in Proof and press {keep_excerpt} to keep them here with exact\n"
        "in and out points. Then order and cut them, and write sound, video, captions,\n"
        "edit lists or a quotation sheet.",
    )
    told.setAlignment(Qt.AlignmentFlag.AlignCenter)
    column.addStretch(2)
    column.addWidget(label("No excerpts yet", "title"), 0, Qt.AlignmentFlag.AlignCenter)
    column.addWidget(told, 0, Qt.AlignmentFlag.AlignCenter)
    column.addStretch(3)
    return page

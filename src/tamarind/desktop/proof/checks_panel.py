"""The panel under the sheet with all findings, to go to, fix or ignore."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QComboBox,
    QFrame,
    QHBoxLayout,
    QHeaderView,
    QTreeWidgetItem,
    QVBoxLayout,
)

from tamarind.application.checking import Checking, said
from tamarind.application.session import Session
from tamarind.checks.finding import PlacedFinding, summary
from tamarind.desktop.commands import TEXT, command
from tamarind.desktop.proof.sheet import ProofSheet
from tamarind.desktop.widgets.parts import ElidedLabel, button, label
from tamarind.desktop.widgets.row_list import RowList
from tamarind.formats.timecode import clock
from tamarind.language.housestyle import Level
from tamarind.speech.glossary import Glossary, Term
from tamarind.system.later import Later

if TYPE_CHECKING:
    from tamarind.checks import catalogue, manyfixes
    from tamarind.desktop.widgets import changes_dialog
else:
    catalogue = Later("tamarind.checks.catalogue")
    manyfixes = Later("tamarind.checks.manyfixes")
    changes_dialog = Later("tamarind.desktop.widgets.changes_dialog")

MOST_LISTED = 2_000
EVERYTHING, MUST = "everything", "errors"
CANNOT = "Nothing can be fixed there: the text has changed, or no cut keeps more of the rules."
MARKS = {Level.MUST: f"●  {Level.MUST.word}", Level.HINT: f"○  {Level.HINT.word}"}
HEIGHT = 190


class ChecksPanel(QFrame):
    """Shows the findings of the shown recording; Escape closes it and returns to the text."""

    style_asked = Signal()
    track_asked = Signal(str, int)
    """The translation of a cue is to be shown, by its language and the cue's id."""

    def __init__(self, session: Session, sheet: ProofSheet, checking: Checking) -> None:
        super().__init__()
        self.setObjectName("bar")
        self._session, self._sheet, self._checking = session, sheet, checking
        self._listed: list[PlacedFinding] = []
        self.filter = QComboBox()
        self.filter.setAccessibleName("Which checks are listed")
        self.filter.activated.connect(lambda _index: self.refresh())
        self._count = ElidedLabel("", "note")
        self._fix = button("Fix", self.fix_one, "link", "Fix this one ({fix_check})")
        self._fix_all = button("Fix all", self.fix_all, "link")
        self._leave = button("Ignore", self.dismiss, "link", "Ignore ({leave_check})")
        self._learn = button("Add to glossary", self.to_glossary, "link")
        self._again = button("", self._tell_again, "link", name="Show ignored checks again")
        self.list = RowList("Checks")
        self.list.setUniformRowHeights(True)
        self.list.setColumnCount(5)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        head = self.list.header()
        head.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        head.setStretchLastSection(True)
        for column, width in enumerate((96, 84, 178, 178)):
            self.list.setColumnWidth(column, width)
        self.list.itemActivated.connect(lambda _item: self._open())
        self.list.itemClicked.connect(lambda _item: self._go())
        self.list.currentItemChanged.connect(lambda _now, _before: self._show_acts())

        top, acts = QHBoxLayout(), QHBoxLayout()
        top.setSpacing(12)
        acts.setSpacing(16)
        top.addWidget(label("CHECKS", "heading"))
        top.addWidget(self.filter)
        top.addWidget(self._count, 1)
        top.addWidget(button("House style…", self.style_asked.emit, "link", "{house_style}"))
        top.addWidget(button("Close", self.close_panel, "link"))
        for act in (self._fix, self._fix_all, self._leave, self._learn):
            acts.addWidget(act)
        acts.addStretch(1)
        acts.addWidget(self._again)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(14, 8, 14, 8)
        whole.setSpacing(6)
        whole.addLayout(top)
        whole.addWidget(self.list, 1)
        whole.addLayout(acts)
        self.setFixedHeight(HEIGHT)
        checking.changed.connect(self._changed)
        session.shown_changed.connect(self._refill)
        self.hide()

    def open(self) -> None:
        """Show the panel; texts are checked against the sound from now on."""
        self._checking.listen()
        self.show()
        self._refill()
        self.list.setFocus()
        QTimer.singleShot(0, self, lambda: self._sheet.caret.set(self._sheet.caret.place))

    def close_panel(self) -> None:
        """Return to the text."""
        self.hide()
        self._sheet.setFocus()

    @command(
        "Go to the next check", "Checks", "Alt+J", name="next_check", arguments=(1,), opens="proof"
    )
    @command(
        "Go to the previous check",
        "Checks",
        "Alt+Shift+J",
        name="previous_check",
        arguments=(-1,),
        opens="proof",
    )
    def step(self, direction: int) -> None:
        """Move the caret to the next or previous finding, round the ends of the text."""
        told = self._listed if self.isVisible() else self._told()
        if not told:
            self._session.told.emit(self._nothing())
            return
        here = (self._sheet.cue_caret.place(), self._sheet.cue_caret.word())
        spots = [(one.place, one.finding.first) for one in told]
        if direction > 0:
            number = next((n for n, spot in enumerate(spots) if spot > here), 0)
        else:
            before = (n for n in range(len(spots) - 1, -1, -1) if spots[n] < here)
            number = next(before, len(spots) - 1)
        self.go_to(told[number])
        if self.isVisible():
            self.list.choose(number)

    def go_to(self, told: PlacedFinding) -> None:
        """Move the caret to a finding and select its words."""
        place = self._place(told)
        if place is None:
            return
        finding = told.finding
        self._sheet.cue_caret.go_to_word(place, 0 if finding.language else finding.first)
        if not finding.language and finding.last > finding.first:
            self._sheet.cue_caret.choose_words(place, finding.first, finding.last)
        if not self.isVisible():
            self._session.told.emit(f"{said(told)}: {finding.reason}")

    @command("Fix the check", "Checks", "Alt+M", name="fix_check", needs=TEXT)
    def fix_one(self) -> None:
        """Fix the finding selected in the list, or the one at the caret."""
        told = self._current()
        shown = self._session.shown
        if told is None or shown is None:
            self._session.told.emit("There is no check here.")
        elif not told.finding.fixes:
            self._session.told.emit(f"{said(told)}: this has no automatic fix.")
        elif not self._checking.fix(shown, told.finding.fixes[:1], said(told)):
            self._session.told.emit(CANNOT)

    def fix_all(self) -> None:
        """Show what fixing all findings of the same rule would change, and do it as one step if
        wanted."""
        told = self._current()
        shown = self._session.shown
        if told is None or shown is None:
            return
        rule = told.finding.rule
        fixes = [one.finding.fixes[0] for one in self._told() if _fits(one, rule)][:MOST_LISTED]
        text, limits = self._sheet.transcript, self._session.styles.limits_of(shown)
        many = manyfixes.ManyFixes(text, fixes, limits)
        changes = [
            changes_dialog.ProposedChange(
                number, *many.shown(number), clock(many.start(number), 1, hours=False)
            )
            for number in manyfixes.harmless_changes(many, text, self._checking.context(shown))
        ]
        if not changes:
            self._session.told.emit(CANNOT)
            return
        title = f"{said(told)}, all"
        dialog = changes_dialog.ChangesDialog(
            title, changes, self.window(), texts=True, about="time"
        )
        if not dialog.exec() or self._sheet.transcript is not text:
            return
        chosen = dialog.chosen()
        made = len(chosen)
        self._session.texts.edit(shown, title, many.taken(chosen))
        self._session.told.emit("1 fixed." if made == 1 else f"{made} fixed; one undo for all.")

    @command("Ignore the check", "Checks", "Alt+Shift+M", name="leave_check", needs=TEXT)
    def dismiss(self) -> None:
        """Ignore the selected finding, or the one at the caret."""
        told = self._current()
        shown = self._session.shown
        if told is not None and shown is not None:
            self._checking.dismiss(shown, told.finding)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Close on Escape."""
        if event.key() == Qt.Key.Key_Escape:
            self.close_panel()
        else:
            super().keyPressEvent(event)

    def _current(self) -> PlacedFinding | None:
        if self.isVisible() and self.list.hasFocus():
            return self._chosen()
        place, word = self._sheet.cue_caret.place(), self._sheet.cue_caret.word()
        here = [one for one in self._told() if self._place(one) == place]
        at = (one for one in here if one.finding.first <= word < one.finding.last)
        return next(at, here[0] if here else None)

    def _chosen(self) -> PlacedFinding | None:
        """Return the finding selected in the list."""
        row = self.list.row()
        return self._listed[row] if row is not None and row < len(self._listed) else None

    def _told(self) -> list[PlacedFinding]:
        return self._checking.findings(self._session.shown)

    def _place(self, told: PlacedFinding) -> int | None:
        """Return the current index of a finding's cue."""
        cues = self._sheet.transcript.cues
        if told.place < len(cues) and cues[told.place].id == told.finding.cue:
            return told.place
        return next((n for n, cue in enumerate(cues) if cue.id == told.finding.cue), None)

    def _changed(self, recording_id: int) -> None:
        if recording_id == self._session.shown and self.isVisible():
            self._refill()

    def _refill(self) -> None:
        """Fill the filter with the number of findings of each kind, then the list."""
        if not self.isVisible():
            return
        told = self._told()
        kept = self.filter.currentData()
        counts = Counter(one.finding.rule for one in told)
        musts = sum(one.level is Level.MUST for one in told)
        self.filter.clear()
        self.filter.addItem(f"{EVERYTHING} ({len(told)})", EVERYTHING)
        self.filter.addItem(f"{MUST} ({musts})", MUST)
        for rule in catalogue.CHECKS.values():
            if counts[rule.key]:
                self.filter.addItem(f"{rule.title} ({counts[rule.key]})", rule.key)
        self.filter.setCurrentIndex(max(self.filter.findData(kept), 0))
        self.refresh()

    def refresh(self) -> None:
        """List the findings that pass the filter."""
        wanted = self.filter.currentData()
        told = self._told()
        self._listed = [
            one
            for one in told
            if wanted in (EVERYTHING, one.finding.rule)
            or (wanted == MUST and one.level is Level.MUST)
        ][:MOST_LISTED]
        row = self.list.row() or 0
        self.list.clear()
        self.list.addTopLevelItems([_row(one) for one in self._listed])
        if self._listed:
            self.list.choose(min(row, len(self._listed) - 1))
        name = self._style_name()
        self._count.set_whole(f"{summary(told)} · {name}" if told else self._nothing())
        count = self._checking.dismissed_count()
        self._again.setText(f"Show {count} ignored" if count > 1 else "Show 1 ignored")
        self._again.setVisible(count > 0)
        self._show_acts()

    def _nothing(self) -> str:
        shown = self._session.shown
        if shown is not None and not self._checking.is_known(shown):
            return "Checking…"
        return f"Nothing breaks the house style “{self._style_name()}”."

    def _style_name(self) -> str:
        recording = self._session.shown_recording()
        return self._session.styles.of(recording).name if recording is not None else ""

    def _show_acts(self) -> None:
        told = self._chosen()
        fixes = told.finding.fixes if told is not None else ()
        rule = told.finding.rule if told is not None else ""
        like = sum(_fits(one, rule) for one in self._told()) if fixes else 0
        self._fix.setEnabled(bool(fixes))
        self._fix.setText(f"Fix: {fixes[0].words}" if fixes else "Fix")
        self._fix_all.setEnabled(like > 1)
        self._fix_all.setText(f"Fix all {like} like it" if like > 1 else "Fix all")
        self._leave.setEnabled(told is not None)
        self._learn.setVisible(rule in ("spelling", "translation-spelling"))

    def _go(self) -> None:
        told = self._chosen()
        if told is not None:
            self.go_to(told)
            self.list.setFocus()

    def _open(self) -> None:
        """Return the text of the selected finding; on the page of translations it is the
        track's."""
        self._go()
        told = self._chosen()
        if told is not None and told.finding.language:
            self.track_asked.emit(told.finding.language, told.finding.cue)

    def to_glossary(self) -> None:
        """Add the word to the glossary, so that it is right everywhere."""
        told = self._chosen()
        if told is None:
            return
        text = told.finding.excerpt.strip(".,;:!?\"'“”‘’()[]…")
        terms = self._session.glossary().terms
        if text and all(term.text != text for term in terms):
            self._session.set_glossary(Glossary((*terms, Term(text))))
            self._session.told.emit(f"“{text}” is in the glossary.")

    def _tell_again(self) -> None:
        self._checking.restore_dismissed()


def _fits(told: PlacedFinding, rule: str) -> bool:
    """Whether fixing all findings of a rule would fix this one."""
    return told.finding.rule == rule and manyfixes.is_certain(told.finding)


def _row(told: PlacedFinding) -> QTreeWidgetItem:
    finding = told.finding
    time = clock(finding.start, 1, hours=False)
    texts = [MARKS[told.level], time, said(told), finding.excerpt, finding.reason]
    row = QTreeWidgetItem(texts)
    for column, text in enumerate(texts):
        row.setToolTip(column, text)
    return row

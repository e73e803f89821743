"""The choices of Export: recordings, documents, languages, file names, encoding."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFrame,
    QGridLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from tamarind.application.session import Session
from tamarind.desktop.export.templates import TemplateChoice
from tamarind.desktop.widgets.more import More
from tamarind.desktop.widgets.parts import ElidedLabel, button, clear, label, set_tone
from tamarind.formats.broadcast.smpte import CALLED, PLAIN_TIMECODES, Timecodes
from tamarind.formats.documents import WRITTEN, is_captions, is_for_reading, offer
from tamarind.formats.encoding import ENCODINGS, Bytes
from tamarind.formats.filenames import FIELDS, USUAL_PATTERN
from tamarind.formats.format import Details, DocumentKind, FormatOption
from tamarind.formats.lookstyles import unsaid
from tamarind.job.export import ExportOptions
from tamarind.job.recording import Recording
from tamarind.job.settings import (
    EXPORT_ALL,
    EXPORT_CLIENT,
    EXPORT_DESCRIBED,
    EXPORT_DOCUMENTS,
    EXPORT_ENCODING,
    EXPORT_LOOK,
    EXPORT_NAMES,
    EXPORT_NUMBERED,
    EXPORT_RATE,
    EXPORT_RECORDINGS,
    EXPORT_TIMECODE,
)
from tamarind.transcript.languages import name_of

MOST_ROWS = 6
WAYS: dict[str, tuple[int | None, bool]] = {
    "pop-on captions": (None, False),
    "roll up, 2 lines": (2, False),
    "roll up, 3 lines": (3, False),
    "roll up, 4 lines": (4, False),
    "paint-on captions": (None, True),
}
"""How many lines roll up, and whether captions are painted."""

FRAME_RATES = {"frame rate: the format’s": "", **{f"frame rate: {name}": name for name in CALLED}}
LINE_ENDS = {"line ends: LF": False, "line ends: CR LF": True}
MARKS = {"no byte-order mark": False, "byte-order mark": True}


class ExportPanel(QWidget):
    """Keeps every choice with the job."""

    changed = Signal()
    folder_asked = Signal()
    style_asked = Signal()
    videos_asked = Signal()
    pages_asked = Signal()
    everybody_asked = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setObjectName("side")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.all = QCheckBox("All recordings of the job")
        self.all.setChecked(session.settings.get(EXPORT_ALL))
        self.recordings = QListWidget()
        self.recordings.setAccessibleName("Recordings to write")
        self.recordings.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        if self.all.isChecked():
            self.recordings.hide()
        ticked = session.settings.get(EXPORT_RECORDINGS)
        self._chosen = set(ticked)
        self.kinds = {suffix: QCheckBox(one.label) for suffix, one in WRITTEN.items()}
        for suffix, box in self.kinds.items():
            box.setToolTip(f".{suffix}")
        self.source = QCheckBox("Source language")
        self.source.setChecked(True)
        self.languages: dict[str, QCheckBox] = {}
        self._listed: list[tuple[int, str]] = []
        self._language_boxes = QVBoxLayout()
        self._language_boxes.setSpacing(6)
        self._make_options(session)
        self.below = _choice("Second language in captions", {"one language": None})
        self.pattern = QLineEdit()
        self.pattern.setAccessibleName("Pattern of file names")
        fields = " ".join(f"{{{name}}}" for name in FIELDS)
        self.pattern.setToolTip(f"Fields in file names: {fields}")
        self.client = QLineEdit()
        self.client.setAccessibleName("Client")
        self.client.setPlaceholderText("client name for {client}")
        self.encoding = _choice("Encoding", {text: name for name, text in ENCODINGS.items()})
        self.line_ends = _choice("Line ends", LINE_ENDS)
        self.mark = _choice("Byte-order mark", MARKS)
        self.where = ElidedLabel("", "note")
        self._is_showing = False
        self._show_kept()
        self._build()
        self._follow()

    def _make_options(self, session: Session) -> None:
        """Make the fields that say how documents are written."""
        self.side_by_side = QCheckBox("Languages side by side")
        self.word_times = QCheckBox("Word times")
        self.voices = QCheckBox("Speakers")
        self.voices.setChecked(True)
        self.kept = QCheckBox("Styles and notes")
        self.kept.setChecked(True)
        self.way = _choice("Kind of captions", WAYS)
        self.look = QCheckBox("Caption style, if the format has styles")
        self.look_said = label("", "note", wrap=True)
        self.numbered = QCheckBox("Line numbers, wide margins")
        self.described = QCheckBox("With descriptions of the picture")
        self.described.setChecked(session.settings.get(EXPORT_DESCRIBED))
        self.template = TemplateChoice(session)
        self.timecode = QLineEdit(session.settings.get(EXPORT_TIMECODE))
        self.timecode.setAccessibleName("Timecode of the start")
        self.frames = _choice("Frames a second of timecodes", FRAME_RATES)
        self.frames.setCurrentIndex(max(self.frames.findData(session.settings.get(EXPORT_RATE)), 0))
        self.timecode_said = label("", "note", wrap=True)
        set_tone(self.timecode_said, "plum")

    def _follow(self) -> None:
        """Connect the fields, so that every change is told."""
        self.all.toggled.connect(self._all_or_some)
        self.template.changed.connect(self._told)
        for box in (
            self.all, self.source, self.voices, self.word_times, self.kept, self.side_by_side,
            self.look, self.numbered, self.described,
        ):  # fmt: skip
            box.toggled.connect(self._told)
        for box in self.kinds.values():
            box.toggled.connect(self._told)
        self.recordings.itemChanged.connect(self._ticked)
        for choice in (
            self.way, self.below, self.encoding, self.line_ends, self.mark, self.frames,
        ):  # fmt: skip
            choice.activated.connect(lambda _index: self._told())
        for line in (self.pattern, self.client, self.timecode):
            line.textChanged.connect(self._told)

        self._session.clients.changed.connect(self._follow_client)

    def _show_kept(self) -> None:
        """Show the choices that are kept with the job, which a client may have set."""
        get = self._session.settings.get
        kept: tuple[str, ...] = get(EXPORT_DOCUMENTS)
        for suffix, box in self.kinds.items():
            box.setChecked(suffix in kept)
        self.pattern.setText(get(EXPORT_NAMES))
        self.client.setText(get(EXPORT_CLIENT))
        self.look.setChecked(get(EXPORT_LOOK))
        self.numbered.setChecked(get(EXPORT_NUMBERED))
        self.encoding.setCurrentIndex(max(self.encoding.findData(get(EXPORT_ENCODING)), 0))

    def _follow_client(self) -> None:
        """Show what the client of all recordings wants."""
        key = self._session.clients.key_of(None)
        if key:
            # Each field would be kept before the next is shown.
            self._is_showing = True
            self._show_kept()
            self._is_showing = False
            self.template.show_chosen(self._session.clients.all()[key].templates)
            self._told()

    def export_options(self) -> ExportOptions:
        """Return the current choices."""
        languages: list[str | None] = [None] if self.source.isChecked() else []
        languages += [key for key, box in self.languages.items() if box.isChecked()]
        rows, painted = self.way.currentData()
        sources = {one.language for one in self._session.recordings.all()}
        return ExportOptions(
            tuple(suffix for suffix, box in self.kinds.items() if box.isChecked()),
            tuple(languages),
            self.below.currentData(),
            side_by_side=self.side_by_side.isChecked(),
            rows=rows,
            details=Details(
                self.voices.isChecked(), self.word_times.isChecked(), self.kept.isChecked()
            ),
            bytes=Bytes(
                self.encoding.currentData(), self.mark.currentData(), self.line_ends.currentData()
            ),
            pattern=self.pattern.text().strip() or USUAL_PATTERN,
            client=self.client.text().strip(),
            date=date.today().isoformat(),
            language_names={tag: name_of(tag) for tag in (*sources, *self.languages)},
            timecodes=self.timecodes() or PLAIN_TIMECODES,
            painted=painted,
            look=self.look.isChecked(),
            numbered=self.numbered.isChecked(),
            templates=tuple(self.template.chosen.values()),
            described=self.described.isChecked(),
            about={
                one.id: self._session.clients.about(one.id)
                for one in self._session.recordings.all()
            },
        )

    def timecodes(self) -> Timecodes | None:
        """Return the timecodes in the fields, or None if they are none."""
        try:
            return Timecodes.called(self.timecode.text(), self.frames.currentData())
        except ValueError:
            return None

    def is_wanted(self, recording_id: int) -> bool:
        """Whether a recording is to be written."""
        return self.all.isChecked() or recording_id in self._chosen

    def tick(self, recording_id: int, wanted: bool) -> None:
        """Choose whether to write a recording."""
        for row in map(self.recordings.item, range(self.recordings.count())):
            if row.data(Qt.ItemDataRole.UserRole) == recording_id:
                row.setCheckState(_state(wanted))

    def show_recordings(self, there: Sequence[Recording]) -> None:
        """List the recordings of the job."""
        rows = [(recording.id, recording.name) for recording in there]
        if rows != self._listed:
            self._fill(rows)

    def _fill(self, rows: list[tuple[int, str]]) -> None:
        self._listed = rows
        self.recordings.blockSignals(True)
        self.recordings.clear()
        for key, name in rows:
            row = QListWidgetItem(name, self.recordings)
            row.setData(Qt.ItemDataRole.UserRole, key)
            row.setToolTip(name)
            row.setCheckState(_state(key in self._chosen))
        self.recordings.blockSignals(False)
        self._fit_list()

    def show_languages(self, there: Sequence[str]) -> None:
        """List the languages in which any recording has a translation."""
        if list(there) == list(self.languages):
            return
        clear(self._language_boxes)
        checked = {key for key, box in self.languages.items() if box.isChecked()}
        below = self.below.currentData()
        self.languages = {}
        self.below.clear()
        self.below.addItem("one language", None)
        for language in there:
            box = QCheckBox(f"{name_of(language)}   .{language}")
            box.setChecked(language in checked)
            box.toggled.connect(self._told)
            self._language_boxes.addWidget(box)
            self.languages[language] = box
            self.below.addItem(f"{name_of(language)} below", language)
        self.below.setCurrentIndex(max(self.below.findData(below), 0))

    def _all_or_some(self, all_of_them: bool) -> None:
        """Switch between all recordings and some, beginning with the one that is shown."""
        keys = {key for key, _ in self._listed}
        shown = self._session.shown
        if not all_of_them and not self._chosen & keys and shown is not None:
            self._chosen = {shown}
            self._fill(self._listed)
        self._fit_list()

    def _fit_list(self) -> None:
        """Show the list of recordings only where some are chosen from it."""
        self.recordings.setVisible(not self.all.isChecked())
        row = max(self.recordings.sizeHintForRow(0), 24)
        self.recordings.setFixedHeight(row * min(max(len(self._listed), 1), MOST_ROWS) + 12)

    def _ticked(self, row: QListWidgetItem) -> None:
        change = (
            self._chosen.add if row.checkState() is Qt.CheckState.Checked else self._chosen.discard
        )
        change(row.data(Qt.ItemDataRole.UserRole))
        self._told()

    def _told(self, *_: object) -> None:
        if self._is_showing:
            return
        keep = self._session.settings.keep
        export_options = self.export_options()
        keep(EXPORT_DOCUMENTS, export_options.suffixes)
        keep(EXPORT_ALL, self.all.isChecked())
        keep(EXPORT_RECORDINGS, frozenset(self._chosen))
        keep(EXPORT_NAMES, export_options.pattern)
        keep(EXPORT_CLIENT, export_options.client)
        keep(EXPORT_ENCODING, export_options.bytes.encoding)
        keep(EXPORT_LOOK, export_options.look)
        keep(EXPORT_NUMBERED, export_options.numbered)
        keep(EXPORT_DESCRIBED, export_options.described)
        if self.timecodes() is not None:
            keep(EXPORT_TIMECODE, export_options.timecodes.start)
            keep(EXPORT_RATE, self.frames.currentData())
        self._show_what_counts(export_options)
        self.changed.emit()

    def _show_what_counts(self, export_options: ExportOptions) -> None:
        captions = any(map(is_captions, export_options.suffixes))
        self.way.setEnabled(captions)
        self.look.setEnabled(offer(export_options.suffixes, FormatOption.LOOK))
        left = unsaid(self._session.looks.of(self._session.shown))
        told = self.look.isEnabled() and self.look.isChecked() and bool(left)
        self.look_said.setVisible(told)
        self.look_said.setText(f"Only videos show {', '.join(left)}." if told else "")
        counted = offer(export_options.suffixes, FormatOption.TIMECODES)
        self.timecode.setEnabled(counted)
        self.frames.setEnabled(counted)
        wrong = counted and self.timecodes() is None
        self.timecode_said.setVisible(wrong)
        self.timecode_said.setText(
            "This is not a timecode. Write it like 10:00:00:00." if wrong else ""
        )
        self.below.setEnabled(captions and self.below.count() > 1)
        for box in (self.voices, self.word_times, self.kept):
            box.setEnabled(offer(export_options.suffixes, FormatOption.DETAILS))
        self.numbered.setEnabled(offer(export_options.suffixes, FormatOption.LINES))
        self.template.setEnabled(offer(export_options.suffixes, FormatOption.TEMPLATE))
        self.described.setEnabled(
            any(map(is_for_reading, export_options.suffixes))
            and any(self._session.describing.of(one.id) for one in self._session.recordings.all())
        )
        self._tell_folds()
        beside = offer(export_options.suffixes, FormatOption.SIDE_BY_SIDE)
        self.side_by_side.setEnabled(beside and bool(self.languages))

    def _build(self) -> None:
        inside = QWidget()
        inside.setObjectName("page")
        column = QVBoxLayout(inside)
        column.setContentsMargins(20, 18, 14, 8)
        column.setSpacing(9)
        column.addWidget(label("WHAT TO WRITE", "heading"))
        column.addWidget(self.all)
        column.addWidget(self.recordings)
        self._folds = self._make_folds()
        for fold in self._folds.values():
            column.addWidget(fold)
        column.addWidget(button("House style…", self.style_asked.emit, "link", "{house_style}"))
        column.addSpacing(4)
        column.addWidget(label("LANGUAGES", "heading"))
        column.addWidget(self.source)
        column.addLayout(self._language_boxes)
        column.addSpacing(4)
        column.addWidget(label("FOLDER", "heading"))
        column.addWidget(self.where)
        column.addWidget(button("Choose folder…", self.folder_asked.emit, "link"))
        column.addWidget(self._more)
        column.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidget(inside)
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(scroll, 1)
        self.foot = QVBoxLayout()
        self.foot.setContentsMargins(20, 6, 20, 14)
        self.foot.setSpacing(6)
        whole.addLayout(self.foot)
        self.setFixedWidth(318)
        self._show_what_counts(self.export_options())

    def _make_folds(self) -> dict[DocumentKind | None, More]:
        """Make a fold for each purpose of documents, with its formats and their options."""
        web = (
            button("Videos with captions…", self.videos_asked.emit, "", "{videos}"),
            button("Pages to publish…", self.pages_asked.emit, "", "{pages}"),
            button("Accessibility check…", self.everybody_asked.emit, "", "{everybody}"),
        )
        inside: dict[DocumentKind | None, tuple[str, Sequence[QWidget]]] = {
            DocumentKind.READING: (
                "Transcript",
                (self.side_by_side, self.numbered, self.described, self.template),
            ),
            DocumentKind.CAPTIONS: (
                "Captions",
                (self.below, self.look, self.look_said, self.voices, self.word_times, self.kept),
            ),
            DocumentKind.BROADCAST: (
                "For broadcast",
                (self.way, self.timecode, self.timecode_said, self.frames),
            ),
            None: ("For the web", web),
            DocumentKind.DATA: ("Data", ()),
        }
        self.described.setToolTip(
            "Descriptive transcript: what is said, heard and seen, in one text"
        )
        self.numbered.setToolTip("In word-processor documents, as for court hearings")
        self.voices.setToolTip("Speakers in WebVTT")
        self.kept.setToolTip("Style and region blocks, notes, italics and other spans in WebVTT")
        self.word_times.setToolTip("A time before each word in WebVTT")
        self.side_by_side.setToolTip("In word-processor documents and web pages")
        self.timecode.setToolTip("Timecode of the first frame in broadcast files")
        files = (self.pattern, self.client, self.encoding, self.line_ends, self.mark)
        self._more = More("export", _stacked((), files))
        return {
            kind: More(f"export {title}", _stacked(self._of(kind), more), title)
            for kind, (title, more) in inside.items()
        }

    def _of(self, kind: DocumentKind | None) -> list[QCheckBox]:
        """Return the boxes of the formats of a kind."""
        return [box for suffix, box in self.kinds.items() if WRITTEN[suffix].kind is kind]

    def _tell_folds(self) -> None:
        """Show in each fold's title what is chosen in it."""
        for kind, fold in self._folds.items():
            fold.tell([box.text() for box in self._of(kind) if box.isChecked()])
        usual = self.encoding.currentIndex() or self.line_ends.currentIndex()
        told = [
            *(["names"] if self.pattern.text() != USUAL_PATTERN else []),
            *([self.client.text()] if self.client.text() else []),
            *(["encoding"] if usual or self.mark.currentIndex() else []),
        ]
        self._more.tell(told)


def _stacked(formats: Sequence[QWidget], others: Sequence[QWidget]) -> QWidget:
    """Place boxes of formats in two columns, and other widgets below them."""
    widget = QWidget()
    widget.setObjectName("page")
    grid = QGridLayout(widget)
    grid.setContentsMargins(14, 0, 0, 4)
    grid.setHorizontalSpacing(8)
    grid.setVerticalSpacing(6)
    for place, box in enumerate(formats):
        grid.addWidget(box, place // 2, place % 2)
    for row, other in enumerate(others, -(-len(formats) // 2)):
        grid.addWidget(other, row, 0, 1, 2)
    return widget


def _state(on: bool) -> Qt.CheckState:
    return Qt.CheckState.Checked if on else Qt.CheckState.Unchecked


def _choice(name: str, options: Mapping[str, object]) -> QComboBox:
    box = QComboBox()
    box.setAccessibleName(name)
    for text, value in options.items():
        box.addItem(text, value)
    return box

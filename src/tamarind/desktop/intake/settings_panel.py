"""The transcription settings of the selected recordings, and the button that starts the batch."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Set
from dataclasses import replace

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from tamarind.application.session import Session
from tamarind.application.transcriptionqueue import cannot_hear, from_start
from tamarind.batch.timeleft import human
from tamarind.desktop.intake.batch_bar import BatchBar
from tamarind.desktop.intake.glossary_dialog import ask_for_glossary
from tamarind.desktop.intake.hearing_fields import (
    ALSO,
    AND_ALSO,
    FIELDS,
    FIRST,
    LANGUAGES,
    SIDES,
    SPEECH,
    HearingField,
)
from tamarind.desktop.intake.models_dialog import ModelsDialog
from tamarind.desktop.intake.speech_dialog import can_be_typed
from tamarind.desktop.widgets.language_box import LanguageBox
from tamarind.desktop.widgets.more import More
from tamarind.desktop.widgets.parts import ElidedLabel, button, label, set_tone
from tamarind.formats.timecode import clock, parse_time
from tamarind.job.recording import Recording, State
from tamarind.job.settings import Usual
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.recognisers.catalogue import languages_here, shipped
from tamarind.speech.recognisers.shelf import folders_here, models_home, own_shelf
from tamarind.transcript.languages import UNDETERMINED

EDIT_CLIENTS = "*edit"
"""In place of a client's key: the editor is to be opened."""

_CHECKS = {
    True: Qt.CheckState.Checked,
    False: Qt.CheckState.Unchecked,
    None: Qt.CheckState.PartiallyChecked,
}


class SettingsPanel(QWidget):
    """Shows the settings of the selected recordings, and changes them at once.

    While none is chosen they are those with which new recordings begin.
    """

    transcribe_asked = Signal()
    type_asked = Signal()
    listen_clean_asked = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("side")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(326)
        self._session = session
        self._chosen: list[int] = []
        self._whose = ElidedLabel("", "note")
        self._fields = {one: self._field(one) for one in FIELDS}
        self._third = label(AND_ALSO.title)
        self.recogniser = _choice("Recogniser", {}, self._recogniser_changed)
        self._fill_recognisers()
        self._track = _choice("Sound track", {"first track": 0}, self._track_changed)
        self.clean = QCheckBox("Reduce noise")
        self.clean.setAccessibleName("Noise reduction")
        self.clean.clicked.connect(self._clean_changed)
        self._listen = button(
            "Listen", self.listen_clean_asked.emit, "link", "Listen with noise reduction"
        )
        self.client = _choice("Client", {}, self._client_changed)
        self.house_style = _choice("House style", {}, self._style_changed)
        self.glossary = button("", self._edit_glossary)
        self.glossary.setToolTip("Names and terms to listen for in this job")
        self.start, self.end = QLineEdit(), QLineEdit()
        for box, name in ((self.start, "Section from"), (self.end, "Section to")):
            box.setMinimumWidth(60)
            box.setAccessibleName(name)
            box.editingFinished.connect(self.take_part)
        self.start.setPlaceholderText("start")
        self.end.setPlaceholderText("end")
        self.part_note = label("", "note", wrap=True)
        self.make_default = button(
            "Use as default for new recordings", self._make_them_default, "link"
        )
        self.go = button("Transcribe", self.transcribe_asked.emit, "primary")
        self.go_note = label("", "note", wrap=True)
        self.go_note.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self._type = button("Type without recognition…", self.type_asked.emit, "link")
        self.more = self._make_more()
        self.batch = BatchBar(session)

        self._lay_out()

    def _lay_out(self) -> None:
        head = QVBoxLayout()
        head.setContentsMargins(0, 0, 6, 0)
        head.setSpacing(2)
        head.addWidget(label("TRANSCRIPTION SETTINGS", "heading"))
        head.addWidget(self._whose)
        first = _rows(
            (
                ("Client", self.client),
                *((one.title, self._fields[one]) for one in FIRST),
                ("Glossary", self.glossary),
                ("House style", self.house_style),
            )
        )
        settings = QWidget()
        settings.setObjectName("page")
        inside = QVBoxLayout(settings)
        inside.setContentsMargins(0, 0, 10, 0)
        inside.setSpacing(14)
        inside.addWidget(first)
        inside.addWidget(self.more)
        inside.addWidget(self.make_default)
        inside.addStretch(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 20, 14, 14)
        column.setSpacing(14)
        column.addLayout(head)
        # In a low window the settings are scrolled; the button and the batch stay.
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(settings)
        column.addWidget(scroll, 1)
        foot = QVBoxLayout()
        foot.setContentsMargins(0, 0, 6, 0)
        foot.setSpacing(14)
        foot.addWidget(self.batch)
        foot.addWidget(self.go)
        foot.addWidget(self.go_note)
        foot.addWidget(self._type, 0, Qt.AlignmentFlag.AlignHCenter)
        column.addLayout(foot)

    def _make_more(self) -> More:
        """Make the fields behind "More"."""
        section = QHBoxLayout()
        section.setSpacing(6)
        section.addWidget(self.start)
        section.addWidget(label("to", "note"))
        section.addWidget(self.end)
        clean = QHBoxLayout()
        clean.addWidget(self.clean)
        clean.addStretch(1)
        clean.addWidget(self._listen)
        inside = _rows(
            (
                *((one.title, self._fields[one]) for one in (ALSO, AND_ALSO)),
                ("Recogniser", self.recogniser),
                ("Section", section),
                ("", self.part_note),
                *((one.title, self._fields[one]) for one in (SPEECH, SIDES)),
                ("", self._track),
                ("Noise", clean),
            ),
            self._third,
        )
        return More("transcription settings", inside)

    def _tell_more(self, hows: Set[HearingOptions], recordings: list[Recording]) -> None:
        """Show what differs from the default behind "More"."""
        usual, told = HearingOptions(), []
        for how in hows:
            fields = [one for one in FIELDS if one not in FIRST]
            told += [one.told(one.get(how)) for one in fields if one.get(how) != one.get(usual)]
            if how.recogniser != usual.recogniser:
                told.append(self.recogniser.currentText() or "another recogniser")
            if how.source.clean:
                told.append("noise reduction")
        if any(recording.part != (0, None) for recording in recordings):
            told.append("a section")
        self.more.tell(list(dict.fromkeys(told)))

    def show_choice(self, chosen: list[int]) -> None:
        """Show the settings of these recordings."""
        self._chosen = chosen
        recordings = self._recordings()
        usual = self._session.usual()
        self._whose.set_whole(
            "for new recordings"
            if not recordings
            else recordings[0].name
            if len(recordings) == 1
            else f"for {len(recordings)} selected"
        )
        ways = {(recording.how, recording.style) for recording in recordings} or {usual}
        hows = {how for how, _ in ways}
        self._fill_styles()
        self._show_client()
        # Only a stereo recording has sides to choose from.
        stereo = any(r.info is not None and r.info.channels == 2 for r in recordings)
        for field, box in self._fields.items():
            _show(box, {field.get(how) for how in hows})
            box.setEnabled(not field.stereo_only or stereo or not recordings)
        self._show_languages(hows)
        _show(self.recogniser, {how.recogniser for how in hows})
        _show(self.house_style, {style for _, style in ways})
        self._show_tracks(recordings)
        clean = {how.source.clean for how in hows}
        self.clean.setCheckState(_CHECKS[clean.pop() if len(clean) == 1 else None])
        self._listen.setVisible(len(recordings) == 1 and recordings[0].duration > 0)
        count = len(self._session.glossary().terms)
        self.glossary.setText(
            "Names and terms…" if not count else "1 term…" if count == 1 else f"{count} terms…"
        )
        self.make_default.setVisible(len(ways) == 1 and bool(recordings) and ways != {usual})
        self._type.setVisible(
            len(recordings) == 1 and can_be_typed(self._session, recordings[0].id)
        )
        self._show_part(recordings)
        self._tell_more(hows, recordings)

    def _show_languages(self, hows: Set[HearingOptions]) -> None:
        """Show the field for a third language only once there is a second."""
        is_known = all(how.language != UNDETERMINED for how in hows)
        self._fields[ALSO].setEnabled(is_known)
        for part in (self._third, self._fields[AND_ALSO]):
            part.setVisible(is_known and any(how.others for how in hows))

    def _say_of_part(self, problem: str) -> None:
        """Show what is wrong with the section that was typed, if anything."""
        self.part_note.setText(problem)
        self.part_note.setVisible(bool(problem))

    def _show_part(self, recordings: list[Recording]) -> None:
        for box in (self.start, self.end):
            box.setEnabled(bool(recordings))
        parts = {recording.part for recording in recordings}
        start, end = parts.pop() if len(parts) == 1 else (0, None)
        if not self.start.hasFocus() and not self.end.hasFocus():
            self.start.setText(_short(start) if start else "")
            self.end.setText(_short(end) if end is not None else "")
            self._say_of_part("")

    def show_work(self, ready: list[Recording]) -> None:
        """Show what the button would start, how long that takes, and what no recogniser here can
        do."""
        problem = next(filter(None, (cannot_hear(r) for r in ready)), None)
        ready = [r for r in ready if cannot_hear(r) is None]
        count = len(ready)
        self.go.setEnabled(count > 0)
        noun = "recording" if count == 1 else "recordings"
        busy = self.batch.refresh()
        if count:
            self.go.setText(f"Transcribe {count} {noun}")
            seconds = self._session.queue.seconds_for(ready)
            self.go_note.setText(f"{human(seconds)}; nothing leaves this computer")
        else:
            self.go.setText("All in the queue" if busy else "Nothing to transcribe")
            self.go_note.setText("Nothing leaves this computer")
        if problem is not None:
            self.go_note.setText(problem)
        set_tone(self.go_note, "plum" if problem is not None else "")

    def _show_tracks(self, recordings: list[Recording]) -> None:
        """Show the choice of sound track only for recordings with several."""
        tracks = max((r.info.sound_tracks for r in recordings if r.info), default=1)
        self._track.blockSignals(True)
        self._track.clear()
        for number in range(tracks):
            self._track.addItem(f"sound track {number + 1}", number)
        self._track.blockSignals(False)
        _show(self._track, {recording.how.source.track for recording in recordings})
        self._track.setVisible(tracks > 1)

    def _change(self, change: Callable[[HearingOptions], HearingOptions]) -> None:
        """Change the settings of the selected recordings that can still be transcribed."""
        recordings = self._recordings()
        if not recordings:
            how, style = self._session.usual()
            self._session.set_usual(Usual(change(how), style))
        for recording in recordings:
            how = change(recording.how)
            if how != recording.how and self._may_change(recording):
                self._session.recordings.change(replace(recording, how=how))

    def _may_change(self, recording: Recording) -> bool:
        """Whether a recording is neither being transcribed nor done."""
        return recording.state in (State.ARRIVED, State.FAILED) or (
            self._session.queue.can_hear(recording)
        )

    def _style_changed(self) -> None:
        style = self.house_style.currentData()
        recordings = self._recordings()
        if not recordings:
            self._session.set_usual(self._session.usual()._replace(style=style))
        self._session.styles.choose([recording.id for recording in recordings], style)

    def _client_changed(self) -> None:
        """Give the recordings another client, or open the editor of clients."""
        key = self.client.currentData()
        if key == EDIT_CLIENTS:
            from tamarind.desktop.clients.editor import edit_clients  # seldom wanted

            now = self._session.clients.key_of(self._chosen[0] if self._chosen else None)
            key = edit_clients(self._session, now, self.window())
        if key is not None:
            self._session.clients.choose([one.id for one in self._recordings()], key)
        self.show_choice(self._chosen)

    def _show_client(self) -> None:
        clients = self._session.clients
        self.client.clear()
        self.client.addItem("none", "")
        for key, client in clients.all().items():
            self.client.addItem(client.name, key)
        self.client.addItem("Edit clients…", EDIT_CLIENTS)
        _show(self.client, set(map(clients.key_of, self._chosen)) or {clients.key_of(None)})

    def _fill_styles(self) -> None:
        self.house_style.clear()
        for key, style in self._session.styles.all().items():
            self.house_style.addItem(style.name, key)

    def _make_them_default(self) -> None:
        recording = self._recordings()[0]
        self._session.set_usual(Usual(recording.how, recording.style))

    def box(self, field: HearingField) -> QComboBox:
        """Return the list of a field's options."""
        return self._fields[field]

    def _field(self, field: HearingField) -> QComboBox:
        def changed() -> None:
            value = box.currentData()
            self._change(lambda how: field.put(how, value))

        box: QComboBox
        if field in LANGUAGES:
            box = LanguageBox(tuple(field.options.items()))
            _prepare(box, field.name, changed)
        else:
            box = _choice(field.name, field.options, changed)
        return box

    def _recogniser_changed(self) -> None:
        recogniser = self.recogniser.currentData()
        if recogniser is None:
            ModelsDialog(own_shelf(), models_home(), self.window()).exec()
            self._fill_recognisers()
            self.show_choice(self._chosen)
        else:
            self._change(lambda how: replace(how, recogniser=recogniser))

    def _fill_recognisers(self) -> None:
        for one in LANGUAGES:
            box = self._fields[one]
            assert isinstance(box, LanguageBox)
            box.offer(languages_here(folders_here()))
        self.recogniser.clear()
        for known in shipped():
            self.recogniser.addItem(known.label, known.name)
        for folder in folders_here():
            self.recogniser.addItem(folder.name, str(folder))
        self.recogniser.addItem("Other models…", None)

    def _track_changed(self) -> None:
        track = self._track.currentData()
        self._change(lambda how: replace(how, source=replace(how.source, track=track)))

    def _clean_changed(self, clean: bool) -> None:
        self._change(lambda how: replace(how, source=replace(how.source, clean=clean)))

    def _edit_glossary(self) -> None:
        recordings = self._session.recordings.all()
        language = self._session.usual().how.expected
        stems = [recording.name for recording in recordings]
        stems += [tag for recording in recordings if recording.info for tag in recording.info.tags]
        styles = self._session.styles.all()
        counts = Counter(recording.style for recording in recordings)
        key = max(counts, key=lambda one: counts[one], default=self._session.usual().style)
        client = key, styles[key].name if key in styles else key
        glossary = ask_for_glossary(self._session.glossary(), language, stems, client, self)
        if glossary is not None:
            self._session.set_glossary(glossary)
            self.show_choice(self._chosen)

    def _recordings(self) -> list[Recording]:
        there = {recording.id: recording for recording in self._session.recordings.all()}
        return [there[key] for key in self._chosen if key in there]

    def take_part(self) -> None:
        """Use only the section that is typed."""
        try:
            start = parse_time(self.start.text()) if self.start.text().strip() else 0
            end = parse_time(self.end.text()) if self.end.text().strip() else None
        except ValueError as error:
            self._say_of_part(str(error))
            return
        if end is not None and end <= start:
            self._say_of_part("The section would end before it starts.")
            return
        for recording in self._recordings():
            if start >= recording.duration:
                self._say_of_part(f"“{recording.name}” is shorter than that.")
                return
            self.choose_part(recording.id, start, end)
        self._say_of_part("")

    def choose_part(self, recording_id: int, start: int, end: int | None) -> None:
        """Use only this section of a recording."""
        recording = self._session.recordings.get(recording_id)
        if recording.part != (start, end) and self._session.queue.can_hear(recording):
            self._session.recordings.change(from_start(replace(recording, part=(start, end))))


def _rows(
    rows: Iterable[tuple[str, QWidget | QHBoxLayout]], third: QLabel | None = None
) -> QWidget:
    """Make a grid of titles and fields; ``third`` is the title of the third language, which is not
    always shown."""
    widget = QWidget()
    widget.setObjectName("page")
    grid = QGridLayout(widget)
    grid.setContentsMargins(0, 0, 0, 0)
    grid.setColumnStretch(1, 1)
    grid.setColumnMinimumWidth(0, 84)
    grid.setHorizontalSpacing(14)
    grid.setVerticalSpacing(9)
    for row, (name, what) in enumerate(rows):
        if third is not None and name == AND_ALSO.title:
            grid.addWidget(third, row, 0)
        elif name:
            grid.addWidget(label(name), row, 0)
        if isinstance(what, QWidget):
            grid.addWidget(what, row, 1)
        else:
            grid.addLayout(what, row, 1)
    return widget


def _choice(name: str, options: Mapping[str, object], changed: Callable[[], None]) -> QComboBox:
    box = QComboBox()
    _prepare(box, name, changed)
    for text, value in options.items():
        box.addItem(text, value)
    return box


def _prepare(box: QComboBox, name: str, changed: Callable[[], None]) -> None:
    box.setAccessibleName(name)
    box.setPlaceholderText("differs")
    # Long words in the list do not make the panel wider than it is.
    box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    box.setMinimumContentsLength(8)
    box.activated.connect(changed)


def _show(box: QComboBox, values: Set[object]) -> None:
    """Select the value that all have, or "differs"."""
    if isinstance(box, LanguageBox):
        box.show_language(next(iter(values)) if len(values) == 1 else None)  # type: ignore[arg-type]
        return
    index = -1
    if len(values) == 1:
        wanted = next(iter(values))
        index = next((i for i in range(box.count()) if box.itemData(i) == wanted), -1)
    box.setCurrentIndex(index)


def _short(time: int) -> str:
    """Return a time as one would type it, without an empty fraction."""
    return clock(time, 1 if time % 1000 else 0, hours=False)

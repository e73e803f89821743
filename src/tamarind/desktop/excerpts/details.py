"""The details of the chosen excerpt, and what can be done with it."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QLineEdit, QPlainTextEdit, QScrollArea, QVBoxLayout, QWidget

from tamarind.application.excerpting import Key
from tamarind.application.session import Session
from tamarind.desktop.widgets.parts import button, label, set_tone
from tamarind.formats.timecode import clock
from tamarind.job.excerpts import Chosen
from tamarind.transcript.excerpts import tags_in, words_of


class ExcerptDetails(QWidget):
    """Name, tags and note, kept as they are typed."""

    play_asked = Signal()
    source_asked = Signal()
    smooth_asked = Signal()
    removal_asked = Signal()
    write_asked = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("side")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session = session
        self._key: Key | None = None
        self._fills = False
        self.name, self.tags = QLineEdit(), QLineEdit()
        self.note = QPlainTextEdit()
        self.note.setTabChangesFocus(True)
        self.note.setObjectName("prose")
        self.note.setFixedHeight(84)
        self.name.setPlaceholderText("first words")
        self.tags.setPlaceholderText("separated by commas")
        self.facts = label("", "note", wrap=True)
        self.warning = label("", "note", wrap=True)
        set_tone(self.warning, "plum")
        self.accept = button("Confirm the quote", self._accept, "link")
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(16, 16, 16, 6)
        column.setSpacing(6)
        for text, field in (("NAME", self.name), ("TAGS", self.tags), ("NOTE", self.note)):
            heading = label(text, "heading")
            heading.setBuddy(field)
            field.setAccessibleName(text.capitalize())
            column.addWidget(heading)
            column.addWidget(field)
            column.addSpacing(4)
        column.addWidget(self.facts)
        column.addWidget(self.warning)
        column.addWidget(self.accept, 0, Qt.AlignmentFlag.AlignLeft)
        column.addSpacing(6)
        self.acts = [
            button("Play", self.play_asked.emit, tip="The excerpt as it will sound"),
            button("Show in the text", self.source_asked.emit),
            button("Propose cuts…", self.smooth_asked.emit, tip="Fillers, false starts and pauses"),
            button("Remove", self.removal_asked.emit),
        ]
        for act in self.acts:
            column.addWidget(act)
        column.addStretch(1)
        self.write = button("Write…", self.write_asked.emit, "primary")
        self._lay_out(inside)
        self.name.textEdited.connect(lambda text: self._keep(name=text))
        self.tags.textEdited.connect(lambda text: self._keep(tags=tags_in(text)))
        self.note.textChanged.connect(self._note_changed)
        for field in (self.name, self.tags):
            field.setMaxLength(1_000)
            field.editingFinished.connect(session.texts.close_edit_group)

    def _lay_out(self, inside: QWidget) -> None:
        """Place the fields so that they can be scrolled, above the button."""
        inside.setObjectName("page")
        scrolled = QScrollArea()
        scrolled.setWidgetResizable(True)
        scrolled.setWidget(inside)
        scrolled.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        foot = QVBoxLayout()
        foot.setContentsMargins(16, 6, 16, 14)
        foot.addWidget(self.write)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(scrolled, 1)
        whole.addLayout(foot)

    def show_excerpt(self, one: Chosen | None) -> None:
        """Show an excerpt; a field being typed in stays."""
        self._fills = True
        other = one is None or one.key != self._key
        self._key = None if one is None else one.key
        for widget in (self.name, self.tags, self.note, *self.acts):
            widget.setEnabled(one is not None)
        if one is None:
            for field in (self.name, self.tags):
                field.clear()
            self.note.clear()
            self.facts.setText("")
            self.warning.hide()
            self.accept.hide()
        else:
            excerpt = one.excerpt
            for line, text in ((self.name, excerpt.name), (self.tags, ", ".join(excerpt.tags))):
                if other or not line.hasFocus():
                    line.setText(text)
            if self.note.toPlainText() != excerpt.note:
                self.note.setPlainText(excerpt.note)
            self.facts.setText(self._facts(one))
            warning = warning_of(self._session, one)
            self.warning.setText(warning)
            self.warning.setVisible(bool(warning))
            self.accept.setVisible(bool(warning) and bool(one.quote))
        self._fills = False

    def _facts(self, one: Chosen) -> str:
        excerpt = one.excerpt
        count = len(words_of(one.document.transcript, excerpt))
        words = "1 word" if count == 1 else f"{count} words"
        times = f"{clock(excerpt.start, 1, hours=False)} – {clock(excerpt.end, 1, hours=False)}"
        told = f"{words}, {excerpt.length / 1000:.1f} s\n{times}"
        if excerpt.cuts:
            cuts = "1 cut" if len(excerpt.cuts) == 1 else f"{len(excerpt.cuts)} cuts"
            told += f", with {cuts}"
        across = [
            other.id
            for other in one.document.excerpts
            if other.id != excerpt.id and other.start < excerpt.end and other.end > excerpt.start
        ]
        if across:
            noun = "another excerpt" if len(across) == 1 else f"{len(across)} other excerpts"
            told += f"\nOverlaps {noun}"
        return told

    def _keep(self, name: str | None = None, tags: tuple[str, ...] | None = None) -> None:
        if self._key is not None and not self._fills:
            self._session.excerpts.describe(self._key, name=name, tags=tags)

    def _note_changed(self) -> None:
        if self._key is not None and not self._fills:
            self._session.excerpts.describe(self._key, note=self.note.toPlainText()[:100_000])

    def _accept(self) -> None:
        if self._key is not None:
            self._session.excerpts.accept(self._key)


def warning_of(session: Session, one: Chosen) -> str:
    """Return what is wrong with an excerpt's words, if anything."""
    if not one.quote:
        return "Its words have been deleted from the text."
    if session.excerpts.is_changed(one.key):
        return f"The text has changed since. It was “{one.excerpt.quote}”."
    return ""

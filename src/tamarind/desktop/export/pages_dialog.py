"""The dialog that asks which recordings become web pages, and where."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QCheckBox, QFileDialog, QHBoxLayout, QWidget

from tamarind.application.session import Session
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import ElidedLabel, button, label
from tamarind.desktop.widgets.row_list import RowList
from tamarind.formats.filenames import lawful
from tamarind.job.pages import PageOrder
from tamarind.job.recording import Recording
from tamarind.job.settings import EXPORT_CLIENT
from tamarind.transcript.languages import name_of
from tamarind.translation.tracks import as_transcript


class PagesDialog(Dialog):
    """Makes a folder for each page, or one file where there is only sound."""

    def __init__(self, session: Session, folder: Path, parent: QWidget | None) -> None:
        super().__init__("Pages to publish", (620, 460), parent, "Pages to publish")
        self._session = session
        self.folder = folder
        self._there = [
            one
            for one in session.recordings.all()
            if any(cue.words for cue in session.texts.transcript(one.id).cues)
        ]
        self.rows = RowList("Recordings")
        for one in self._there:
            tracks = session.texts.document(one.id).tracks
            kinds = ["picture" if _is_pictured(one) else "sound"]
            kinds += [name_of(track.language) for track in tracks]
            self.rows.add((f"{one.name} · {', '.join(kinds)}",), one.id == session.shown)
        self.rows.itemChanged.connect(self._follow)
        self.single = QCheckBox("Include the sound: a single file")
        self.single.toggled.connect(lambda _on: self._follow())
        self.facts = label("", "note", wrap=True)
        self.where = ElidedLabel(str(folder), "note")
        place = QHBoxLayout()
        place.addWidget(self.where, 1)
        place.addWidget(button("Change folder…", self._choose_folder))
        told = (
            "The recording with captions, chapters and a transcript that follows the sound, in all"
            " its languages. A page needs no server and no network, and works by keyboard and with"
            " screen readers."
        )
        self.body.addWidget(label(told, "note", wrap=True))
        self.body.addWidget(self.rows, 1)
        self.body.addWidget(self.single)
        self.body.addLayout(place)
        self.body.addWidget(self.facts)
        self.go = button("", self.accept, "primary")
        self.set_acts(self.go)
        self._follow()

    def orders(self) -> list[PageOrder]:
        """Return an order for each ticked recording."""
        session = self._session
        found = []
        for one in self._ticked():
            document = session.texts.document(one.id)
            source = document.transcript
            texts = [source, *(as_transcript(track, source) for track in document.tracks)]
            single = self.single.isChecked() and not _is_pictured(one)
            folder = self.folder if single else self.folder / lawful(one.name)
            client = session.settings.get(EXPORT_CLIENT)
            found.append(
                PageOrder(
                    one.path,
                    folder,
                    one.name,
                    texts=texts,
                    style=session.styles.of(one),
                    single=single,
                    client=client,
                    descriptions=document.descriptions,
                )
            )
        return found

    def _ticked(self) -> list[Recording]:
        return [self._there[row] for row in self.rows.ticked()]

    def _follow(self) -> None:
        ticked = self._ticked()
        self.go.setText("Make 1 page" if len(ticked) == 1 else f"Make {len(ticked)} pages")
        self.go.setEnabled(bool(ticked))
        pictured = sum(map(_is_pictured, ticked))
        told = ""
        if self.single.isChecked() and pictured:
            noun = "1 has a picture and becomes" if pictured == 1 else f"{pictured} become"
            told = f"{noun} a folder."
        self.facts.setText(told)

    def _choose_folder(self) -> None:
        chosen = QFileDialog.getExistingDirectory(self, "Write to", str(self.folder))
        if chosen:
            self.folder = Path(chosen)
            self.where.set_whole(chosen)


def _is_pictured(one: Recording) -> bool:
    return one.info is not None and one.info.picture is not None

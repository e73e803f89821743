"""The dialog that asks which videos to make: with captions drawn on them, or as tracks."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from pathlib import Path

import av
from PySide6.QtCore import QSize, QTimer
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from tamarind.application.session import Session
from tamarind.desktop.looks.sample import Sample
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import ElidedLabel, button, label, set_tone
from tamarind.desktop.widgets.row_list import RowList
from tamarind.formats.timecode import parse_time
from tamarind.job.recording import Recording
from tamarind.job.videos import SOUND_SIZES, VideoOptions, estimated_size, order_for
from tamarind.picture.faces import missing
from tamarind.picture.order import VideoOrder
from tamarind.picture.shapes import Filling, Shape, ShapeKind
from tamarind.picture.soundvideo import Backdrop, Scene
from tamarind.picture.video import Quality
from tamarind.system.fetching import amount
from tamarind.transcript.languages import name_of

WAYS = {"burned into the picture": False, "tracks that viewers can switch on": True}
SHAPES = {
    "as it is": ShapeKind.AS_IS, "square": ShapeKind.SQUARE,
    "portrait, for phones": ShapeKind.UPRIGHT,
    "wide": ShapeKind.WIDE,
}  # fmt: skip
FILLINGS = {
    "fill with the picture, blurred": Filling.BLURRED, "fill with black": Filling.COLOUR,
    "crop": Filling.CUT, "fill with another picture…": Filling.PICTURE,
}  # fmt: skip
QUALITIES = {"small": Quality.SMALL, "good": Quality.GOOD, "best": Quality.BEST}
SUFFIXES = {"MP4": ".mp4", "Matroska": ".mkv", "WebM": ".webm"}
BACKDROPS = {"moving waveform": Backdrop.WAVE, "a plain colour": Backdrop.COLOUR,
             "a picture…": Backdrop.PICTURE}  # fmt: skip
PICTURES = "Pictures (*.png *.jpg *.jpeg *.webp *.bmp)"
FOLLOWS_MS = 60
MOST_LETTERS = 12


class VideosDialog(Dialog):
    """Shows the choices on the right with the person's own text."""

    def __init__(
        self,
        session: Session,
        frame: av.VideoFrame | None,
        look_asked: Callable[[], object],
        folder: Path,
        parent: QWidget | None,
    ) -> None:
        super().__init__("Videos with captions", (1000, 640), parent, "Videos with captions")
        self._session, self._frame, self._look_asked = session, frame, look_asked
        self.folder = folder
        self._there = [
            one
            for one in session.recordings.all()
            if any(cue.words for cue in session.texts.transcript(one.id).cues)
        ]
        self.rows = RowList("Recordings")
        for one in self._there:
            kind = "picture" if one.info is not None and one.info.picture else "sound"
            self.rows.add((f"{one.name} · {kind}",), one.id == session.shown)
        self.rows.itemChanged.connect(self._follow)
        self.way = _choice("Captions", WAYS)
        self.shape = _choice("Shape", SHAPES)
        self.filling = _choice("Fill beside the picture", FILLINGS)
        self.quality = _choice("Quality", QUALITIES)
        self.quality.setCurrentIndex(1)
        self.suffix = _choice("Kind of file", SUFFIXES)
        self.backdrop = _choice("Background for sound-only recordings", BACKDROPS)
        languages = {
            t.language for one in self._there for t in session.texts.document(one.id).tracks
        }
        self.second = _choice(
            "Second language",
            {"one language": "", **{f"and {name_of(one)}": one for one in sorted(languages)}},
        )
        self.second.setCurrentIndex(max(self.second.findData(session.looks.second_language), 0))
        self.second.activated.connect(
            lambda _index: session.looks.set_second_language(self.second.currentData())
        )
        self.start, self.end = QLineEdit(), QLineEdit()
        for field, name in ((self.start, "from"), (self.end, "to")):
            field.setPlaceholderText(name)
            field.setAccessibleName(f"Section, {name}")
            field.textChanged.connect(self._follow)
        self.titled = QCheckBox("Title: the recording's name")
        self.titled.setChecked(True)
        self.beside = QCheckBox("Also write SRT and WebVTT")
        self._picture: Path | None = None
        self._beside: Path | None = None
        self._follow_choices(folder)

    def _follow_choices(self, folder: Path) -> None:
        """Refresh the sample a moment after a change."""
        self.look = ElidedLabel("", "job")
        self.facts = label("", "note", wrap=True)
        self.where = ElidedLabel(str(folder), "note")
        self._later = QTimer(self, singleShot=True, interval=FOLLOWS_MS)
        self._later.timeout.connect(self._show)
        for box in (self.way, self.shape, self.filling, self.quality, self.suffix, self.second):
            box.activated.connect(lambda _index: self._follow())
        self.backdrop.activated.connect(lambda _index: self._backdrop_chosen())
        self.filling.activated.connect(lambda _index: self._filling_chosen())
        self._sample_room = QVBoxLayout()
        self.sample: Sample | None = None
        self.go = button("", self.accept, "primary")
        self._build()
        self.set_acts(self.go)
        self._show()

    def options(self) -> VideoOptions:
        """Return the choices. Raises ValueError for a section that is none."""
        start = parse_time(self.start.text()) if self.start.text().strip() else 0
        end = parse_time(self.end.text()) if self.end.text().strip() else None
        if end is not None and end <= start:
            raise ValueError("The section ends before it begins.")
        kind = ShapeKind(self.shape.currentData())
        return VideoOptions(
            self.suffix.currentData(),
            self.way.currentData(),
            Quality(self.quality.currentData()),
            shape=Shape(kind, Filling(self.filling.currentData()), picture=self._beside),
            second=self.second.currentData(),
            part=(start, end),
            scene=Scene(
                Backdrop(self.backdrop.currentData()),
                picture=self._picture,
                size=SOUND_SIZES.get(kind, (1280, 720)),
            ),
        )

    def chosen(self) -> list[Recording]:
        """Return the ticked recordings."""
        ticked = [self._there[row] for row in self.rows.ticked()]
        if self.way.currentData():
            ticked = [one for one in ticked if one.info is not None and one.info.picture]
        return ticked

    def orders(self) -> list[VideoOrder]:
        """Return an order for each video."""
        options, session = self.options(), self._session
        orders = []
        for one in self.chosen():
            title = one.name if self.titled.isChecked() else ""
            own = replace(options, scene=replace(options.scene, title=title))
            limits = session.styles.limits_of(one.id)
            document = session.texts.document(one.id)
            look = session.looks.of(one.id)
            looks = session.looks.all()
            orders.append(order_for(one, document, limits, look, self.folder, own, looks))
        return orders

    def choose_folder(self) -> None:
        """Ask for the folder."""
        name = QFileDialog.getExistingDirectory(self, "Write to", str(self.folder))
        if name:
            self.folder = Path(name)
            self.where.set_whole(name)

    def _backdrop_chosen(self) -> None:
        if self.backdrop.currentData() == Backdrop.PICTURE:
            self._picture = self._ask_picture(self.backdrop)
        self._follow()

    def _filling_chosen(self) -> None:
        if self.filling.currentData() == Filling.PICTURE:
            self._beside = self._ask_picture(self.filling)
        self._follow()

    def _ask_picture(self, box: QComboBox) -> Path | None:
        """Ask for a picture; without one, use the box's first choice."""
        name, _ = QFileDialog.getOpenFileName(self, "A picture", "", PICTURES)
        if not name:
            box.setCurrentIndex(0)
        return Path(name) if name else None

    def _follow(self, *_: object) -> None:
        self._later.start()

    def _show(self) -> None:
        drawn = not self.way.currentData()
        for box in (self.shape, self.quality, self.second, self.backdrop, self.titled):
            box.setEnabled(drawn)
        self.second.setEnabled(drawn and self.second.count() > 1)
        self.filling.setEnabled(drawn and self.shape.currentData() != ShapeKind.AS_IS)
        shown = self._session.shown
        self.look.set_whole(self._session.looks.of(shown).name)
        chosen = self.chosen()
        count = len(chosen)
        self.go.setText("Make 1 video" if count == 1 else f"Make {count} videos")
        set_tone(self.facts, "")
        try:
            options = self.options()
        except ValueError as error:
            self.go.setEnabled(False)
            set_tone(self.facts, "plum")
            self.facts.setText(str(error))
            return
        self.go.setEnabled(count > 0)
        self.facts.setText(self._told(chosen, options))
        lacking = self._lacking(chosen) if drawn else ""
        if lacking:
            set_tone(self.facts, "plum")
            letters = " ".join(dict.fromkeys(lacking[:MOST_LETTERS]))
            self.facts.setText(f"No installed font has {letters}. Install one that does.")
        self._show_sample(options)

    def _lacking(self, chosen: list[Recording]) -> str:
        """Return the characters of these texts that no font here has."""
        session = self._session
        found = ""
        for one in chosen:
            cues = session.texts.transcript(one.id).cues
            letters = sorted({letter for cue in cues for letter in cue.text})
            look = session.looks.of(one.id).letters
            found += missing(" ".join(letters), look.face, look.weight)
        return found

    def _told(self, chosen: list[Recording], options: VideoOptions) -> str:
        if not chosen:
            return (
                "Tick a recording that has a picture."
                if options.switchable
                else "Tick a recording."
            )
        if options.switchable:
            return "Picture and sound are copied unchanged; viewers can switch captions on and off."
        size = sum(estimated_size(one, options) for one in chosen)
        return f"About {amount(size)} in all."

    def _show_sample(self, options: VideoOptions) -> None:
        """Draw the captions on a picture of the chosen shape."""
        if self.sample is not None:
            self._sample_room.removeWidget(self.sample)
            self.sample.deleteLater()
        session, shown = self._session, self._session.shown
        if shown is None or options.switchable:
            self.sample = None
            return
        captions = session.preview.captions(shown)
        if not captions:
            self.sample = None
            return
        middle = captions[min(len(captions) // 3, len(captions) - 1)]
        sizes = {ShapeKind.SQUARE: QSize(300, 300), ShapeKind.UPRIGHT: QSize(214, 380)}
        size = sizes.get(options.shape.kind, QSize(420, 236))
        self.sample = Sample(self._frame, middle, 1.0, size, options.shape)
        self._sample_room.insertWidget(0, self.sample)
        self.sample.show_look(session.looks.of(shown))

    def _edit_look(self) -> None:
        self._look_asked()
        self._follow()

    def _build(self) -> None:
        left = QVBoxLayout()
        left.setSpacing(7)
        left.addWidget(label("RECORDINGS", "heading"))
        left.addWidget(self.rows, 1)
        fields = QGridLayout()
        fields.setHorizontalSpacing(12)
        fields.setVerticalSpacing(7)
        for row, (title, field) in enumerate((
            ("Captions", self.way), ("Second language", self.second), ("Shape", self.shape),
            ("", self.filling), ("Over sound", self.backdrop), ("Quality", self.quality),
            ("File", self.suffix),
        )):  # fmt: skip
            fields.addWidget(label(title), row, 0)
            fields.addWidget(field, row, 1)
        part = QHBoxLayout()
        part.addWidget(self.start)
        part.addWidget(self.end)
        fields.addWidget(label("Section"), 7, 0)
        fields.addLayout(part, 7, 1)
        left.addLayout(fields)
        left.addWidget(self.titled)
        left.addWidget(self.beside)
        right = QVBoxLayout()
        right.setSpacing(8)
        right.addWidget(label("PREVIEW", "heading"))
        right.addLayout(self._sample_room)
        looked = QHBoxLayout()
        looked.addWidget(label("Caption style:"))
        looked.addWidget(self.look, 1)
        looked.addWidget(button("Change…", self._edit_look, "link", "{look}"))
        right.addLayout(looked)
        right.addWidget(self.facts)
        right.addStretch(1)
        right.addWidget(label("FOLDER", "heading"))
        right.addWidget(self.where)
        right.addWidget(button("Choose…", self.choose_folder, "link"))
        both = QHBoxLayout()
        both.setSpacing(26)
        both.addLayout(left, 1)
        both.addLayout(right)
        self.body.addLayout(both, 1)


def _choice(name: str, options: Mapping[str, object]) -> QComboBox:
    box = QComboBox()
    box.setAccessibleName(name)
    for text, value in options.items():
        box.addItem(text, value)
    return box

"""The editor of caption styles: styles on the left, options in the middle, the person's text on a
picture."""

from __future__ import annotations

from dataclasses import replace
from enum import Enum, auto

import av
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QWidget

from tamarind.application.session import Session
from tamarind.desktop.looks.sample import Sample
from tamarind.desktop.widgets.parts import button, label, set_tone
from tamarind.desktop.widgets.shelf_dialog import ShelfDialog
from tamarind.picture.caption import Caption
from tamarind.picture.lookbook import LOOKS
from tamarind.picture.looks import (
    LEAST_CONTRAST,
    Fit,
    Ground,
    Letters,
    Place,
    SecondLanguage,
    Standing,
    Words,
)

FOLLOWS_MS = 30
RESTS_MS = 200
"""How well letters stand out is told once they stay where they are."""


class Use(Enum):
    """What a chosen style is used for."""

    JOB = auto()
    RECORDING = auto()
    CUES = auto()


class LookEditor(ShelfDialog):
    """All caption styles, with the one in use selected first."""

    def __init__(
        self,
        session: Session,
        key: str,
        frame: av.VideoFrame | None,
        *,
        caption: Caption,
        parent: QWidget | None,
        cues: int = 0,
    ) -> None:
        """``cues`` is how many captions are selected, which may have a style of their own."""
        super().__init__(
            "Caption style", (1160, 680), LOOKS, kept=session.looks, key=key, parent=parent
        )
        self.used_for = Use.RECORDING
        self.sample = Sample(frame, caption)
        self.sample.dragged.connect(self.place)
        self.other = Sample(None, caption, 0.8) if frame is not None else None
        self._later = QTimer(self, singleShot=True, interval=FOLLOWS_MS)
        self._later.timeout.connect(self._show_samples)
        self.legible = label("", "note", wrap=True)
        self._contrast_later = QTimer(self, singleShot=True, interval=RESTS_MS)
        self._contrast_later.timeout.connect(self._tell_contrast)

        right = self.lay_out(
            "CAPTION STYLES",
            (*self.acts(), self.remove),
            {
                "Letters": [self.fields("letters", Letters)],
                "Box": [self.fields("ground", Ground)],
                "Position": [self.fields("standing", Standing)],
                "Words": [self.fields("words", Words), self.fields("fit", Fit)],
                "Second language": [self.fields("second", SecondLanguage)],
            },
            176,
        )
        right.addWidget(label("PREVIEW", "heading"))
        right.addWidget(self.sample)
        right.addWidget(label("Drag the captions to move them.", "note"))
        right.addWidget(self.legible)
        if self.other is not None:
            right.addWidget(self.other)
        right.addStretch(1)
        self._add_acts(session, cues)

    def _add_acts(self, session: Session, cues: int) -> None:
        """Add the buttons to use the style here, everywhere, or for the selected captions."""
        here = button("Use for this recording", self.accept)
        every = button("Use for the whole job", self.accept_for_all, "primary")
        here.setEnabled(session.shown is not None)
        every.setDefault(True)
        noun = "this caption" if cues == 1 else f"the {cues} selected captions"
        some = [button(f"Use for {noun}", self.accept_for_cues)] if cues else []
        self.set_acts(*some, here, every)
        self.shown.connect(self._show_look)
        self.changed.connect(self._later.start)
        self.not_kept.connect(session.trouble.emit)
        self.fill()

    def accept_for_all(self) -> None:
        """Use the style for the whole job."""
        self.used_for = Use.JOB
        self.accept()

    def accept_for_cues(self) -> None:
        """Use the style for the selected captions."""
        self.used_for = Use.CUES
        self.accept()

    def place(self, across: float, down: float) -> None:
        """Take the place that the captions were dragged to."""
        look = self.item_now()
        standing = replace(
            look.standing, place=Place.FREE, across=round(across, 3), down=round(down, 3)
        )
        self.put(replace(look, standing=standing))
        self.parts["standing"].show_values(self.item_now().standing)

    def _show_samples(self) -> None:
        for sample in (self.sample, self.other):
            if sample is not None:
                sample.show_look(self.item_now())
        self._contrast_later.start()

    def _tell_contrast(self) -> None:
        """Show the least contrast of letters on the sample."""
        samples = [one for one in (self.sample, self.other) if one is not None]
        ratios = [one.contrast(self.item_now()) for one in samples]
        least = min((ratio for ratio in ratios if ratio is not None), default=None)
        is_low = least is not None and least < LEAST_CONTRAST
        set_tone(self.legible, "plum" if is_low else "")
        told = "" if least is None else f"Contrast {least:.1f} to 1."
        if is_low:
            told += f" At least {LEAST_CONTRAST} to 1 is needed: add an outline or a box."
        self.legible.setText(told)

    def _show_look(self) -> None:
        self.show_parts()
        self._later.start()

"""Cuts that are proposed for an excerpt, to be seen, heard and ticked."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QHeaderView, QWidget

from tamarind.desktop.excerpts.hearing import ExcerptHearing
from tamarind.desktop.widgets.parts import button
from tamarind.desktop.widgets.row_list import RowList
from tamarind.desktop.widgets.ticked_dialog import TickedDialog
from tamarind.formats.timecode import clock
from tamarind.job.excerpts import Chosen
from tamarind.language.smoothing import ProposedCut
from tamarind.transcript.excerpts import Excerpt, Span

AROUND = 4
"""So many words on each side of a cut are shown."""


class SmoothingDialog(TickedDialog):
    """What is heard is the excerpt with the cuts that are ticked."""

    def __init__(
        self,
        one: Chosen,
        cuts: Sequence[ProposedCut],
        spans: Sequence[Span],
        hearing: ExcerptHearing,
        parent: QWidget | None,
    ) -> None:
        """``spans`` are where the sound would be cut."""
        self._one, self._spans, self._hearing = one, spans, hearing
        rows = RowList("Proposed cuts", ("where", "what goes", "why"))
        rows.header().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        for cut in cuts:
            what = cut.words or "quiet"
            rows.add((clock(cut.span[0], 1, hours=False), what, cut.kind), True)
        super().__init__(
            "Propose cuts", (620, 420), parent, "Cuts for a smooth excerpt", rows,
            ("Cut 1 place", "Cut {} places"), "Leave it as it is",
            "Pauses keep a breath. Hear it before you take it; every cut can be taken back.",
        )  # fmt: skip
        self.body.addWidget(button("Hear it with these cuts", self.hear))
        self.body.addWidget(button("Hear it as it is", self.hear_now))
        self.finished.connect(lambda _result: hearing.stop())

    def chosen(self) -> list[Span]:
        """The cuts that are ticked."""
        return [self._spans[row] for row in self.rows.ticked()]

    def hear(self) -> None:
        """The excerpt as it would be."""
        made: Excerpt = self._one.excerpt
        for start, end in self.chosen():
            made = made.with_cut(start, end)
        self._hearing.hear_spans(self._one.recording.id, made.spans)

    def hear_now(self) -> None:
        """The excerpt without these cuts."""
        self._hearing.hear_spans(self._one.recording.id, self._one.excerpt.spans)

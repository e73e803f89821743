"""The dialog with proposed cuts for an excerpt, to be seen, heard and ticked."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QHBoxLayout, QHeaderView, QWidget

from tamarind.desktop.excerpts.hearing import ExcerptHearing
from tamarind.desktop.widgets.parts import button
from tamarind.desktop.widgets.row_list import RowList
from tamarind.desktop.widgets.ticked_dialog import TickedDialog
from tamarind.formats.timecode import clock
from tamarind.job.excerpts import Chosen
from tamarind.language.smoothing import ProposedCut
from tamarind.transcript.excerpts import Excerpt, Span

WHERE_WIDTH = 110


class SmoothingDialog(TickedDialog):
    """Plays the excerpt with the ticked cuts."""

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
        rows = RowList("Proposed cuts", ("where", "cut, in brackets", "why"))
        rows.header().setSectionResizeMode(1, QHeaderView.ResizeMode.ResizeToContents)
        rows.setColumnWidth(0, WHERE_WIDTH)
        for cut in cuts:
            around = f"… {cut.before} [{cut.words or '–'}] {cut.after} …"
            rows.add((clock(cut.span[0], 1, hours=False), around, cut.kind), True)
        super().__init__(
            "Propose cuts", (700, 420), parent, heading="Cuts for a smooth excerpt", rows=rows,
            act=("Cut 1 place", "Cut {} places"), leave="Cancel",
            note="Pauses keep a breath. Listen before you apply them; every cut can be undone.",
        )  # fmt: skip
        acts = QHBoxLayout()
        acts.addWidget(button("Play with cuts", self.hear))
        acts.addWidget(button("Play without cuts", self.hear_now))
        acts.addStretch(1)
        self.body.addLayout(acts)
        self.finished.connect(lambda _result: hearing.stop())

    def chosen(self) -> list[Span]:
        """Return the ticked cuts."""
        return [self._spans[row] for row in self.rows.ticked()]

    def hear(self) -> None:
        """Play the excerpt with the ticked cuts."""
        made: Excerpt = self._one.excerpt
        for start, end in self.chosen():
            made = made.with_cut(start, end)
        self._hearing.hear_spans(self._one.recording.id, made.spans)

    def hear_now(self) -> None:
        """Play the excerpt without these cuts."""
        self._hearing.hear_spans(self._one.recording.id, self._one.excerpt.spans)

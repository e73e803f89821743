"""Notes between the rows of the proof sheet: silence, speech without text, descriptions."""

from __future__ import annotations

from dataclasses import dataclass

from tamarind.desktop.proof.sheettext import SheetText
from tamarind.desktop.theme import colours
from tamarind.transcript.descriptions import BREATH_MS, Description, words_that_fit

QUIET_MS = 2_000
LEAST_UNHEARD_MS = 500
LONGEST_SEEN = 60


@dataclass(frozen=True, slots=True)
class Note:
    """A line between two cues about the time between them, which starts at ``start`` (ms)."""

    text: str
    colour: str
    start: int


class Notes:
    """Knows where in the recording somebody speaks without text."""

    def __init__(self, text: SheetText) -> None:
        self._text = text
        self.unheard: tuple[tuple[int, int], ...] = ()
        self.descriptions: tuple[Description, ...] = ()
        self.has_picture = False

    def above(self, row: int) -> Note | None:
        """Return the notes on the time between a row and the one before."""
        cues = self._text.transcript.cues
        first = self._text.cues_of(row)[0]
        start = cues[first].start
        low = cues[first - 1].end if first else 0
        missed = self._missed(low, start)
        seen = self._seen(low, start)
        if missed or seen:
            return missed or seen
        if start - low < QUIET_MS:
            return None
        quiet = f"{(start - low) / 1000:.1f} s of silence"
        if self.descriptions and self.has_picture:
            # Somebody describes what is seen: the other places for it are told.
            quiet += f", room for {words_that_fit(start - low - 2 * BREATH_MS)} words"
        return Note(f"· {quiet} ·", colours.GREY, low)

    def _seen(self, low: int, high: int) -> Note | None:
        """Return the audio descriptions read in that time."""
        found = [one for one in self.descriptions if low - BREATH_MS <= one.start < high]
        if not found:
            return None
        told = " ".join(one.text for one in found)
        short = f"{told[:LONGEST_SEEN]}…" if len(told) > LONGEST_SEEN else told
        return Note(f"· seen: {short} ·", colours.LEAF_TEXT, found[0].start)

    def below(self, row: int) -> Note | None:
        """Return the notes on the time after the last row."""
        is_last = row == self._text.row_count() - 1
        return self._missed(self._text.transcript.cues[-1].end, None) if is_last else None

    def _missed(self, low: int, high: int | None) -> Note | None:
        missed = [
            (max(start, low), end if high is None else min(end, high))
            for start, end in self.unheard
            if end > low and (high is None or start < high)
        ]
        missed = [(start, end) for start, end in missed if end - start >= LEAST_UNHEARD_MS]
        if not missed:
            return None
        seconds = sum(end - start for start, end in missed) / 1000
        return Note(f"· {seconds:.1f} s of speech without text ·", colours.PLUM, missed[0][0])

"""Where cues and words stand on the proof sheet: one text in two layouts."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

from tamarind.captions.lines import break_lines
from tamarind.desktop.proof.margin import Margin
from tamarind.desktop.proof.rows import Layout, Rows
from tamarind.desktop.session import Session
from tamarind.desktop.theme import colours, fonts
from tamarind.desktop.widgets.row_view import Looks, Place
from tamarind.desktop.widgets.text_sheet import TextSheet
from tamarind.formats.spans import head_of
from tamarind.formats.timecode import clock
from tamarind.transcript.corrections import bare
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.survey import changed_range

TEXT_LEFT, TEXT_RIGHT = 164, 46
QUIET_MS = 2_000
LEAST_UNHEARD_MS = 500
SPEAKER_ROOM = 34
NOTE_ROOM = 34
_WORD = re.compile(r"\S+")

Spot = tuple[int, int]
"""A cue's place in the text, and an offset in the cue's own text."""


@dataclass(frozen=True, slots=True)
class Note:
    """A line between two cues about the time between them, which starts at ``start`` (ms)."""

    text: str
    colour: str
    start: int


@lru_cache(maxsize=64)
def _spans_of(text: str) -> tuple[tuple[int, int], ...]:
    """Where the words of a text stand; a keystroke asks that many times of the same row."""
    return tuple(match.span() for match in _WORD.finditer(text))


class SheetRows(TextSheet):
    """The shown recording's text; knows where its cues and words stand, and changes nothing.

    A row is a cue or a paragraph of cues; everybody else speaks of cues by their place in the text
    and of words by their place in the cue.
    """

    def __init__(self, session: Session, text_size: int, layout: Layout) -> None:
        self._session = session
        self._transcript = Transcript("en")
        self._recording_id: int | None = None
        self._grouping = Rows(layout)
        self._texts: dict[int, str] = {}
        self._margin = Margin()
        self._heard: tuple[int, int] | None = None
        self._unheard: tuple[tuple[int, int], ...] = ()
        super().__init__(fonts.text(text_size))
        self.setAccessibleName("Proof sheet")

    # What is shown

    def show_recording(self, recording_id: int | None) -> None:
        """Show a recording's text from its start."""
        self._recording_id = recording_id
        self._transcript = (
            self._session.transcript(recording_id) if recording_id is not None else Transcript("en")
        )
        self._heard = None
        self._read_sound()
        self._load_rows()
        self.reset()
        self.caret_moved.emit()

    def set_layout(self, layout: Layout) -> None:
        """Lay the same text out in cues or in paragraphs; caret and view keep their place."""
        caret, anchor = self.spot_of(self._caret), self.spot_of(self._anchor)
        y = self.caret_area().top() if self.row_count() else 0.0
        self._grouping = Rows(layout)
        self._typed = None
        self._load_rows()
        self._rows.clear()
        self._estimate()
        if self.row_count():
            self._anchor = self._bounded(self.row_place(anchor))
            self.set_caret(self.row_place(caret), keep_anchor=True)
            bar = self.verticalScrollBar()
            for _ in range(2):
                # What comes into view is measured, which may move the caret once more.
                bar.setValue(bar.value() + round(self.caret_area().top() - y))
                self._measure_visible()
        self.viewport().update()

    @property
    def layout_of_text(self) -> Layout:
        """How the text is laid out now."""
        return self._grouping.layout

    def take_sound(self) -> None:
        """The recording's sound may have been decoded meanwhile, or more of it heard."""
        before = self._unheard
        self._read_sound()
        if self._unheard != before:
            self.refresh(0, self.row_count(), self.row_count())
        self.viewport().update()

    def _read_sound(self) -> None:
        shown = self._recording_id
        self._unheard = self._session.recording(shown).unheard if shown is not None else ()
        peaks = self._session.peaks(shown) if shown is not None else None
        self._margin.set_sound(peaks, self._unheard)

    def _load_rows(self) -> None:
        self._texts.clear()
        self._grouping.load(self._transcript.cues)

    def follow_document(self) -> None:
        """The text has changed, here or elsewhere."""
        if self._recording_id is None:
            return
        old, self._transcript = self._transcript, self._session.transcript(self._recording_id)
        changed = changed_range(old.cues, self._transcript.cues)
        self._texts.clear()
        self.refresh(*self._grouping.follow(self._transcript.cues, *changed))
        self.caret_moved.emit()

    @property
    def transcript(self) -> Transcript:
        """The text that is shown."""
        return self._transcript

    def description(self) -> str:
        """Which cue the caret is in, who speaks there, and whether its word is a doubt."""
        cue = self.caret_cue()
        if cue is None:
            return "no text"
        speaker = self._transcript.speaker(cue.speaker)
        facts = [
            f"cue {self.caret_place() + 1} of {len(self._transcript.cues)}",
            clock(cue.start, 1, hours=False),
        ]
        if speaker is not None:
            facts.append(speaker.label)
        if cue.settled:
            facts.append("proofed")
        word = self.caret_word()
        if word < len(cue.words) and cue.words[word].is_doubt(self._session.threshold):
            facts.append(f"doubt: {cue.words[word].text}")
        return ", ".join(facts)

    # Places: rows and offsets here, cues and words for everybody else

    def spot_of(self, place: Place) -> Spot:
        """The cue at a place of a row, and the offset in that cue."""
        row, offset = place
        if not self.row_count():
            return 0, 0
        found = (self._grouping.cues_of(row)[0], 0)
        for cue, start in self._starts_in(row):
            if start > offset:
                break
            found = (cue, start)
        return found[0], offset - found[1]

    def row_place(self, spot: Spot) -> Place:
        """The row of a cue, and where in the row an offset of it is."""
        cue, offset = spot
        if not self.row_count():
            return 0, 0
        row = self._grouping.row_of(min(max(cue, 0), len(self._transcript.cues) - 1))
        start = next((start for at, start in self._starts_in(row) if at == cue), 0)
        return row, start + offset

    def _starts_in(self, row: int) -> Iterator[tuple[int, int]]:
        """Each cue of a row that has words, and where it begins in the row's text; an empty one
        only where it stands alone."""
        first, last = self._grouping.cues_of(row)
        if last - first == 1:
            yield first, 0
            return
        spans = self._spans(self.shown_text(row))
        count = 0
        for cue in range(first, last):
            if count < len(spans) and self._transcript.cues[cue].words:
                yield cue, spans[count][0] if count else 0
                count += len(self._transcript.cues[cue].words)

    def _words_in(self, row: int) -> list[tuple[int, int, Word]]:
        """A row's words in order: the cue's place, the word's place in it, the word."""
        first, last = self._grouping.cues_of(row)
        return [
            (cue, place, word)
            for cue in range(first, last)
            for place, word in enumerate(self._transcript.cues[cue].words)
        ]

    def caret_place(self) -> int:
        """The place in the text of the cue that the caret is in."""
        return self.spot_of(self.caret)[0]

    def caret_cue(self) -> Cue | None:
        """The cue that the caret is in."""
        place = self.caret_place()
        return self._transcript.cues[place] if place < len(self._transcript.cues) else None

    def caret_word(self) -> int:
        """The place in its cue of the word at the caret; at a word's end it is still that word."""
        place = self._word_at(self.caret)
        return place[1] if place else 0

    def _word_at(self, at: Place) -> tuple[int, int] | None:
        """Cue and word at a place; after the last word of a row it is still that one."""
        row, offset = at
        if row >= self.row_count():
            return None
        words = self._words_in(row)
        spans = self._spans(self.shown_text(row))
        number = next((n for n, (_, end) in enumerate(spans) if offset <= end), len(spans) - 1)
        return words[number][:2] if 0 <= number < len(words) else None

    def caret_time(self) -> int:
        """When the word at the caret is said."""
        cue = self.caret_cue()
        if cue is None:
            return 0
        word = self.caret_word()
        return cue.words[word].start if word < len(cue.words) else cue.start

    def go_to(self, spot: Spot, keep_anchor: bool = False) -> None:
        """Put the caret into a cue; with ``keep_anchor`` what lies between is selected."""
        self.set_caret(self.row_place(spot), keep_anchor)

    def go_to_word(self, cue: int, word: int) -> None:
        """Put the caret before a word of a cue."""
        if not 0 <= cue < len(self._transcript.cues):
            return
        words = self._transcript.cues[cue].words
        if self._grouping.layout is Layout.CUES:
            spans = self._spans(self.shown_text(cue))
            offset = spans[word][0] if word < len(spans) else 0
        else:
            offset = sum(len(each.text) + 1 for each in words[:word]) if word < len(words) else 0
        self.go_to((cue, offset))

    def choose_words(self, cue: int, first: int, last: int) -> None:
        """Select the words of a cue from ``first`` up to, not with, ``last``, with their marks."""
        self.go_to_word(cue, first)
        if not 0 <= cue < len(self._transcript.cues):
            return
        texts = [word.text for word in self._transcript.cues[cue].words[first:last]]
        place, offset = self.spot_of(self.caret)
        self.go_to((place, offset + len(" ".join(texts))))
        self.go_to((place, offset), keep_anchor=True)

    def choose_word(self, cue: int, word: int) -> None:
        """Select a word of a cue but for the marks around it, so that typing replaces it."""
        self.go_to_word(cue, word)
        if not 0 <= cue < len(self._transcript.cues):
            return
        words = self._transcript.cues[cue].words
        place, offset = self.spot_of(self.caret)
        text = words[word].text if word < len(words) else ""
        letters = bare(text)
        if letters:
            start = offset + text.index(letters)
            self.go_to((place, start + len(letters)))
            self.go_to((place, start), keep_anchor=True)

    def chosen_words(self) -> list[tuple[int, int]]:
        """The words that something is selected of, or else those of the caret's cue: each by its
        cue's place and its own."""
        selection = self.selection()
        if selection is None:
            place = self.caret_place()
            cue = self.caret_cue()
            return [(place, word) for word in range(len(cue.words))] if cue else []
        (first, begin), (last, stop) = selection
        return [
            (cue, place)
            for row in range(first, last + 1)
            for (cue, place, _), (start, end) in zip(
                self._words_in(row), self._spans(self.shown_text(row)), strict=False
            )
            if (row > first or end > begin) and (row < last or start < stop)
        ]

    def selected_cues(self) -> tuple[int, int] | None:
        """The cues that something is selected of: the first, and one after the last."""
        selection = self.selection()
        if selection is None:
            return None
        return self.spot_of(selection[0])[0], self.spot_of(selection[1])[0] + 1

    # Rows

    def row_count(self) -> int:
        """One row a cue or a paragraph."""
        return len(self._grouping)

    def row_text(self, row: int) -> str:
        """The words of a cue or of a paragraph."""
        text = self._texts.get(row)
        if text is None:
            cues = self._cues_in(row)
            text = self._texts[row] = " ".join(cue.text for cue in cues if cue.words)
        return text

    def row_length(self, row: int) -> int:
        """Six letters a word is near enough."""
        return 6 * sum(len(cue.words) for cue in self._cues_in(row))

    def estimated_heights(self) -> list[float]:
        """Those of ten thousand cues are guessed at once: notes and loupe aside."""
        if self._grouping.layout is not Layout.CUES:
            return super().estimated_heights()
        heights = []
        end, speaker = 0, None
        for cue in self._transcript.cues:
            lines = -(-6 * len(cue.words) // self._letters_a_line)
            height = 22.0 + max(lines * self._line_height, 46.0)
            if cue.speaker is not None and cue.speaker != speaker:
                height += SPEAKER_ROOM - 4
            if cue.start - end >= QUIET_MS:
                height += NOTE_ROOM
            heights.append(height)
            end, speaker = cue.end, cue.speaker
        return heights

    def line_starts(self, row: int, text: str) -> list[int]:
        """A cue stands in the lines that it will have as a caption."""
        if self._grouping.layout is not Layout.CUES:
            return []
        spans = self._spans(text)
        breaks = self.breaks_of(self._transcript.cues[row])
        return [spans[place][0] for place in breaks if place < len(spans)]

    def looks(self, row: int) -> Looks:
        """Words in italics, bold or underlined look so."""
        if not any(word.spans for cue in self._cues_in(row) for word in cue.words):
            return ()
        words, spans = self._words_in(row), self._spans(self.shown_text(row))
        return tuple(
            (start, end - start, "".join(map(head_of, word.spans)))
            for (_, _, word), (start, end) in zip(words, spans, strict=False)
            if word.spans
        )

    def breaks_of(self, cue: Cue) -> tuple[int, ...]:
        """The places of the words that begin a new line of a cue, set by hand or by rule."""
        if cue.breaks is not None or self._recording_id is None:
            return cue.breaks or ()
        limits = self._session.limits_of(self._recording_id)
        texts = [word.text for word in cue.words]
        return break_lines(texts, limits, self._transcript.language)

    def row_space(self, row: int) -> tuple[float, float, float]:
        """Room for the speaker's name and a word about quiet above; none of the strip is cut."""
        above = 10.0 + (14 if row == 0 else 0)
        if self._shows_speaker(row):
            above += SPEAKER_ROOM - 4
        if self._note_above(row) is not None:
            above += NOTE_ROOM
        below = 12.0 + (NOTE_ROOM if self._note_below(row) else 0)
        below += self.room_below(row)
        return above, below, 46.0

    def room_below(self, row: int) -> float:
        """More room below a row, for what is opened there."""
        return 0.0

    def text_span(self) -> tuple[float, float]:
        """The column of text, held to a width that reads well."""
        return TEXT_LEFT, max(min(self.viewport().width() - TEXT_LEFT - TEXT_RIGHT, 900), 120)

    def _cues_in(self, row: int) -> tuple[Cue, ...]:
        first, last = self._grouping.cues_of(row)
        return self._transcript.cues[first:last]

    def _shows_speaker(self, row: int) -> bool:
        first = self._grouping.cues_of(row)[0]
        cue = self._transcript.cues[first]
        if cue.speaker is None:
            return False
        return first == 0 or self._transcript.cues[first - 1].speaker != cue.speaker

    def _note_above(self, row: int) -> Note | None:
        """What to say above a row of the time since the one before."""
        first = self._grouping.cues_of(row)[0]
        start = self._transcript.cues[first].start
        low = self._transcript.cues[first - 1].end if first else 0
        missed = self._note_of_unheard(low, start)
        if missed or start - low < QUIET_MS:
            return missed
        return Note(f"· {(start - low) / 1000:.1f} s of quiet ·", colours.GREY, low)

    def _note_below(self, row: int) -> Note | None:
        """What to say below the last row of the time after it."""
        is_last = row == self.row_count() - 1
        return self._note_of_unheard(self._transcript.cues[-1].end, None) if is_last else None

    def _note_of_unheard(self, low: int, high: int | None) -> Note | None:
        missed = [
            (max(start, low), end if high is None else min(end, high))
            for start, end in self._unheard
            if end > low and (high is None or start < high)
        ]
        missed = [(start, end) for start, end in missed if end - start >= LEAST_UNHEARD_MS]
        if not missed:
            return None
        seconds = sum(end - start for start, end in missed) / 1000
        return Note(f"· {seconds:.1f} s of speech without text ·", colours.PLUM, missed[0][0])

    def _note_at(self, row: int, y: float) -> Note | None:
        """The note that lies there, above or below a cue."""
        area, text = self.row_area(row), self.text_area(row)
        above, below = self._band_above(row, area, text), self._band_below(text)
        if above.top() <= y < above.bottom():
            return self._note_above(row)
        return self._note_below(row) if below.top() <= y < below.bottom() else None

    @staticmethod
    def _spans(text: str) -> list[tuple[int, int]]:
        return list(_spans_of(text))

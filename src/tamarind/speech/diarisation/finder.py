"""Find the voices of a recording section by section, and number them as they first speak."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from tamarind.audio.decode import Samples
from tamarind.memory import forget
from tamarind.speech.bookmark import VoicesMark
from tamarind.speech.cores import cores
from tamarind.speech.diarisation.clustering import followed, found_among, voices_among
from tamarind.speech.diarisation.encoder import VoiceEncoder
from tamarind.speech.diarisation.evidence import STEP_MS, SpeakerEvidence, evidence_of, voices_of
from tamarind.speech.diarisation.keptpoints import section_borders, section_points
from tamarind.speech.diarisation.likeness import voiceprint_of
from tamarind.speech.diarisation.voiceprint import WIDTH, Voiceprint
from tamarind.speech.diarisation.windows import EmbeddedSpans, joined
from tamarind.speech.hearingoptions import MOST_VOICES, Voices
from tamarind.transcript.model import Word

Floats = NDArray[np.float32]

SAME_VOICE = 0.75
"""Voices of two sections whose middles are at least this alike may be one."""


@dataclass(frozen=True, slots=True)
class _Section:
    """The result of a section: its evidence, and the means of all voices known so far."""

    evidence: SpeakerEvidence
    end: int
    middles: Floats


class VoiceFinder:
    """Gives words to voices, from the start of a recording's section on.

    The first section is looked at when ``look`` is gone through, each later one while the words of
    the one before it are being recognised. The sections of a part are always the same ones, so that
    whoever goes on from a mark finds what would have been found.
    """

    def __init__(
        self,
        samples: Samples,
        part: tuple[int, int],
        voices: Voices,
        *,
        encoder: VoiceEncoder,
        mark: VoicesMark | None = None,
        at: int | None = None,
        folder: Path | None = None,
    ) -> None:
        """``mark`` is the state of an earlier finder of the same section when its words had come to
        ``at`` (ms). Points are kept in ``folder``."""
        self._samples = samples
        self._count = voices.count
        self._encoder = encoder
        self._folder = folder
        self._borders = section_borders(part)
        self._first = self._section_at(part[0] if at is None else at)
        self._before = mark.middles if mark else np.zeros((0, WIDTH), np.float32)
        self._numbers = list(mark.numbers) if mark else []
        self._sections: list[_Section] = []
        self._perhaps = 0
        self._thread = ThreadPoolExecutor(1)
        self._ahead: Future[EmbeddedSpans] | None = None

    def look(self) -> Iterator[float]:
        """Analyse the first section with all cores, yielding its progress (0 to 1)."""
        if self._sections:
            return
        parts = []
        for share, points in self._points(self._first, cores()):
            parts.append(points)
            yield share
        self._take(joined(parts))

    @property
    def perhaps(self) -> int:
        """The other likely number of voices; 0 if the number is clear, or was given."""
        return self._perhaps if len(self._borders) == 2 else 0

    def mark(self, at: int) -> VoicesMark:
        """Return the state from which words after ``at`` (ms) can be continued."""
        place = self._section_at(at) - self._first
        if place > 0:
            self._go_on_until(at)
        middles = self._sections[place - 1].middles if place > 0 else self._before
        return VoicesMark(middles, tuple(self._numbers))

    def voiceprints(self) -> list[Voiceprint]:
        """Return the voiceprints of the numbered voices, at the end."""
        middles = self._sections[-1].middles if self._sections else self._before
        return [
            voiceprint_of(number, middles[place])
            for number, place in enumerate(self._numbers, 1)
            if place < len(middles)
        ]

    def voices_of(self, words: Sequence[Word]) -> list[int | None]:
        """Return the numbers of the voices that say these words, in the order in which they first
        speak.

        Words are to come in their order; None for all where no voice could be made out, or where
        one alone has spoken so far and nobody said how many there are.
        """
        if not words:
            return []
        evidence = self._evidence(words[0].start, words[-1].end)
        if self._count is None and evidence.weights.shape[1] == 1:
            return [None] * len(words)
        places = voices_of(words, evidence)
        for place in places:
            if place is not None and place not in self._numbers:
                self._numbers.append(place)
        return [None if place is None else self._numbers.index(place) + 1 for place in places]

    def _section_at(self, moment: int) -> int:
        places = [place for place, border in enumerate(self._borders[:-1]) if border <= moment]
        return places[-1] if places else 0

    def _points(self, place: int, threads: int) -> Iterator[tuple[float, EmbeddedSpans]]:
        section = self._borders[place], self._borders[place + 1]
        return section_points(self._samples, section, self._encoder, threads, self._folder)

    def _go_on_until(self, moment: int) -> None:
        for _share in self.look():
            pass
        while self._sections[-1].end < moment and self._ahead is not None:
            self._take(self._ahead.result())

    def _evidence(self, start: int, end: int) -> SpeakerEvidence:
        """Return the evidence of the sections with these times."""
        self._go_on_until(end)
        known = [s.evidence for s in self._sections if s.end > start]
        known = known or [self._sections[-1].evidence]
        voices = known[-1].weights.shape[1]
        padded = [
            np.pad(own.weights, ((0, 0), (0, voices - own.weights.shape[1]))) for own in known
        ]
        return SpeakerEvidence(known[0].start, np.concatenate(padded))

    def _look_ahead(self, place: int) -> EmbeddedSpans:
        points = joined([points for _share, points in self._points(place, 1)])
        forget(self._samples)
        return points

    def _take(self, points: EmbeddedSpans) -> None:
        """Add a section's points, with its voices matched to known ones."""
        place = self._first + len(self._sections)
        start, end = self._borders[place], self._borders[place + 1]
        is_last = place == len(self._borders) - 2
        self._ahead = None if is_last else self._thread.submit(self._look_ahead, place + 1)
        before = self._sections[-1].middles if self._sections else self._before
        points = EmbeddedSpans(points.vectors, points.spans + start)
        middles, columns = self._matched(points, before, is_last)
        own = evidence_of(points, middles[columns], start, end - STEP_MS)
        weights = np.zeros((len(own.weights), len(middles)), np.float32)
        weights[:, columns] = own.weights
        self._sections.append(_Section(SpeakerEvidence(start, weights), end, middles))

    def _matched(
        self, points: EmbeddedSpans, before: Floats, is_last: bool
    ) -> tuple[Floats, NDArray[np.int64]]:
        """Return all voices known now, and which of them the section has.

        As many as were said to be there are found by the end, if there are as many sayings.
        """
        most = self._count or MOST_VOICES
        if self._count is not None and is_last and not len(before):
            found = voices_among(points, most, self._count)
            return found, np.arange(len(found))
        if self._count is not None and len(before) >= self._count and len(points):
            return followed(points, before), np.arange(len(before))
        seen = found_among(points, most)
        found, self._perhaps = seen.middles, seen.perhaps
        middles, columns = _joined_voices(found, before, most)
        if self._count is not None and is_last:
            for tried in range(len(found) + 1, most + 1):
                if len(middles) >= self._count:
                    break
                found = voices_among(points, most, tried)
                middles, columns = _joined_voices(found, before, most)
        return middles, columns


def _joined_voices(found: Floats, before: Floats, most: int) -> tuple[Floats, NDArray[np.int64]]:
    """Return the known voices and those of a section, ``most`` in all, and the indices of the
    latter.

    A voice is the known one that it is most like, one to one (Kuhn 1955), if it is like it enough;
    where no more are allowed, the nearest.
    """
    middles = list(before)
    columns = np.full(len(found), -1)
    if len(found) and len(before):
        from scipy.optimize import linear_sum_assignment  # slow to import, and not always needed

        likeness = found @ before.T
        for row, column in zip(*linear_sum_assignment(-likeness), strict=True):
            if likeness[row, column] >= SAME_VOICE:
                columns[row] = column
    for row, vector in enumerate(found):
        if columns[row] < 0 and len(middles) >= most:
            columns[row] = int(np.argmax(np.stack(middles) @ vector))
        elif columns[row] < 0:
            columns[row] = len(middles)
            middles.append(vector)
        else:
            middles[columns[row]] = vector
    return np.stack(middles) if middles else np.zeros((0, WIDTH), np.float32), columns

"""Voices: who speaks when, and which words are whose.

The turns come from the diariser in the recogniser's package, a neural one with Bayesian clustering
(Landini et al. 2022, "Bayesian HMM clustering of x-vector sequences"). It takes a recording in
sections that overlap, so that memory stays flat; here the voices of neighbouring sections are
matched by who speaks in the overlap, and by the colour of the voice. A stereo recording with one
voice a channel needs none of that: the louder channel speaks.
"""

from __future__ import annotations

from array import array
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from itertools import pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.speech.acoustic.features import cosines
from tamarind.speech.bookmark import VoicesMark
from tamarind.speech.howtohear import Voices
from tamarind.speech.recognisers.builtin import model_folder
from tamarind.speech.turns import Turn
from tamarind.transcript.model import Word

SECTION_MS = 480_000
OVERLAP_MS = 90_000

SHORT_MS = 180_000
"""A section shorter than this is looked at closely: it has few turns to tell voices by."""

CHANGE_IN_PHRASE, CHANGE_AT_PAUSE, CHANGE_AT_END = 1.6, 0.5, 0.25
"""What a change of voice costs between two words, in words that it must win over."""

PAUSE_MS = 250
SIDES_APART_DB = 6.0
SELDOM = 0.05
LEVEL_MS = 10
NEAR_MS = 30_000
SAME_COLOUR = 0.9
"""Voices of two sections whose colours are at least this alike may be one."""


Diariser = Callable[[Samples, bool], list[Turn]]
"""Turns in a section of mono sound, times from its start; looking closely (True) takes longer."""


class PackageDiariser:
    """The diariser of the moonshine-voice package; loaded at the first use."""

    _OPTIONS = {
        "identify_speakers": "true",
        "skip_transcription": "true",
        "return_audio_data": "false",
    }
    _CADENCES = {False: "10", True: "3"}
    """How many steps it goes on between two looks: a third of real time when it looks closely."""

    def __init__(self) -> None:
        self._transcribers: dict[bool, Any] = {}

    def __call__(self, section: Samples, closely: bool) -> list[Turn]:
        """Turns of all voices in order of their starts."""
        # The package's top-level module needs a sound card's library; these parts do not.
        from moonshine_voice.moonshine_api import ModelArch
        from moonshine_voice.transcriber import Transcriber

        if closely not in self._transcribers:
            options = {**self._OPTIONS, "diarization_analyze_cadence": self._CADENCES[closely]}
            folder = str(model_folder())
            self._transcribers[closely] = Transcriber(folder, ModelArch.TINY, options=options)
        sound = array("f", np.ascontiguousarray(section, np.float32).tobytes())
        found = self._transcribers[closely].transcribe_without_streaming(sound, SAMPLE_RATE)
        turns = [
            Turn(
                round(span.start_time * 1000),
                round((span.start_time + span.duration) * 1000),
                span.speaker_index + 1,
            )
            for line in found.lines
            for span in line.speaker_spans or ()
        ]
        return sorted(turns, key=lambda turn: turn.start)


class VoiceFinder:
    """Turns of a recording from its start on, a section at a time and only as far as asked."""

    def __init__(
        self,
        samples: Samples,
        part: tuple[int, int],
        voices: Voices,
        diarise: Diariser,
        mark: VoicesMark | None = None,
    ) -> None:
        """``mark`` is what an earlier finder of the same part knew when it was stopped."""
        self._samples = samples
        self._end = part[1]
        self._most = voices.count
        self._diarise = diarise
        self._known_until = mark.known_until if mark else part[0]
        self._begun = mark.begun if mark else part[0]
        self._turns = list(mark.turns) if mark else []
        self._colours = dict(mark.colours) if mark else {}
        # One section is looked at ahead, while the recogniser is at work.
        self._thread = ThreadPoolExecutor(1)
        self._ahead = self._thread.submit(self._look, self._known_until)

    def mark(self) -> VoicesMark:
        """What is known now and still needed."""
        needed = self._known_until - SECTION_MS - OVERLAP_MS - NEAR_MS
        turns = tuple(turn for turn in self._turns if turn.end > needed)
        return VoicesMark(turns, dict(self._colours), self._known_until, self._begun)

    def turns_between(self, start: int, end: int) -> list[Turn]:
        """The turns near a stretch (ms from the recording's start)."""
        while self._known_until < min(end, self._end):
            self._next_section()
        return [t for t in self._turns if t.end > start - NEAR_MS and t.start < end + NEAR_MS]

    def _section(self, start: int) -> tuple[int, int]:
        """The section that begins a new one at ``start``, with what it shares with the last."""
        return max(start - OVERLAP_MS, self._begun), min(start + SECTION_MS, self._end)

    def _look(self, start: int) -> list[Turn]:
        """The turns of a section, in the recording's time, with voices of its own."""
        first, last = self._section(start)
        section = self._samples[first * SAMPLE_RATE // 1000 : last * SAMPLE_RATE // 1000]
        turns = self._diarise(section, last - first < SHORT_MS)
        if last - first >= SHORT_MS and len({turn.voice for turn in turns}) < (self._most or 1):
            turns = self._diarise(section, True)
        return [Turn(turn.start + first, turn.end + first, turn.voice) for turn in turns]

    def _next_section(self) -> None:
        first, last = self._section(self._known_until)
        found = self._ahead.result()
        if last < self._end:
            self._ahead = self._thread.submit(self._look, last)
        names = self._matched(found, first)
        border = self._known_until
        for turn in found:
            start = max(turn.start, border)
            if turn.end > start:
                self._turns.append(Turn(start, turn.end, names[turn.voice]))
        self._known_until = last

    def _matched(self, found: list[Turn], first: int) -> dict[int, int]:
        """What the voices of a new section are called among those already known."""
        colours = {
            voice: _colour(self._samples, [t for t in found if t.voice == voice])
            for voice in dict.fromkeys(turn.voice for turn in found)
        }
        lengths = {v: sum(t.end - t.start for t in found if t.voice == v) for v in colours}
        new, old = list(colours), list(self._colours)
        likeness = np.zeros((len(new), len(old)))
        for row, voice in enumerate(new):
            for column, known in enumerate(old):
                shared = sum(
                    max(0, min(a.end, b.end) - max(a.start, b.start))
                    for a in found
                    if a.voice == voice
                    for b in self._turns
                    if b.voice == known and b.end > first
                )
                alike = float(colours[voice] @ self._colours[known])
                likeness[row, column] = shared / 1000 + (alike if alike > SAME_COLOUR else 0.0)
        names: dict[int, int] = {}
        from scipy.optimize import linear_sum_assignment  # slow to import, and not always needed

        for row, column in zip(*linear_sum_assignment(-likeness), strict=True):
            if likeness[row, column] > 0:
                names[new[row]] = old[column]
        # The longest voices come first, so that those beyond the wished number are the short ones.
        for voice in sorted(new, key=lambda v: -lengths[v]):
            if voice in names:
                continue
            if self._most is not None and len(self._colours) >= self._most:
                names[voice] = max(
                    self._colours, key=lambda known: float(colours[voice] @ self._colours[known])
                )
            else:
                names[voice] = max(self._colours, default=0) + 1
                self._colours[names[voice]] = colours[voice]
        return names


def voices_of(words: Sequence[Word], turns: Sequence[Turn]) -> list[int | None]:
    """Each word's voice: the cheapest sequence, changes being dear within a phrase.

    Viterbi over the words (Viterbi 1967); a word counts for a voice by the share of its time that
    the voice's turns cover, and a word outside all turns for the nearest one.
    """
    names = sorted({turn.voice for turn in turns})
    if not words or not names:
        return [None] * len(words)
    cost = np.array([[1 - share for share in _shares(word, turns, names)] for word in words])
    total = cost[0]
    origins = []
    for (before, after), own in zip(pairwise(words), cost[1:], strict=True):
        change = _change_cost(before, after)
        best = int(total.argmin())
        moved = total[best] + change
        origins.append(np.where(total <= moved, np.arange(len(names)), best))
        total = np.minimum(total, moved) + own
    place = int(total.argmin())
    path = [place]
    for origin in reversed(origins):
        place = int(origin[place])
        path.append(place)
    return [names[place] for place in reversed(path)]


def one_voice_a_channel(levels: NDArray[np.float16]) -> bool:
    """Whether each channel of a stereo recording has a voice of its own.

    ``levels`` are root mean squares (2, frames of 10 ms). In its loud frames one channel must be
    far above the other, now this and now that.
    """
    if levels.shape[0] != 2 or not levels.shape[1]:
        return False
    loudness = 20 * np.log10(np.maximum(levels.astype(np.float32), 1e-5))
    loudest = loudness.max(axis=0)
    apart = np.diff(loudness, axis=0)[0][loudest > np.quantile(loudest, 0.95) - 20]
    right = float(np.mean(apart > 0))
    return bool(np.median(np.abs(apart)) >= SIDES_APART_DB and SELDOM < right < 1 - SELDOM)


def sides_of(words: Sequence[Word], levels: NDArray[np.float16]) -> list[int | None]:
    """Each word's channel, 1 for the left and 2 for the right, by which is louder meanwhile."""
    sides: list[int | None] = []
    for word in words:
        own = levels[:, word.start // LEVEL_MS : word.end // LEVEL_MS + 1].astype(np.float32)
        left, right = np.square(own).sum(axis=1)
        sides.append(2 if right > left else 1)
    return sides


def _shares(word: Word, turns: Sequence[Turn], names: Sequence[int]) -> list[float]:
    length = max(word.end - word.start, 1)
    covered = dict.fromkeys(names, 0)
    for turn in turns:
        covered[turn.voice] += max(0, min(turn.end, word.end) - max(turn.start, word.start))
    if not any(covered.values()):
        middle = (word.start + word.end) // 2
        nearest = min(turns, key=lambda t: max(t.start - middle, middle - t.end))
        covered[nearest.voice] = length
    return [min(covered[name] / length, 1.0) for name in names]


def _change_cost(before: Word, after: Word) -> float:
    if before.text.endswith((".", "?", "!")):
        return CHANGE_AT_END
    return CHANGE_AT_PAUSE if after.start - before.end >= PAUSE_MS else CHANGE_IN_PHRASE


def _colour(samples: Samples, turns: Sequence[Turn]) -> NDArray[np.float64]:
    """A voice's mean cepstrum (12,), of length 1: rough, but enough to match it with itself."""
    frames = []
    for turn in sorted(turns, key=lambda t: t.start - t.end)[:8]:
        sound = samples[turn.start * SAMPLE_RATE // 1000 : turn.end * SAMPLE_RATE // 1000]
        count = len(sound) // 512
        if count:
            pieces = sound[: count * 512].reshape(count, 512) * np.hanning(512)
            power = np.abs(np.fft.rfft(pieces, axis=1))[:, 6:198].reshape(count, 24, 8).sum(axis=2)
            loud = power.sum(axis=1)
            frames.append(np.log(power[loud > np.median(loud)] + 1e-6))
    if not frames or not sum(map(len, frames)):
        return np.zeros(12)
    mean = (np.concatenate(frames).mean(axis=0) @ cosines(frames[0].shape[1], 13))[1:]
    return np.asarray(mean / max(float(np.linalg.norm(mean)), 1e-9), np.float64)

"""Measure in the background how well captions stand out on the frames behind them.

Only where their look may be hard to read on some picture: one that stands out on black, grey and
white stands out on all.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TypeVar

from tamarind.application.events import Event
from tamarind.application.joblooks import JobLooks
from tamarind.application.loop import Loop
from tamarind.application.ondemand import Frame, OnDemand
from tamarind.application.preview import Preview
from tamarind.application.recordings import Recordings
from tamarind.application.tasks import Tasks
from tamarind.application.texts import Texts
from tamarind.picture.caption import Caption, SaidWord
from tamarind.picture.looks import Look

Found = TypeVar("Found")
Pair = tuple[Caption, Look]

AT_ONCE = 24
"""So many pictures are asked for before others may be."""

_SAMPLE = "The sluice was open all winter."


class ContrastMeter:
    """Contrast ratios (1 to 21) of captions by start time; each caption in each style is measured
    once."""

    def __init__(
        self,
        loop: Loop,
        recordings: Recordings,
        texts: Texts,
        *,
        preview: Preview,
        looks: JobLooks,
        on_demand: OnDemand,
    ) -> None:
        self._recordings, self._texts = recordings, texts
        self._preview, self._looks = preview, looks
        self._on_demand = on_demand
        on_demand.still_found.connect(self._still_found)
        on_demand.stills_done.connect(self._stills_done)
        self.changed: Event[[int]] = Event()
        """More is known of a recording."""
        self._known: dict[int, dict[tuple[Caption, Look], float]] = {}
        self._plain: dict[Look, bool] = {}
        self._asked: tuple[int, object] | None = None
        self._tasks = Tasks(loop, "contrast")
        self._measuring = Tasks(loop, "contrast of captions", latest_only=False)
        self._waiting: dict[int, dict[int, list[Pair]]] = {}
        """What is to be measured, by recording and by the time of its picture."""
        self._being_looked_at: set[int] = set()
        self._asked_for: dict[int, list[int]] = {}
        self._closed = False
        self._unseen: dict[int, set[Pair]] = {}
        """Of these nothing can be measured."""

    def of(self, recording_id: int) -> tuple[tuple[int, float], ...]:
        """Return the ratios known so far by start time (ms). Those that are not known are measured
        now, and ``found`` is emitted."""
        recording = self._recordings.get(recording_id)
        if recording.info is None or recording.info.picture is None:
            return ()
        keys = {cue.look for cue in self._texts.transcript(recording_id).cues}
        stubs = [Caption(0, 1, (), look=key) for key in sorted(keys)]
        looks = tuple(dict.fromkeys(self._looks.of_each(stubs, recording_id)))
        unknown = tuple(look for look in looks if look not in self._plain)
        if unknown:
            self._run(recording_id, unknown, lambda: _plain(unknown), self._plain.update)
            return ()
        return () if all(map(self._plain.__getitem__, looks)) else self._hard(recording_id)

    def _hard(self, recording_id: int) -> tuple[tuple[int, float], ...]:
        """Return the captions whose look does not stand out on every picture."""
        captions = self._preview.captions(recording_id)
        looks = self._looks.of_each(captions, recording_id)
        pairs = [
            (caption, looks[place] if len(looks) > 1 else looks[0])
            for place, caption in enumerate(captions)
        ]
        pairs = [pair for pair in pairs if not self._plain.get(pair[1], True)]
        known = self._known.setdefault(recording_id, {})
        unseen = self._unseen.setdefault(recording_id, set())
        waiting: dict[int, list[Pair]] = {}
        for pair in pairs:
            if pair not in known and pair not in unseen:
                waiting.setdefault((pair[0].start + pair[0].end) // 2, []).append(pair)
        self._waiting[recording_id] = waiting
        self._look(recording_id)
        return tuple((pair[0].start, known[pair]) for pair in pairs if pair in known)

    def _look(self, recording_id: int) -> None:
        """Ask for a few of the frames that are needed, so that others get theirs in between."""
        times = sorted(self._waiting.get(recording_id, ()))[:AT_ONCE]
        if times and recording_id not in self._being_looked_at and not self._closed:
            self._being_looked_at.add(recording_id)
            self._asked_for[recording_id] = times
            self._on_demand.look_at(recording_id, times)

    def _still_found(self, recording_id: int, time: int, frame: Frame) -> None:
        pairs = self._waiting.get(recording_id, {}).pop(time, None)
        if pairs is None or self._closed:
            return

        def then(found: dict[Pair, float | None]) -> None:
            known = self._known.setdefault(recording_id, {})
            known.update({pair: ratio for pair, ratio in found.items() if ratio is not None})
            self._unseen.setdefault(recording_id, set()).update(found.keys() - known.keys())
            if recording_id not in self._being_looked_at:
                self.changed.emit(recording_id)

        self._measuring.run(lambda: _measured(frame, pairs), then, lambda _sentence: None)

    def _stills_done(self, recording_id: int) -> None:
        if recording_id not in self._being_looked_at:
            return
        self._being_looked_at.discard(recording_id)
        waiting = self._waiting.get(recording_id, {})
        for time in self._asked_for.pop(recording_id, ()):
            # There is no picture at that time.
            self._unseen.setdefault(recording_id, set()).update(waiting.pop(time, ()))
        self._look(recording_id)
        if recording_id not in self._being_looked_at:
            self.changed.emit(recording_id)

    def _run(
        self,
        recording_id: int,
        asked: object,
        work: Callable[[], Found],
        take: Callable[[Found], object],
    ) -> None:
        """Compute something once; the same is not asked for again unless something else was."""
        if self._asked == (recording_id, asked):
            return
        self._asked = recording_id, asked

        def then(found: Found) -> None:
            take(found)
            self.changed.emit(recording_id)

        # A picture that cannot be read is told where it is shown.
        self._tasks.run(work, then, lambda _sentence: None)

    def close(self) -> None:
        """Stop measuring."""
        self._closed = True
        self._tasks.close(wait=False)
        self._measuring.close(wait=False)


def _plain(looks: Sequence[Look]) -> dict[Look, bool]:
    """For each style, whether it stands out on any frame."""
    from tamarind.picture.contrast import least_contrast
    from tamarind.picture.looks import LEAST_CONTRAST

    words = tuple(SaidWord(word, 0, 1) for word in _SAMPLE.split())
    sample = Caption(0, 1, (words,), 0, changes=True)
    return {look: least_contrast(look, sample) >= LEAST_CONTRAST for look in looks}


def _measured(frame: Frame, pairs: Sequence[Pair]) -> dict[Pair, float | None]:
    """Return the contrast ratio of a caption on a frame, or None if nothing is drawn."""
    from tamarind.picture.contrast import contrast

    ratios: dict[Pair, float | None] = {}
    for pair in pairs:
        ratio = contrast(frame, *pair)
        ratios[pair] = None if ratio is None else round(ratio, 1)
    return ratios

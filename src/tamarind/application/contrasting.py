"""How well captions stand out on the very pictures that they stand on, measured in the background.

Only where their look may be hard to read on some picture: one that stands out on black, grey and
white stands out on all.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TypeVar

from tamarind.application.events import Event
from tamarind.application.joblooks import JobLooks
from tamarind.application.loop import Loop
from tamarind.application.recordings import Recordings
from tamarind.application.staging import Staging
from tamarind.application.tasks import Tasks
from tamarind.application.texts import Texts
from tamarind.picture.caption import Caption, SaidWord
from tamarind.picture.looks import Look

Found = TypeVar("Found")
_SAMPLE = "The sluice was open all winter."


class Contrasting:
    """Ratios (1 to 21) by when captions begin; what was measured of a caption in a look stays."""

    def __init__(
        self, loop: Loop, recordings: Recordings, texts: Texts, staging: Staging, looks: JobLooks
    ) -> None:
        self._recordings, self._texts = recordings, texts
        self._staging, self._looks = staging, looks
        self.changed: Event[[int]] = Event()
        """More is known of a recording."""
        self._known: dict[int, dict[tuple[Caption, Look], float]] = {}
        self._plain: dict[Look, bool] = {}
        self._asked: tuple[int, object] | None = None
        self._tasks = Tasks(loop, "contrast")

    def of(self, recording_id: int) -> tuple[tuple[int, float], ...]:
        """When each caption begins (ms) that was measured, with its ratio; what is not known yet is
        measured now, and told."""
        recording = self._recordings.get(recording_id)
        if recording.info is None or recording.info.picture is None:
            return ()
        keys = {cue.look for cue in self._texts.transcript(recording_id).cues}
        stubs = [Caption(0, 1, (), look=key) for key in sorted(keys)]
        looks = tuple(dict.fromkeys(self._looks.of_each(stubs, recording_id)))
        unknown = tuple(look for look in looks if look not in self._plain)
        if unknown:
            self._run(recording_id, unknown, lambda _wanted: _plain(unknown), self._plain.update)
            return ()
        return () if all(map(self._plain.__getitem__, looks)) else self._hard(recording_id)

    def _hard(self, recording_id: int) -> tuple[tuple[int, float], ...]:
        """Of captions in looks that are not plain to read on any picture."""
        captions = self._staging.captions(recording_id)
        looks = self._looks.of_each(captions, recording_id)
        pairs = [
            (caption, looks[place] if len(looks) > 1 else looks[0])
            for place, caption in enumerate(captions)
        ]
        pairs = [pair for pair in pairs if not self._plain.get(pair[1], True)]
        known = self._known.setdefault(recording_id, {})
        path = self._recordings.get(recording_id).path
        missing = tuple(pair for pair in pairs if pair not in known)
        if missing:
            self._run(
                recording_id, missing, lambda wanted: _measured(path, missing, wanted), known.update
            )
        return tuple((pair[0].start, known[pair]) for pair in pairs if pair in known)

    def _run(
        self,
        recording_id: int,
        asked: object,
        work: Callable[[Callable[[], bool]], Found],
        take: Callable[[Found], object],
    ) -> None:
        """Find something out once; the same is not asked for again while nothing else was."""
        if self._asked == (recording_id, asked):
            return
        self._asked = recording_id, asked
        is_wanted = self._tasks.is_current()

        def then(found: Found) -> None:
            take(found)
            self.changed.emit(recording_id)

        # A picture that cannot be read is told where it is shown.
        self._tasks.run(lambda: work(is_wanted), then, lambda _sentence: None)

    def close(self) -> None:
        """Measure no more."""
        self._tasks.close(wait=False)


def _plain(looks: Sequence[Look]) -> dict[Look, bool]:
    """Whether each of some looks stands out on any picture."""
    from tamarind.picture.contrast import WANTED, least_contrast

    words = tuple(SaidWord(word, 0, 1) for word in _SAMPLE.split())
    sample = Caption(0, 1, (words,), 0, changes=True)
    return {look: least_contrast(look, sample) >= WANTED for look in looks}


def _measured(
    path: Path, asked: Sequence[tuple[Caption, Look]], is_wanted: Callable[[], bool]
) -> dict[tuple[Caption, Look], float]:
    """How well captions stand out on their own pictures, each in the middle of its time."""
    from tamarind.picture.contrast import contrast
    from tamarind.picture.stills import stills

    times = [(caption.start + caption.end) // 2 for caption, _ in asked]
    ratios: dict[tuple[Caption, Look], float] = {}
    for pair, frame in zip(asked, stills(path, times), strict=False):
        if not is_wanted():
            break
        ratio = contrast(frame, *pair)
        if ratio is not None:
            ratios[pair] = round(ratio, 1)
    return ratios

"""Compose the captions on a recording's picture at a time, exactly as a video would show them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from tamarind.application.events import Event
from tamarind.application.joblooks import JobLooks
from tamarind.application.jobstyles import JobStyles
from tamarind.application.loop import Loop
from tamarind.application.tasks import Tasks
from tamarind.application.texts import Texts
from tamarind.captions.limits import Limits
from tamarind.job.document import Document
from tamarind.job.looks import looks_for
from tamarind.picture.caption import Caption
from tamarind.picture.looks import Look
from tamarind.system.later import Later
from tamarind.transcript.model import Transcript
from tamarind.translation.tracks import as_transcript

if TYPE_CHECKING:
    from tamarind.captions import onpicture
    from tamarind.picture.drawing import Drawing
    from tamarind.picture.frames import Stage
else:
    onpicture = Later("tamarind.captions.onpicture")

AROUND = 24
"""Cues before and after a time that may stand then, or say where lines break."""


MOST_AT_ONCE = 400
"""So many cues are cut anew in less than a moment."""


@dataclass(frozen=True, slots=True)
class _Shown:
    """The text, styles and size that a stage was made from."""

    recording: int
    text: Transcript
    second: Transcript | None
    limits: Limits
    look: Look
    first: int
    last: int


class Preview:
    """Composes captions from the cues around a time only, since a text may have ten thousand; a
    style that cuts cues anew needs all of them."""

    def __init__(self, loop: Loop, texts: Texts, styles: JobStyles, looks: JobLooks) -> None:
        self._texts, self._styles, self._looks = texts, styles, looks
        self._made: tuple[_Shown, Stage] | None = None
        self._asked: _Shown | None = None
        self._tasks = Tasks(loop, "staging")
        self.changed: Event[[]] = Event()
        """Captions that took a while to be cut anew are there."""

    def drawing(
        self, recording_id: int, language: str, time: int, size: tuple[int, int]
    ) -> Drawing | None:
        """Compose all captions on a picture (width, height) at a time (ms), in the source language
        ("") or another."""
        document = self._texts.document(recording_id)
        shown = self._shown(recording_id, document, language, time)
        if self._made is None or not _same(self._made[0], shown):
            if len(shown.text.cues) > MOST_AT_ONCE:
                # Until then what stood there stays, since nobody waits for it while typing.
                self._stage_meanwhile(shown)
            else:
                self._made = shown, _stage(shown, self._looks.own())
        made = self._made
        if made is None or made[0].recording != recording_id:
            return None
        return made[1].drawing(time, size)

    def close(self) -> None:
        """Stop composing."""
        self._tasks.close(wait=False)

    def _stage_meanwhile(self, shown: _Shown) -> None:
        if self._asked is not None and _same(self._asked, shown):
            return
        self._asked = shown

        def take(stage: Stage) -> None:
            self._made, self._asked = (shown, stage), None
            self.changed.emit()

        own = self._looks.own()
        self._tasks.run(lambda: _stage(shown, own), take)

    def captions(self, recording_id: int) -> list[Caption]:
        """Return all captions of a recording as they are drawn."""
        text, second = self._texts_of(self._texts.document(recording_id), "")
        limits = self._styles.limits_of(recording_id)
        return onpicture.captions_of(text, limits, self._looks.of(recording_id), second)

    def _shown(self, recording_id: int, document: Document, language: str, time: int) -> _Shown:
        look = self._looks.of(recording_id)
        source = document.transcript
        place = source.place_at(time) or 0
        if look.fit.line_length or look.fit.lines:
            first, last = 0, len(source.cues)
        else:
            # The same for a while, so that not every step makes a stage anew.
            first = max(place // AROUND * AROUND - AROUND, 0)
            last = min(first + 3 * AROUND, len(source.cues))
        limits = self._styles.limits_of(recording_id, language)
        text, second = self._texts_of(
            replace(document, transcript=replace(source, cues=source.cues[first:last])), language
        )
        return _Shown(recording_id, text, second, limits=limits, look=look, first=first, last=last)

    def _texts_of(self, document: Document, language: str) -> tuple[Transcript, Transcript | None]:
        source = document.transcript
        second = self._looks.second_language
        text = as_transcript(document.track(language), source) if language else source
        has_second = second != language and any(t.language == second for t in document.tracks)
        return text, as_transcript(document.track(second), source) if has_second else None


def _same(one: _Shown, other: _Shown) -> bool:
    """Whether a stage still fits; cues are compared by their contents."""
    if (one.recording, one.look, one.limits, one.first, one.last) != (
        other.recording, other.look, other.limits, other.first, other.last,
    ):  # fmt: skip
        return False
    return _alike(one.text, other.text) and _alike(one.second, other.second)


def _alike(one: Transcript | None, other: Transcript | None) -> bool:
    if one is None or other is None:
        return one is other
    return one.speakers == other.speakers and (one.cues is other.cues or one.cues == other.cues)


def _stage(shown: _Shown, own: Mapping[str, Look]) -> Stage:
    """Make a stage, in any thread; ``own`` are the job's own styles."""
    from tamarind.picture.frames import Stage  # slow to import, and not always needed

    captions = onpicture.captions_of(shown.text, shown.limits, shown.look, shown.second)
    looks = looks_for(captions, shown.look, own)
    return Stage(captions, lambda place: looks[place] if len(looks) > 1 else looks[0])

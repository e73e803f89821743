"""What stands on the picture of a recording at a time: what is previewed is what is written."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from tamarind.application.joblooks import JobLooks
from tamarind.application.jobstyles import JobStyles
from tamarind.application.texts import Texts
from tamarind.captions.limits import Limits
from tamarind.captions.onpicture import captions_of
from tamarind.job.document import Document
from tamarind.picture.caption import Caption
from tamarind.picture.looks import Look
from tamarind.transcript.model import Transcript
from tamarind.translation.tracks import as_transcript

if TYPE_CHECKING:
    from tamarind.picture.drawing import Drawing
    from tamarind.picture.frames import Stage

AROUND = 24
"""Cues before and after a time that may stand then, or say where lines break."""


@dataclass(frozen=True, slots=True)
class _Shown:
    """What a stage was made of."""

    text: Transcript
    second: Transcript | None
    limits: Limits
    look: Look
    first: int
    last: int


class Staging:
    """Makes captions of the cues around a time only, since a text may have ten thousand; a look
    that cuts cues anew needs all of them."""

    def __init__(self, texts: Texts, styles: JobStyles, looks: JobLooks) -> None:
        self._texts, self._styles, self._looks = texts, styles, looks
        self._made: tuple[_Shown, Stage] | None = None

    def drawing(
        self, recording_id: int, language: str, time: int, size: tuple[int, int]
    ) -> Drawing | None:
        """All that stands on a picture (width, height) at a time (ms), in the source's language
        (empty) or another."""
        document = self._texts.document(recording_id)
        shown = self._shown(recording_id, document, language, time)
        if self._made is None or not _same(self._made[0], shown):
            self._made = shown, self._stage(shown, recording_id)
        return self._made[1].drawing(time, size)

    def captions(self, recording_id: int) -> list[Caption]:
        """All captions of a recording, as they are drawn."""
        text, second = self._texts_of(self._texts.document(recording_id), "")
        limits = self._styles.limits_of(recording_id)
        return captions_of(text, limits, self._looks.of(recording_id), second)

    def _stage(self, shown: _Shown, recording_id: int) -> Stage:
        from tamarind.picture.frames import Stage  # slow to import, and not always needed

        captions = captions_of(shown.text, shown.limits, shown.look, shown.second)
        looks = self._looks.of_each(captions, recording_id)
        return Stage(captions, lambda place: looks[place] if len(looks) > 1 else looks[0])

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
        return _Shown(text, second, limits, look, first, last)

    def _texts_of(self, document: Document, language: str) -> tuple[Transcript, Transcript | None]:
        source = document.transcript
        second = self._looks.second_language
        text = as_transcript(document.track(language), source) if language else source
        has_second = second != language and any(t.language == second for t in document.tracks)
        return text, as_transcript(document.track(second), source) if has_second else None


def _same(one: _Shown, other: _Shown) -> bool:
    """Whether a stage serves for another: cues are compared by what they are."""
    if (one.look, one.limits, one.first, one.last) != (
        other.look, other.limits, other.first, other.last,
    ):  # fmt: skip
        return False
    return _alike(one.text, other.text) and _alike(one.second, other.second)


def _alike(one: Transcript | None, other: Transcript | None) -> bool:
    if one is None or other is None:
        return one is other
    return one.speakers == other.speakers and (one.cues is other.cues or one.cues == other.cues)

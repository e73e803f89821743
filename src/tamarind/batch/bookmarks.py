"""Where a transcription stopped, as text kept in the job, so that another worker can continue."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from tamarind.audio.media import SAMPLE_RATE
from tamarind.speech.bookmark import Bookmark
from tamarind.transcript.codec import word_of, word_row
from tamarind.transcript.model import Word

Waiting = tuple[Word, int | None, str]
"""A word, its voice, and its language if that is not the text's."""


@dataclass(frozen=True, slots=True)
class HearingState:
    """The time in the sound, the words (with voice and language) that are in no cue yet, the next
    cue's number, the previous cue's end (ms), and its last word with its voice."""

    sound: Bookmark | None = None
    waiting: tuple[Waiting, ...] = ()
    next_id: int = 1
    after: int = 0
    last: tuple[Word, int | None] | None = None


def written(place: HearingState) -> str:
    """Return a state as text."""
    assert place.sound is not None
    data = {
        "sound": place.sound.data(),
        "waiting": [[word_row(word), *rest] for word, *rest in place.waiting],
        "next_id": place.next_id,
        "after": place.after,
        "last": _row(place.last) if place.last else None,
    }
    return json.dumps(data, ensure_ascii=False)


def read(text: str) -> HearingState:
    """Read a state from text; the beginning if the text is empty or makes no sense."""
    if not text:
        return HearingState()
    try:
        data = json.loads(text)
        return HearingState(
            Bookmark.from_data(data["sound"]),
            tuple(_waiting(data["waiting"])),
            int(data["next_id"]),
            int(data["after"]),
            _said(data["last"]) if data.get("last") else None,
        )
    except (ValueError, KeyError, TypeError):
        return HearingState()


def later(text: str, by: int) -> str:
    """Return the text of a state shifted by so many ms."""
    place = read(text)
    if place.sound is None:
        return ""
    samples = by * SAMPLE_RATE // 1000
    sound = replace(
        place.sound, border=place.sound.border + samples, origin=place.sound.origin + samples
    )
    waiting = tuple(
        (_word_later(word, by), voice, language) for word, voice, language in place.waiting
    )
    last = place.last and (_word_later(place.last[0], by), place.last[1])
    return written(replace(place, sound=sound, waiting=waiting, after=place.after + by, last=last))


def _word_later(word: Word, by: int) -> Word:
    return replace(word, start=word.start + by, end=word.end + by)


def _row(said: tuple[Word, int | None]) -> list[object]:
    word, voice = said
    return [word_row(word), voice]


def _said(row: Sequence[Any]) -> tuple[Word, int | None]:
    word, voice = row
    return _word(word), voice


def _waiting(rows: Sequence[Any]) -> list[Waiting]:
    return [(*_said(row[:2]), str(row[2]) if len(row) > 2 else "") for row in rows]


def _word(row: Sequence[Any]) -> Word:
    text, start, end, confidence, *_ = row
    if not isinstance(text, str) or type(start) is not int or type(end) is not int:
        raise ValueError("a word")
    if confidence is not None and not isinstance(confidence, int | float):
        raise ValueError("a certainty")
    return word_of(row)

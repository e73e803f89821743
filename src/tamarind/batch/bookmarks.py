"""Where a task of hearing stopped, as a text that a job keeps and another worker goes on from."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass

from tamarind.speech.bookmark import Bookmark
from tamarind.transcript.model import Word


@dataclass(frozen=True, slots=True)
class Place:
    """The place in the sound, the words (with their voices) that are not in a cue yet, and the
    number of the next cue and the end of the one before it (ms)."""

    sound: Bookmark | None = None
    waiting: tuple[tuple[Word, int | None], ...] = ()
    next_id: int = 1
    after: int = 0


def written(place: Place) -> str:
    """A place as text."""
    assert place.sound is not None
    waiting = [
        [word.text, word.start, word.end, word.certainty, word.readings, voice]
        for word, voice in place.waiting
    ]
    data = {
        "sound": place.sound.data(),
        "waiting": waiting,
        "next_id": place.next_id,
        "after": place.after,
    }
    return json.dumps(data, ensure_ascii=False)


def read(text: str) -> Place:
    """A place from its text; the beginning for a text that is empty or cannot be one."""
    if not text:
        return Place()
    try:
        data = json.loads(text)
        return Place(
            Bookmark.from_data(data["sound"]),
            tuple(_waiting(data["waiting"])),
            int(data["next_id"]),
            int(data["after"]),
        )
    except (ValueError, KeyError, TypeError):
        return Place()


def _waiting(rows: Sequence[Sequence[object]]) -> list[tuple[Word, int | None]]:
    return [
        (Word(str(text), int(start), int(end), certainty, tuple(readings)), voice)  # type: ignore
        for text, start, end, certainty, readings, voice in rows
    ]

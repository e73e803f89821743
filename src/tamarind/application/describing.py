"""Descriptions of what is seen in the recordings of the open job; every act is a step of undo."""

from __future__ import annotations

from dataclasses import dataclass, replace

from tamarind.application.recordings import Recordings
from tamarind.application.texts import Texts
from tamarind.transcript.descriptions import (
    Description,
    Span,
    gaps,
    problem_of,
    room_for,
    tidied,
    words_that_fit,
)


@dataclass(frozen=True, slots=True)
class Room:
    """A gap in what is said, with the description that is read in it, if there is one; or a
    description for which there is no gap. ``problem`` is what is wrong with it."""

    start: int
    end: int
    described: Description | None = None
    problem: str = ""

    @property
    def words(self) -> int:
        """How many words fit from where the description begins."""
        begins = self.described.start if self.described is not None else self.start
        return words_that_fit(self.end - begins)


class Describing:
    """Recordings are told by their numbers."""

    def __init__(self, recordings: Recordings, texts: Texts) -> None:
        self._recordings, self._texts = recordings, texts

    def of(self, recording_id: int) -> tuple[Description, ...]:
        """A recording's descriptions, in order."""
        found = self._texts.document(recording_id).descriptions
        return tuple(sorted(found, key=lambda one: one.start))

    def gaps(self, recording_id: int) -> list[Span]:
        """Where nobody speaks for long enough."""
        length = self._recordings.get(recording_id).duration
        return gaps(self._texts.transcript(recording_id), length)

    def rooms(self, recording_id: int) -> list[Room]:
        """All places for descriptions and all descriptions, in order."""
        there = self.gaps(recording_id)
        described = self.of(recording_id)
        found: list[Room] = []
        for one in described:
            room = room_for(one, there)
            problem = problem_of(one, there)
            span = room or (one.start, one.end)
            found.append(Room(span[0], span[1], one, problem))
        taken = {room_for(one, there) for one in described}
        found += [Room(*span) for span in there if span not in taken]
        return sorted(
            found, key=lambda room: room.described.start if room.described else room.start
        )

    def write(self, recording_id: int, start: int, text: str, number: int | None = None) -> None:
        """Say what is seen from a time on (ms), in place of the description of a ``number`` if one
        is given; an empty text takes it out. Typing in one place is one step of undo."""
        document = self._texts.document(recording_id)
        text = tidied(text)
        others = [one for one in document.descriptions if one.id != number]
        if number is None:
            number = max((one.id for one in document.descriptions), default=0) + 1
        if text:
            others.append(Description(number, start, text))
        found = tuple(sorted(others, key=lambda one: (one.start, one.id)))
        if found != document.descriptions:
            self._texts.edit_document(
                recording_id, "description", replace(document, descriptions=found),
                f"description {number}",
            )  # fmt: skip

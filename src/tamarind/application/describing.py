"""Audio descriptions of the open job's recordings; every change is a step of undo."""

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
    """A gap in the speech with the description that is read in it, if any, or a description without
    a gap; ``problem`` says what is wrong with it."""

    start: int
    end: int
    described: Description | None = None
    problem: str = ""

    @property
    def words(self) -> int:
        """Return how many words fit from where the description begins."""
        begins = self.described.start if self.described is not None else self.start
        return words_that_fit(self.end - begins)


class Describing:
    """Reads and changes the audio descriptions of recordings, which are given by number."""

    def __init__(self, recordings: Recordings, texts: Texts) -> None:
        self._recordings, self._texts = recordings, texts

    def of(self, recording_id: int) -> tuple[Description, ...]:
        """Return a recording's descriptions in order."""
        found = self._texts.document(recording_id).descriptions
        return tuple(sorted(found, key=lambda one: one.start))

    def gaps(self, recording_id: int) -> list[Span]:
        """Return the gaps in the speech that are long enough for a description."""
        length = self._recordings.get(recording_id).duration
        return gaps(self._texts.transcript(recording_id), length)

    def rooms(self, recording_id: int) -> list[Room]:
        """Return all gaps and all descriptions in order."""
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
        """Write a description at a time (ms), or replace the one with this ``number``; an empty
        text removes it. Typing in one place is one step of undo."""
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

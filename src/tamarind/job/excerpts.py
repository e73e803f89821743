"""The excerpts of a job: those of all its recordings, in the person's order."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from tamarind.job.document import Document
from tamarind.job.recording import Recording
from tamarind.transcript.excerpts import Excerpt, quote_of, speakers_of


@dataclass(frozen=True, slots=True)
class Chosen:
    """An excerpt with its recording."""

    recording: Recording
    document: Document
    excerpt: Excerpt

    @property
    def key(self) -> tuple[int, int]:
        """The numbers of its recording and its own."""
        return self.recording.id, self.excerpt.id

    @property
    def quote(self) -> str:
        """Its current text."""
        return quote_of(self.document.transcript, self.excerpt)

    @property
    def speakers(self) -> str:
        """Its speakers."""
        text = self.document.transcript
        named = (text.speaker(number) for number in speakers_of(text, self.excerpt))
        return ", ".join(speaker.label for speaker in named if speaker is not None)

    @property
    def name(self) -> str:
        """Its name, or else how it begins."""
        if self.excerpt.name:
            return self.excerpt.name
        words: list[str] = []
        for word in (self.quote or self.excerpt.quote).split()[:OPENING_WORDS]:
            words.append(word)
            if word.endswith((".", "?", "!", "…")) and len(words) > 1:
                break
        return " ".join(words).strip(_MARKS) or "Excerpt"


OPENING_WORDS = 6
_MARKS = ' ,;:.–—-…“”"'


def in_order(documents: Iterable[tuple[Recording, Document]]) -> list[Chosen]:
    """Return all excerpts in their order; those at the same place by recording and number."""
    found = [
        Chosen(recording, document, excerpt)
        for recording, document in documents
        for excerpt in document.excerpts
    ]
    return sorted(found, key=lambda one: (one.excerpt.place, *one.key))


def tags_of(chosen: Iterable[Chosen]) -> list[str]:
    """Return all tags, each once, in order of first use."""
    return list(dict.fromkeys(tag for one in chosen for tag in one.excerpt.tags))


def fitting(chosen: Sequence[Chosen], sought: str = "", tags: Sequence[str] = ()) -> list[Chosen]:
    """Return those with any of the tags, if some are given, that contain all of the sought words,
    ignoring case: in the text, speakers, name, note or tags."""
    words = sought.casefold().split()
    wanted = {tag.casefold() for tag in tags}
    found = []
    for one in chosen:
        excerpt = one.excerpt
        if wanted and not wanted & {tag.casefold() for tag in excerpt.tags}:
            continue
        about = " ".join(
            (one.quote, one.speakers, excerpt.name, excerpt.note, *excerpt.tags)
        ).casefold()
        if all(word in about for word in words):
            found.append(one)
    return found

"""The difference between two versions of a document, small enough to keep; undo applies it in
reverse.

A change holds only the cues that differ, so what is heard at the end meanwhile does not touch it.
"""

from __future__ import annotations

import json
import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from tamarind.job.cuedata import cue_of, row_of
from tamarind.job.document import Document
from tamarind.transcript.changed import changed_range
from tamarind.transcript.codec import speaker_of, speaker_row
from tamarind.transcript.descriptions import Description, description_of
from tamarind.transcript.descriptions import row_of as description_row
from tamarind.transcript.excerpts import Excerpt, excerpt_of
from tamarind.transcript.excerpts import row_of as excerpt_row
from tamarind.transcript.model import Cue, Speaker, Transcript
from tamarind.translation.entries import changed_cues, with_changes
from tamarind.translation.tracks import Track, Translated, entry_of, entry_row


class ChangeError(ValueError):
    """A change does not fit the text to which it is applied."""


@dataclass(frozen=True, slots=True)
class TrackChange:
    """The changes in one language: entries by cue (None for no entry), and whether the track
    existed before and after."""

    language: str
    before: Mapping[int, Translated | None]
    after: Mapping[int, Translated | None]
    was_there: bool
    is_there: bool

    def turned(self) -> TrackChange:
        """Return the reverse change."""
        return TrackChange(self.language, self.after, self.before, self.is_there, self.was_there)


@dataclass(frozen=True, slots=True)
class Change:
    """``new`` cues from index ``first`` on in place of ``old`` ones; changes of the tracks; and
    speakers, language, preamble and excerpts before and after, None if unchanged."""

    first: int
    old: tuple[Cue, ...]
    new: tuple[Cue, ...]
    speakers: tuple[tuple[Speaker, ...], tuple[Speaker, ...]] | None = None
    language: tuple[str, str] | None = None
    tracks: tuple[TrackChange, ...] = ()
    preamble: tuple[str, str] | None = None
    excerpts: tuple[tuple[Excerpt, ...], tuple[Excerpt, ...]] | None = None
    descriptions: tuple[tuple[Description, ...], tuple[Description, ...]] | None = None
    order: tuple[tuple[str, ...], tuple[str, ...]] | None = None
    """The languages of the tracks before and after, where they are others or stand otherwise."""

    @property
    def size(self) -> int:
        """The number of cues and track entries in it."""
        return len(self.old) + len(self.new) + sum(len(track.after) for track in self.tracks)

    @property
    def is_of_excerpts(self) -> bool:
        """Whether only excerpts changed."""
        return self.excerpts is not None and not (
            self.old or self.new or self.speakers or self.language or self.tracks or self.preamble
        )

    def turned(self) -> Change:
        """Return the reverse change."""
        return Change(
            self.first,
            self.new,
            self.old,
            speakers=self.speakers and (self.speakers[1], self.speakers[0]),
            language=self.language and (self.language[1], self.language[0]),
            tracks=tuple(track.turned() for track in self.tracks),
            preamble=self.preamble and (self.preamble[1], self.preamble[0]),
            excerpts=self.excerpts and (self.excerpts[1], self.excerpts[0]),
            descriptions=self.descriptions and (self.descriptions[1], self.descriptions[0]),
            order=self.order and (self.order[1], self.order[0]),
        )

    def joined(self, following: Change) -> Change | None:
        """Return this change and the next as one if that changed only cues that this one wrote;
        else None. It looks at no other cues, so typing costs the same in a long text."""
        first = following.first - self.first
        last = first + len(following.old)
        rest = replace(following, first=0, old=(), new=())
        if rest != Change(0, (), ()) or first < 0 or last > len(self.new):
            return None
        return replace(self, new=(*self.new[:first], *following.new, *self.new[last:]))

    def made_in(self, document: Document) -> Document:
        """Return the document with the change. Raises ChangeError if its old cues are not there."""
        text = document.transcript
        last = self.first + len(self.old)
        if text.cues[self.first : last] != self.old:
            raise ChangeError("The text is another one.")
        cues = (*text.cues[: self.first], *self.new, *text.cues[last:])
        speakers = text.speakers
        if self.speakers:
            known = {speaker.id for pair in self.speakers for speaker in pair}
            later = tuple(speaker for speaker in speakers if speaker.id not in known)
            speakers = self.speakers[1] + later
        language = self.language[1] if self.language else text.language
        preamble = self.preamble[1] if self.preamble else text.preamble
        text = Transcript(language, cues, speakers, preamble)
        tracks = {track.language: track for track in document.tracks}
        for change in self.tracks:
            texts = tracks.get(change.language, Track(change.language)).texts
            tracks[change.language] = Track(change.language, with_changes(texts, change.after))
            if not change.is_there:
                del tracks[change.language]
        if self.order:
            first = [language for language in self.order[1] if language in tracks]
            tracks = {language: tracks[language] for language in dict.fromkeys([*first, *tracks])}
        excerpts = self.excerpts[1] if self.excerpts else document.excerpts
        seen = self.descriptions[1] if self.descriptions else document.descriptions
        return Document(text, tuple(tracks.values()), excerpts, seen)

    def packed(self) -> bytes:
        """Return the change as bytes to be kept."""
        data = {
            "first": self.first,
            "old": list(map(row_of, self.old)),
            "new": list(map(row_of, self.new)),
            "speakers": self.speakers and [list(map(speaker_row, p)) for p in self.speakers],
            "language": self.language,
            "tracks": [
                [t.language, _entries(t.before), _entries(t.after), t.was_there, t.is_there]
                for t in self.tracks
            ],
            "preamble": self.preamble,
            "order": self.order,
            "descriptions": self.descriptions
            and [list(map(description_row, s)) for s in self.descriptions],
            "excerpts": self.excerpts and [list(map(excerpt_row, s)) for s in self.excerpts],
        }
        return zlib.compress(json.dumps(data, ensure_ascii=False).encode(), 1)

    @classmethod
    def unpacked(cls, packed: bytes) -> Change:
        """Return the change in the bytes of ``packed``; raises ChangeError."""
        try:
            data = json.loads(zlib.decompress(packed))
            speakers = data["speakers"]
            return cls(
                data["first"],
                tuple(map(cue_of, data["old"])),
                tuple(map(cue_of, data["new"])),
                speakers and (_speakers(speakers[0]), _speakers(speakers[1])),
                data["language"] and (data["language"][0], data["language"][1]),
                tuple(
                    TrackChange(language, _texts(before), _texts(after), was, is_there)
                    for language, before, after, was, is_there in data["tracks"]
                ),
                data.get("preamble") and (data["preamble"][0], data["preamble"][1]),
                data.get("excerpts")
                and (_excerpts(data["excerpts"][0]), _excerpts(data["excerpts"][1])),
                data.get("descriptions")
                and (_seen(data["descriptions"][0]), _seen(data["descriptions"][1])),
                data.get("order") and (_languages(data["order"][0]), _languages(data["order"][1])),
            )
        except (zlib.error, ValueError, KeyError, TypeError, IndexError) as error:
            raise ChangeError("A kept step is damaged.") from error


def between(before: Document, after: Document) -> Change:
    """Return the change from ``before`` to ``after``; what they share is found by identity."""
    old, new = before.transcript, after.transcript
    first, old_last, new_last = changed_range(old.cues, new.cues)
    languages = dict.fromkeys(track.language for track in (*before.tracks, *after.tracks))
    tracks = (_track_change(language, before, after) for language in languages)
    return Change(
        first,
        old.cues[first:old_last],
        new.cues[first:new_last],
        speakers=None if old.speakers == new.speakers else (old.speakers, new.speakers),
        language=None if old.language == new.language else (old.language, new.language),
        tracks=tuple(track for track in tracks if track is not None),
        preamble=None if old.preamble == new.preamble else (old.preamble, new.preamble),
        excerpts=None if before.excerpts == after.excerpts else (before.excerpts, after.excerpts),
        descriptions=None
        if before.descriptions == after.descriptions
        else (before.descriptions, after.descriptions),
        order=_orders(before, after),
    )


def _orders(before: Document, after: Document) -> tuple[tuple[str, ...], tuple[str, ...]] | None:
    was, now = (tuple(track.language for track in one.tracks) for one in (before, after))
    return None if was == now else (was, now)


def _track_change(language: str, before: Document, after: Document) -> TrackChange | None:
    old = next((t for t in before.tracks if t.language == language), None)
    new = next((t for t in after.tracks if t.language == language), None)
    if old is new:
        return None
    was, now = (old.texts if old else {}), (new.texts if new else {})
    cues = sorted(changed_cues(was, now))
    return TrackChange(
        language,
        {cue: was.get(cue) for cue in cues},
        {cue: now.get(cue) for cue in cues},
        old is not None,
        new is not None,
    )


def _entries(texts: Mapping[int, Translated | None]) -> list[list[Any]]:
    return [[cue, entry and entry_row(entry)] for cue, entry in texts.items()]


def _texts(entries: Sequence[Any]) -> dict[int, Translated | None]:
    return {cue: entry and entry_of(entry) for cue, entry in entries}


def _excerpts(rows: Sequence[Any]) -> tuple[Excerpt, ...]:
    return tuple(map(excerpt_of, rows))


def _languages(tags: Sequence[Any]) -> tuple[str, ...]:
    if not all(isinstance(tag, str) for tag in tags):
        raise ValueError("languages")
    return tuple(tags)


def _seen(rows: Sequence[Any]) -> tuple[Description, ...]:
    return tuple(map(description_of, rows))


def _speakers(pairs: Sequence[Any]) -> tuple[Speaker, ...]:
    return tuple(map(speaker_of, pairs))

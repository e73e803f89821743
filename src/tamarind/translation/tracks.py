"""Tracks: a text in another language, hung on the cues of its source."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from hashlib import blake2b

from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.reconcile import spread
from tamarind.transcript.survey import changed_range


@dataclass(frozen=True, slots=True)
class Translated:
    """One cue's translation, and the fingerprint of the source text that it was made from."""

    text: str
    source: str
    by_person: bool = False


@dataclass(frozen=True, slots=True)
class Track:
    """A language version; cues without an entry have not been translated yet."""

    language: str
    texts: Mapping[int, Translated] = field(default_factory=dict)

    def text(self, cue_id: int) -> str:
        """The translation of a cue, empty if there is none."""
        entry = self.texts.get(cue_id)
        return entry.text if entry else ""

    def is_stale(self, cue: Cue) -> bool:
        """Whether the source has changed since the translation was made."""
        entry = self.texts.get(cue.id)
        return entry is not None and entry.source != source_mark(cue)

    def is_missing(self, cue: Cue) -> bool:
        """Whether a cue with text has no translation."""
        return bool(cue.words) and not self.text(cue.id)


def source_mark(cue: Cue) -> str:
    """A fingerprint of a cue's words, by which staleness is told."""
    return blake2b(cue.text.encode(), digest_size=8).hexdigest()


def with_texts(track: Track, cues: Iterable[Cue], texts: Iterable[str]) -> Track:
    """The track with machine translations for these cues, in order."""
    changed = dict(track.texts)
    for cue, text in zip(cues, texts, strict=True):
        changed[cue.id] = Translated(text, source_mark(cue))
    return replace(track, texts=changed)


def with_edit(track: Track, cue: Cue, text: str) -> Track:
    """The track with a person's translation of a cue, made from the source as it is now."""
    return replace(track, texts={**track.texts, cue.id: Translated(text, source_mark(cue), True)})


def to_translate(track: Track, transcript: Transcript) -> list[Cue]:
    """The cues with no translation, and the stale ones that no person has written."""
    return [
        cue
        for cue in transcript.cues
        if cue.words
        and (track.is_missing(cue) or (track.is_stale(cue) and not track.texts[cue.id].by_person))
    ]


def follow(track: Track, before: Transcript, after: Transcript) -> Track:
    """Carry a track along when cues of its source were split, joined, or taken out.

    A translation is divided like its source, by length, at a space; the translations of joined
    cues are joined. Where nothing else changed, such a translation is as fresh as it was.
    """
    first, old_last, new_last = changed_range(before.cues, after.cues)
    old = {cue.id: cue for cue in before.cues[first:old_last]}
    new = {cue.id: cue for cue in after.cues[first:new_last]}
    gone = [cue for cue in old.values() if cue.id not in new]
    come = [cue for cue in new.values() if cue.id not in old]
    if not gone and not come:
        return track
    texts = dict(track.texts)
    for cue in come:
        place = after.place_of(cue.id)
        head = after.cues[place - 1] if place else None
        if head and head.id in old and old[head.id].words == head.words + cue.words:
            _divide(texts, old[head.id], head, cue)
    for cue in gone:
        place = before.place_of(cue.id)
        head = before.cues[place - 1] if place else None
        if head and head.id in new and new[head.id].words == head.words + cue.words:
            _unite(texts, head, cue, new[head.id])
        texts.pop(cue.id, None)
    return replace(track, texts=texts)


def as_transcript(track: Track, source: Transcript) -> Transcript:
    """The translation as a text of its own: the source's times, words spread over each cue."""
    cues = tuple(
        replace(
            cue,
            words=tuple(spread(track.text(cue.id).split(), cue.start, cue.end)),
            breaks=None,
        )
        for cue in source.cues
    )
    return replace(source, language=track.language, cues=cues)


def _divide(texts: dict[int, Translated], whole: Cue, head: Cue, tail: Cue) -> None:
    entry = texts.get(whole.id)
    if entry is None:
        return
    fresh = entry.source == source_mark(whole)
    words = entry.text.split()
    place = round(len(words) * len(head.text) / max(len(whole.text), 1))
    place = min(max(place, 1), max(len(words) - 1, 1))
    for cue, part in ((head, words[:place]), (tail, words[place:])):
        mark = source_mark(cue) if fresh else entry.source
        texts[cue.id] = Translated(" ".join(part), mark, entry.by_person)


def _unite(texts: dict[int, Translated], head: Cue, tail: Cue, whole: Cue) -> None:
    first, second = texts.get(head.id), texts.get(tail.id)
    if first is None and second is None:
        return
    parts = [(head, first), (tail, second)]
    fresh = all(entry is not None and entry.source == source_mark(cue) for cue, entry in parts)
    text = " ".join(entry.text for _, entry in parts if entry and entry.text)
    by_person = any(entry is not None and entry.by_person for _, entry in parts)
    texts[whole.id] = Translated(text, source_mark(whole) if fresh else "", by_person)

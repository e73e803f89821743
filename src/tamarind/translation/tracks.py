"""Tracks: translations attached to the cues of their source."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from hashlib import blake2b
from typing import Any

from tamarind.transcript.bounds import clean_text, is_clean
from tamarind.transcript.changed import changed_range
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.reconcile import shared_spans, spread
from tamarind.transcript.sentences import bare
from tamarind.transcript.tokens import joined, tokens_of
from tamarind.translation.entries import with_changes


@dataclass(frozen=True, slots=True)
class Translated:
    """One cue's translation, and the fingerprint of the source text that it was made from.

    A person has written it (``by_person``), taken it as it is (``approved``), or marked it to be
    looked at later (``doubtful``); ``comment`` is what they noted on it.
    """

    text: str
    source: str
    by_person: bool = False
    approved: bool = False
    doubtful: bool = False
    comment: str = ""

    def __post_init__(self) -> None:
        # Whoever pastes characters that are none has them in no translation.
        for name in ("text", "comment"):
            if not is_clean(value := getattr(self, name)):
                object.__setattr__(self, name, clean_text(value))

    @property
    def is_settled(self) -> bool:
        """Whether no machine may replace it."""
        return self.by_person or self.approved


_DASHES = "-–—"
_FLAGS = ("by_person", "approved", "doubtful")


def entry_row(entry: Translated) -> list[Any]:
    """Return text, source mark, what a person has done with it, and a comment if there is one, as
    plain data."""
    flags = sum(getattr(entry, name) << bit for bit, name in enumerate(_FLAGS))
    return [entry.text, entry.source, flags, *([entry.comment] if entry.comment else [])]


def entry_of(row: Sequence[Any]) -> Translated:
    """Return the entry of a row. Raises ValueError."""
    text, source, flags, *more = row
    comment = more[0] if more else ""
    if not all(isinstance(one, str) for one in (text, source, comment)) or len(more) > 1:
        raise ValueError("a translation that is none")
    if not isinstance(flags, int) or not 0 <= flags < 1 << len(_FLAGS):
        raise ValueError("what a person has done with a translation")
    by_person, approved, doubtful = (bool(flags >> bit & 1) for bit in range(len(_FLAGS)))
    return Translated(
        text, source, by_person, approved=approved, doubtful=doubtful, comment=comment
    )


@dataclass(frozen=True, slots=True)
class Track:
    """A language version; cues without an entry have not been translated yet."""

    language: str
    texts: Mapping[int, Translated] = field(default_factory=dict)

    def text(self, cue_id: int) -> str:
        """Return the translation of a cue, or ""."""
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
    """Return a fingerprint of a cue's words, by which staleness is told."""
    return blake2b(cue.text.encode(), digest_size=8).hexdigest()


def with_texts(track: Track, cues: Iterable[Cue], texts: Iterable[str]) -> Track:
    """Return the track with machine translations for these cues, in order."""
    return _changed(
        track,
        {
            cue.id: Translated(clean_text(text), source_mark(cue), comment=_comment(track, cue))
            for cue, text in zip(cues, texts, strict=True)
        },
    )


def _changed(track: Track, changes: Mapping[int, Translated | None]) -> Track:
    """Return the track with other entries for some cues; the same object if nothing differs."""
    texts = with_changes(track.texts, changes)
    return track if texts is track.texts else replace(track, texts=texts)


def _comment(track: Track, cue: Cue) -> str:
    """Return an entry's comment, which stays whatever becomes of its text."""
    entry = track.texts.get(cue.id)
    return entry.comment if entry is not None else ""


def with_some(track: Track, cues: Iterable[Cue], texts: Mapping[int, str]) -> Track:
    """Return the track with machine translations for those of the cues that have one, by id."""
    own = [cue for cue in cues if cue.id in texts]
    return with_texts(track, own, [texts[cue.id] for cue in own])


def with_edit(track: Track, cue: Cue, text: str) -> Track:
    """Return the track with a person's translation of a cue, made from the current source."""
    edited = Translated(clean_text(text), source_mark(cue), True, comment=_comment(track, cue))
    return _changed(track, {cue.id: edited})


def with_rewording(track: Track, cues: Iterable[Cue], texts: Mapping[int, str]) -> Track:
    """Return the track with other texts, by cue id, where they differ.

    Who only replaces words everywhere has not read what is around them: a machine's translation
    stays one.
    """
    changes: dict[int, Translated | None] = {}
    for cue in cues:
        text = clean_text(texts.get(cue.id, track.text(cue.id)))
        if text == track.text(cue.id):
            continue
        entry = track.texts.get(cue.id) or Translated("", source_mark(cue), True)
        changes[cue.id] = replace(entry, text=text)
    return _changed(track, changes)


def with_approval(track: Track, cues: Iterable[Cue], approved: bool = True) -> Track:
    """Return the track with translations approved for the current source, or not any more; a doubt
    mark is removed then. Untranslated cues stay so."""
    changes: dict[int, Translated | None] = {}
    for cue in cues:
        entry = track.texts.get(cue.id)
        if entry is not None and entry.text:
            mark = source_mark(cue) if approved else entry.source
            changes[cue.id] = replace(entry, approved=approved, doubtful=False, source=mark)
    return _changed(track, changes)


def with_doubt(track: Track, cue: Cue, doubtful: bool) -> Track:
    """Return the track with a translation marked for later review, or not any more."""
    entry = track.texts.get(cue.id)
    if entry is None:
        return track
    marked = replace(entry, doubtful=doubtful, approved=entry.approved and not doubtful)
    return _changed(track, {cue.id: marked})


def with_comment(track: Track, cue: Cue, comment: str) -> Track:
    """Return the track with a comment on a cue's translation, or without one; unchanged if there is
    no translation."""
    entry = track.texts.get(cue.id)
    if entry is None:
        return track
    noted = replace(entry, comment=clean_text(comment))
    return _changed(track, {cue.id: noted})


def with_word_moved(track: Track, cue: Cue, following: Cue, forward: bool) -> Track:
    """Return the track with the last word of a cue's translation moved to the next cue, or the next
    cue's first word moved back; unchanged if there is no word."""
    first, second = tokens_of(track.text(cue.id)), tokens_of(track.text(following.id))
    if forward and first:
        first, second = first[:-1], [first[-1], *second]
    elif not forward and second:
        first, second = [*first, second[0]], second[1:]
    else:
        return track
    return with_edit(with_edit(track, cue, joined(first)), following, joined(second))


def by_time(cues: Sequence[Cue], words: Sequence[Word]) -> list[str]:
    """Return what was transcribed in another language as a text for each cue: a word goes to the
    cue in whose time its middle lies, or to the nearest."""
    if not cues:
        return []
    starts = [cue.start for cue in cues]
    texts: list[list[str]] = [[] for _ in cues]
    for word in words:
        middle = (word.start + word.end) // 2
        place = max(bisect_right(starts, middle) - 1, 0)
        if place + 1 < len(cues) and middle - cues[place].end > cues[place + 1].start - middle:
            place += 1
        texts[place].append(word.text)
    return [" ".join(own) for own in texts]


def to_translate(track: Track, transcript: Transcript) -> list[Cue]:
    """Return the cues with no translation, and the stale ones that no person has written."""
    return [cue for cue in transcript.cues if wants_translating(track, cue)]


def wants_translating(track: Track, cue: Cue) -> bool:
    """Whether a cue has no translation, or a stale one that no person has written."""
    if not cue.words:
        return False
    if track.is_missing(cue):
        return True
    return not track.texts[cue.id].is_settled and track.is_stale(cue)


def follow(track: Track, before: Transcript, after: Transcript) -> Track:
    """Update a track after cues of its source were split, joined, cut anew, or removed.

    Where the same words now stand in other cues, their translations are put together and shared
    out again by length, at spaces. What nothing else has happened to is as fresh as it was.
    """
    first, old_last, new_last = changed_range(before.cues, after.cues)
    old, new = before.cues[first:old_last], after.cues[first:new_last]
    stay = {cue.id for cue in new}
    if len(old) == len(new) and all(cue.id in stay and cue.words for cue in old):
        same = all(one.words == other.words for one, other in zip(old, new, strict=True))
        if same or not _cut_anew(old, new):
            return track
    here = {cue.id for cue in (*old, *new)}
    texts = {cue: track.texts[cue] for cue in here if cue in track.texts and cue in stay}
    for was, now in _recut(old, new):
        _share_out(track, texts, was, now)
    return _changed(track, {cue: texts.get(cue) for cue in here})


def as_transcript(track: Track, source: Transcript) -> Transcript:
    """Return the translation as a text of its own: the source's times, words spread over each
    cue."""
    cues = tuple(
        replace(cue, words=_words(cue, track.text(cue.id)), breaks=None) for cue in source.cues
    )
    cues = tuple(
        replace(cue, breaks=_dialogue(cue)) if _is_dialogue(own) else cue
        for cue, own in zip(cues, source.cues, strict=True)
    )
    return replace(source, language=track.language, cues=cues)


def _words(cue: Cue, text: str) -> tuple[Word, ...]:
    """Return a translation's words over the time of its cue. Formats of all of the source, such as
    italics, apply to all of them; those of some of its words to the same words."""
    shared = shared_spans(cue.words)
    words = spread(tokens_of(text), cue.start, cue.end, shared)
    own = {
        bare(word.text): word.spans
        for word in cue.words
        if len(word.spans) > len(shared) and bare(word.text)
    }
    if not own:
        return tuple(words)
    return tuple(replace(word, spans=own.get(bare(word.text), word.spans)) for word in words)


def _is_dialogue(cue: Cue) -> bool:
    """Whether several lines of a cue begin with a dash, one a speaker."""
    return len(cue.lines) > 1 and all(line[:1] in _DASHES for line in cue.lines)


def _dialogue(cue: Cue) -> tuple[int, ...] | None:
    """Return lines that begin at each dash."""
    texts = [word.text for word in cue.words]
    begins = tuple(
        place
        for place, text in enumerate(texts)
        if place and text[:1] in _DASHES and texts[place - 1][-1:] in '.?!…”"»'
    )
    return begins or None


def _cut_anew(old: Sequence[Cue], new: Sequence[Cue]) -> bool:
    return any(True for _ in _recut(old, new))


def _recut(old: Sequence[Cue], new: Sequence[Cue]) -> Iterator[tuple[list[Cue], list[Cue]]]:
    """Yield runs of cues that hold the same words in other cuts, as short as possible."""
    ends = {}
    at = 0
    texts = [word.text for cue in new for word in cue.words]
    for place, cue in enumerate(new):
        at += len(cue.words)
        ends[at] = place + 1
    if texts != [word.text for cue in old for word in cue.words]:
        yield from _recut_between_kept(old, new)
        return
    at = 0
    run: list[Cue] = []
    begun = 0
    for cue in old:
        run.append(cue)
        at += len(cue.words)
        stop = ends.get(at)
        if stop is None or stop < begun:
            continue
        now = list(new[begun:stop])
        if [one.id for one in run] != [one.id for one in now] or len(run) > 1:
            yield run, now
        run, begun = [], stop


def _recut_between_kept(
    old: Sequence[Cue], new: Sequence[Cue]
) -> Iterator[tuple[list[Cue], list[Cue]]]:
    """As ``_recut``, for texts that differ elsewhere too: a cue that was split or joined."""
    places = {cue.id: place for place, cue in enumerate(new)}
    for at, cue in enumerate(old):
        place = places.get(cue.id)
        if place is None or cue.words == new[place].words:
            continue
        for was, now in (
            ([cue], list(new[place : place + 2])),
            (list(old[at : at + 2]), [new[place]]),
        ):
            if len(was) + len(now) == 3 and _words_of(was) == _words_of(now):
                yield was, now


def _words_of(cues: Sequence[Cue]) -> list[str]:
    return [word.text for cue in cues for word in cue.words]


def _share_out(
    track: Track, texts: dict[int, Translated], was: Sequence[Cue], now: Sequence[Cue]
) -> None:
    """Give the translations of some cues to those that hold their words now."""
    entries = [track.texts[cue.id] for cue in was if cue.id in track.texts]
    if not entries:
        return
    spoken = [cue for cue in was if cue.words]
    fresh = all(
        cue.id in track.texts and track.texts[cue.id].source == source_mark(cue) for cue in spoken
    )
    by_person = any(entry.by_person for entry in entries)
    approved = all(entry.approved for entry in entries)
    doubtful = any(entry.doubtful for entry in entries)
    comments = " ".join(entry.comment for entry in entries if entry.comment)
    words = tokens_of(" ".join(entry.text for entry in entries if entry.text))
    total = max(sum(len(cue.text) for cue in now), 1)
    begun = letters = 0
    for place, cue in enumerate(now):
        letters += len(cue.text)
        left = len(now) - place - 1
        stop = len(words) if not left else round(len(words) * letters / total)
        stop = min(max(stop, begun + 1), max(len(words) - left, begun))
        mark = source_mark(cue) if fresh else entries[0].source if len(now) > len(was) else ""
        text, comment = joined(words[begun:stop]), comments if not place else ""
        texts[cue.id] = Translated(
            text, mark, by_person, approved=approved, doubtful=doubtful, comment=comment
        )
        begun = stop

"""Keep, change and order the excerpts of the open job; every change is a step of undo."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

from tamarind.application.events import Event
from tamarind.application.recordings import Recordings
from tamarind.application.sounds import Sounds
from tamarind.application.texts import Texts
from tamarind.job.document import Document
from tamarind.job.excerpts import Chosen, in_order
from tamarind.speech.cutpoints import around
from tamarind.transcript.excerpts import (
    SHORTEST_MS,
    Excerpt,
    Span,
    lawful,
    place_between,
    quote_of,
    words_between,
)

Key = tuple[int, int]
"""The numbers of a recording and of one of its excerpts."""


class Excerpting:
    """Reads and changes excerpts, which are given by their keys."""

    def __init__(self, recordings: Recordings, texts: Texts, sounds: Sounds) -> None:
        self._recordings, self._texts, self._sounds = recordings, texts, sounds
        self.changed: Event[[]] = Event()
        """Excerpts have come, gone or changed, or the texts that they are of."""
        texts.changed.connect(self._text_changed)
        recordings.list_changed.connect(self.changed.emit)
        self._known: dict[int, tuple[Excerpt, ...]] = {}

    def all(self) -> list[Chosen]:
        """Return all excerpts of the job in order."""
        return in_order((one, self._texts.document(one.id)) for one in self._recordings.all())

    def find(self, key: Key) -> Chosen | None:
        """Return an excerpt by its key, or None."""
        if not self._recordings.has(key[0]):
            return None
        document = self._texts.document(key[0])
        one = next((one for one in document.excerpts if one.id == key[1]), None)
        return Chosen(self._recordings.get(key[0]), document, one) if one is not None else None

    def keep(self, recording_id: int, first: tuple[int, int], last: tuple[int, int]) -> Key:
        """Append an excerpt of the words from ``first`` to ``last`` (each a cue's index and a
        word's in it), cut in the pauses around them."""
        document = self._texts.document(recording_id)
        text = document.transcript
        length = self._recordings.get(recording_id).duration
        start, end = around(self._sounds.samples(recording_id), text, first, last, length)
        place = place_between(max((one.excerpt.place for one in self.all()), default=""), "")
        made = Excerpt(_free(document), start, max(end, start + SHORTEST_MS), place)
        made = replace(made, quote=quote_of(text, made))
        self._put(recording_id, "excerpt", (*document.excerpts, made))
        return recording_id, made.id

    def describe(
        self, key: Key, name: str | None = None, note: str | None = None,
        tags: tuple[str, ...] | None = None,
    ) -> None:  # fmt: skip
        """Change an excerpt's name, note or tags; None leaves one as it is."""

        def changed(one: Excerpt) -> Excerpt:
            return replace(
                one,
                name=one.name if name is None else name,
                note=one.note if note is None else note,
                tags=one.tags if tags is None else tags,
            )

        which = "name" if name is not None else "note" if note is not None else "tags"
        self._change(key, f"{which} of an excerpt", changed, f"excerpt {which} {key}")

    def set_points(self, key: Key, start: int, end: int, group: str | None = None) -> None:
        """Set the in and out points (ms). Raises ValueError if they leave nothing."""
        self._change(
            key, "points of an excerpt", lambda one: self._quoted(key, one.between(start, end)),
            group,
        )  # fmt: skip

    def cut(self, key: Key, spans: Sequence[Span]) -> None:
        """Cut time spans out of an excerpt. Raises ValueError if nothing would be left."""

        def changed(one: Excerpt) -> Excerpt:
            for start, end in spans:
                one = one.with_cut(start, end)
            return self._quoted(key, one)

        self._change(key, "cut in an excerpt", changed)

    def restore(self, key: Key, start: int, end: int) -> None:
        """Undo the cuts between two times (ms), wholly or in part."""

        def changed(one: Excerpt) -> Excerpt:
            kept = tuple(cut for cut in one.cuts if cut[1] <= start or cut[0] >= end)
            return self._quoted(key, replace(one, cuts=kept))

        self._change(key, "cut undone", changed)

    def cut_around(self, recording_id: int, first: int, last: int) -> Span:
        """Return where to cut the sound to remove the words between two times (ms): in the pauses
        around them."""
        text = self._texts.transcript(recording_id)
        length = self._recordings.get(recording_id).duration
        places = {cue.id: place for place, cue in enumerate(text.cues)}
        found = [
            (places[cue.id], cue.words.index(word))
            for cue, word in words_between(text, first, last)
        ]
        if not found:
            return first, last
        return around(self._sounds.samples(recording_id), text, found[0], found[-1], length)

    def split(self, key: Key, time: int) -> Key | None:
        """Split an excerpt at a time (ms) into two in a row; return the second one's key. Raises
        ValueError if one would be empty."""
        found = self.find(key)
        if found is None:
            return None
        one = found.excerpt
        after = self._after(key)
        first = self._quoted(key, one.between(one.start, time))
        second = self._quoted(key, one.between(time, one.end))
        number = _free(found.document)
        place = place_between(one.place, after)
        second = replace(second, id=number, place=place, name="")
        rest = [first if other.id == one.id else other for other in found.document.excerpts]
        self._put(key[0], "split an excerpt", (*rest, second))
        return key[0], number

    def move(self, key: Key, before: Key | None) -> None:
        """Move an excerpt before another one, or to the end."""
        others = [one for one in self.all() if one.key != key]
        at = next((n for n, one in enumerate(others) if one.key == before), len(others))
        low = others[at - 1].excerpt.place if at else ""
        high = others[at].excerpt.place if at < len(others) else ""
        place = place_between(low, high)
        self._change(key, "order of excerpts", lambda one: replace(one, place=place))

    def take_out(self, keys: Sequence[Key]) -> None:
        """Remove excerpts; those of each recording are one step of undo."""
        for recording_id in dict.fromkeys(recording for recording, _ in keys):
            gone = {number for recording, number in keys if recording == recording_id}
            document = self._texts.document(recording_id)
            rest = tuple(one for one in document.excerpts if one.id not in gone)
            self._put(recording_id, "take an excerpt out", rest)

    def is_changed(self, key: Key) -> bool:
        """Whether the words of an excerpt have changed since it was kept."""
        found = self.find(key)
        return found is not None and found.quote != found.excerpt.quote

    def accept(self, key: Key) -> None:
        """Take the current words of an excerpt as the ones that are wanted."""
        self._change(key, "excerpt as it reads now", lambda one: self._quoted(key, one))

    def _quoted(self, key: Key, one: Excerpt) -> Excerpt:
        return replace(one, quote=quote_of(self._texts.transcript(key[0]), one))

    def _after(self, key: Key) -> str:
        """Return the order key of the excerpt behind one; "" at the end."""
        every = self.all()
        at = next(n for n, one in enumerate(every) if one.key == key)
        return every[at + 1].excerpt.place if at + 1 < len(every) else ""

    def _change(
        self, key: Key, label: str, change: Callable[[Excerpt], Excerpt], group: str | None = None
    ) -> None:
        found = self.find(key)
        if found is None:
            return
        new = change(found.excerpt)
        if new != found.excerpt:
            rest = [new if one.id == new.id else one for one in found.document.excerpts]
            self._put(key[0], label, tuple(rest), group)

    def _put(
        self, recording_id: int, label: str, excerpts: tuple[Excerpt, ...], group: str | None = None
    ) -> None:
        document = self._texts.document(recording_id)
        known = {id(one) for one in document.excerpts}
        excerpts = tuple(one if id(one) in known else lawful(one) for one in excerpts)
        self._texts.edit_document(recording_id, label, replace(document, excerpts=excerpts), group)

    def _text_changed(self, recording_id: int) -> None:
        now = self._texts.document(recording_id).excerpts
        if now or self._known.get(recording_id):
            self._known[recording_id] = now
            self.changed.emit()


def _free(document: Document) -> int:
    return max((one.id for one in document.excerpts), default=0) + 1

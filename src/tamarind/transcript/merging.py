"""Merge the edits of two people into one text: what each changed of the text that both began with.

The three versions are parted at the cues that all of them still have, and in each part what only
one has changed is taken (Khanna, Kunal and Pierce, "A Formal Investigation of Diff3", 2007); within
a cue it is the same with its fields and its words. What both changed otherwise is a conflict.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, fields, replace
from difflib import SequenceMatcher
from typing import Any, TypeVar

from tamarind.transcript.model import Cue, Speaker, Transcript, Word

Value = TypeVar("Value")


@dataclass(frozen=True, slots=True)
class Conflict:
    """Cues that both have changed otherwise; ``mine`` are of this text."""

    mine: tuple[Cue, ...]
    theirs: tuple[Cue, ...]

    @property
    def start(self) -> int:
        """When it begins (ms)."""
        return min((cue.start for cue in (*self.mine, *self.theirs)), default=0)


@dataclass(frozen=True, slots=True)
class MergedText:
    """A text in parts, each of cues or a conflict; ``taken`` is how many parts came from the
    other."""

    language: str
    parts: tuple[tuple[Cue, ...] | Conflict, ...]
    speakers: tuple[Speaker, ...]
    preamble: str
    taken: int

    @property
    def conflicts(self) -> list[Conflict]:
        """The conflicts in order."""
        return [part for part in self.parts if isinstance(part, Conflict)]

    def decided(self, takes_theirs: Callable[[Conflict], bool]) -> Transcript:
        """Return the text with each conflict decided."""
        cues: list[Cue] = []
        for part in self.parts:
            if isinstance(part, Conflict):
                cues += part.theirs if takes_theirs(part) else part.mine
            else:
                cues += part
        return Transcript(self.language, tuple(_with_own_ids(cues)), self.speakers, self.preamble)


def merge_texts(base: Transcript, mine: Transcript, theirs: Transcript) -> MergedText:
    """Merge two texts that were both made from ``base``."""
    speakers, numbers = _speakers(base.speakers, mine.speakers, theirs.speakers)
    other = tuple(
        replace(cue, speaker=numbers.get(cue.speaker, cue.speaker))
        if cue.speaker is not None
        else cue
        for cue in theirs.cues
    )
    anchors = _anchors(base.cues, mine.cues, other)
    parts: list[tuple[Cue, ...] | Conflict] = []
    taken = 0
    for old, own, new in zip(
        *(_parted(cues, anchors) for cues in (base.cues, mine.cues, other)), strict=True
    ):
        made = _merged_part(old, own, new)
        taken += made != own and not isinstance(made, Conflict)
        parts.append(made)
    return MergedText(
        mine.language if mine.language != base.language else theirs.language,
        tuple(part for part in parts if part != ()),
        speakers,
        _one(base.preamble, mine.preamble, theirs.preamble, mine.preamble),
        taken,
    )


def _one(base: Value, mine: Value, theirs: Value, otherwise: Value) -> Value:
    """Return what one of two has changed; ``otherwise`` where both have, each in its way."""
    if mine == theirs or theirs == base:
        return mine
    return theirs if mine == base else otherwise


def _speakers(
    base: Sequence[Speaker], mine: Sequence[Speaker], theirs: Sequence[Speaker]
) -> tuple[tuple[Speaker, ...], dict[int, int]]:
    """Return all speakers, and the numbers that those of the other text have here."""
    before = {one.id: one.name for one in base}
    here = {one.id: one.name for one in mine}
    numbers: dict[int, int] = {}
    for one in theirs:
        if one.id in before and one.id in here:
            own = here[one.id]
            here[one.id] = _one(before[one.id], own, one.name, own or one.name)
            numbers[one.id] = one.id
            continue
        same = next((key for key, name in here.items() if name == one.name and name), None)
        free = one.id if one.id not in here else max(here, default=0) + 1
        numbers[one.id] = same if same is not None else free
        here.setdefault(numbers[one.id], one.name)
    return tuple(Speaker(key, name) for key, name in here.items()), numbers


def _anchors(*versions: Sequence[Cue]) -> list[int]:
    """Return the ids of cues that all versions have, in an order that all share."""
    base, *others = [[cue.id for cue in cues] for cues in versions]
    shared = set(base).intersection(*map(set, others))
    kept = [key for key in base if key in shared]
    for other in others:
        order = [key for key in other if key in shared]
        blocks = SequenceMatcher(None, kept, order, autojunk=False).get_matching_blocks()
        kept = [kept[block.a + at] for block in blocks for at in range(block.size)]
        shared = set(kept)
    return kept


def _parted(cues: Sequence[Cue], anchors: Sequence[int]) -> list[tuple[Cue, ...]]:
    """Return what stands before the first anchor, then from each anchor to the next."""
    parts: list[list[Cue]] = [[]]
    wanted = iter(anchors)
    following = next(wanted, None)
    for cue in cues:
        if cue.id == following:
            parts.append([])
            following = next(wanted, None)
        parts[-1].append(cue)
    return [tuple(part) for part in parts]


def _merged_part(
    base: tuple[Cue, ...], mine: tuple[Cue, ...], theirs: tuple[Cue, ...]
) -> tuple[Cue, ...] | Conflict:
    if _alike(mine, theirs) or _alike(theirs, base):
        return mine
    if _alike(mine, base):
        return theirs
    if len(base) == 1 and mine and theirs:
        # Who left the first cue as it was has only put others behind it.
        if mine[0] == base[0]:
            return tuple(sorted((*theirs, *mine[1:]), key=lambda cue: cue.start))
        if theirs[0] == base[0]:
            return tuple(sorted((*mine, *theirs[1:]), key=lambda cue: cue.start))
    if len(base) == len(mine) == len(theirs) == 1:
        made = _merged_cue(base[0], mine[0], theirs[0])
        if made is not None:
            return (made,)
    return Conflict(mine, theirs)


def _alike(one: Sequence[Cue], other: Sequence[Cue]) -> bool:
    """Whether cues are the same, whatever the numbers of those that came later are."""
    return len(one) == len(other) and all(
        a == (b if a.id == b.id else replace(b, id=a.id)) for a, b in zip(one, other, strict=True)
    )


def _merged_cue(base: Cue, mine: Cue, theirs: Cue) -> Cue | None:
    """Return a cue with what each has changed of it; None if both have changed the same."""
    changed: dict[str, Any] = {}
    for one in fields(Cue):
        before, own, other = (getattr(cue, one.name) for cue in (base, mine, theirs))
        if own == other or other == before:
            continue
        if own == before:
            changed[one.name] = other
        elif one.name == "words":
            words = merged_words(before, own, other)
            if words is None:
                return None
            changed["words"], changed["breaks"] = words, None
        elif one.name in ("settled", "locked"):
            changed[one.name] = True
        elif one.name != "breaks":
            return None
    return replace(mine, **changed)


def merged_words(
    base: Sequence[Word], mine: Sequence[Word], theirs: Sequence[Word]
) -> tuple[Word, ...] | None:
    """Return words with what each has changed of them; None if both have changed the same place or
    its neighbour."""
    texts = [word.text for word in base]
    own, other = (
        [
            (a, b, tuple(words[c:d]))
            for kind, a, b, c, d in SequenceMatcher(
                None, texts, [word.text for word in words], autojunk=False
            ).get_opcodes()
            if kind != "equal"
        ]
        for words in (mine, theirs)
    )
    for first, last, new in own:
        for begin, end, others in other:
            same = (first, last) == (begin, end) and [w.text for w in new] == [
                w.text for w in others
            ]
            if first <= end and begin <= last and not same:
                return None
    changes = {(first, last): new for first, last, new in (*other, *own)}
    made = list(base)
    for (first, last), new in sorted(changes.items(), reverse=True):
        made[first:last] = new
    return tuple(made)


def _with_own_ids(cues: Sequence[Cue]) -> list[Cue]:
    """Return cues with the second of two that have the same number given another."""
    taken: set[int] = set()
    following = max((cue.id for cue in cues), default=0) + 1
    made: list[Cue] = []
    for cue in cues:
        if cue.id in taken:
            cue = replace(cue, id=following)
            following += 1
        taken.add(cue.id)
        made.append(cue)
    return made


def merged_entries(
    base: Mapping[int, Value], mine: Mapping[int, Value], theirs: Mapping[int, Value]
) -> tuple[dict[int, Value], list[int]]:
    """Return entries by cue with what each has changed, and the cues of those that both have
    changed otherwise, which stay as they are here."""
    made = dict(mine)
    both: list[int] = []
    for key in dict.fromkeys((*base, *theirs)):
        before, own, other = base.get(key), mine.get(key), theirs.get(key)
        if own == other or other == before:
            continue
        if own != before:
            both.append(key)
        elif other is None:
            made.pop(key, None)
        else:
            made[key] = other
    return made, both

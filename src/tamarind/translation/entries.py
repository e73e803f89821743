"""Find what differs between two versions of a track's entries from what edits have recorded,
without comparing thousands."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import TypeVar

Entry = TypeVar("Entry")
Entries = Mapping[int, Entry]

_KEPT = 48
_latest: list[tuple[Mapping[int, object], Mapping[int, object], frozenset[int]]] = []
"""Older and newer entries, and the ids of the cues where they differ; the last ones first."""


def with_changes(before: Entries[Entry], changes: Mapping[int, Entry | None]) -> Entries[Entry]:
    """Return the entries with others for some cues, None for none; the same object if nothing
    differs."""
    differ = frozenset(cue for cue, entry in changes.items() if before.get(cue) != entry)
    if not differ:
        return before
    after = dict(before)
    for cue in differ:
        entry = changes[cue]
        if entry is None:
            after.pop(cue, None)
        else:
            after[cue] = entry
    _latest.insert(0, (before, after, differ))
    del _latest[_KEPT:]
    return after


def changed_cues(before: Entries[Entry], after: Entries[Entry]) -> Iterable[int]:
    """Return the ids of the cues whose entries differ, in no order."""
    if before is after:
        return ()
    origins = _origins(after)
    for origin, since in _origins(before):
        for other, later in origins:
            if other is origin:
                return [c for c in since | later if before.get(c) is not after.get(c)]
    return [cue for cue in {**before, **after} if before.get(cue) is not after.get(cue)]


def _origins(entries: Mapping[int, object]) -> list[tuple[Mapping[int, object], frozenset[int]]]:
    """Yield the versions that entries were made from, as far as remembered, nearest first, each
    with the cues that may have changed since."""
    found = [(entries, frozenset[int]())]
    for old, new, differ in _latest:
        if new is found[-1][0]:
            found.append((old, found[-1][1] | differ))
    return found

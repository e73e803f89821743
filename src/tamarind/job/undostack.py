"""Undo and redo for a whole job, across its recordings, in the order of the steps.

Every step is on disk with the change that it made, so that undo goes on after a restart.
"""

from __future__ import annotations

import contextlib
from dataclasses import dataclass

from tamarind.job.change import Change, ChangeError, between
from tamarind.job.document import Document
from tamarind.job.store import JobStore, KeptStep

LONGEST = 2_000
"""Steps kept; older ones fall away."""

LARGEST_PART = 60
"""Of cues and entries. What goes on a step that has so many is a part of its own, so that a long
step is not written anew with everything that comes to it."""


@dataclass(slots=True)
class _Step:
    """A step whose change is read from disk only when needed."""

    number: int
    recording: int
    label: str
    change: Change | None
    group: str | None = None
    goes_on: bool = False
    """It is one step with the one before it."""


class UndoStack:
    """The done and the undone steps, latest last."""

    def __init__(self, store: JobStore) -> None:
        self._store = store
        self._done: list[_Step] = []
        self._undone: list[_Step] = []
        self._gone: set[int] = set()
        self._unsaved: dict[int, _Step] = {}
        self._number = 0
        for kept in store.steps():
            step = _Step(
                kept.number,
                kept.recording,
                kept.label,
                change=None,
                group=None,
                goes_on=kept.goes_on,
            )
            (self._undone if kept.undone else self._done).append(step)
            self._number = max(self._number, kept.number)
        self._undone.reverse()

    def add(
        self, recording: int, label: str, before: Document, after: Document, group: str | None
    ) -> None:
        """Add a step; one of the same group joins the last."""
        self._drop(self._undone)
        last = self._done[-1] if self._done else None
        change = between(before, after)
        goes_on = False
        if last and group and (last.group, last.recording) == (group, recording) and last.change:
            goes_on = last.change.size > LARGEST_PART
            if not goes_on:
                with contextlib.suppress(ChangeError):
                    last.change = last.change.joined(change) or between(
                        last.change.turned().made_in(before), after
                    )
                    last.label = label
                    self._unsaved[last.number] = last
                    return
        self._number += 1
        step = _Step(self._number, recording, label, change=change, group=group, goes_on=goes_on)
        self._done.append(step)
        self._unsaved[step.number] = step
        old = max(len(self._done) - LONGEST, 0)
        while old and old < len(self._done) and self._done[old].goes_on:
            old += 1
        self._drop(self._done[:old])
        del self._done[:old]

    def concern(self, recording: int) -> bool:
        """Whether any done or undone step is in a recording's text."""
        return any(step.recording == recording for step in (*self._done, *self._undone))

    def close_group(self) -> None:
        """Make the next step a separate one, whatever its group."""
        if self._done:
            self._done[-1].group = None

    def undo(self) -> tuple[int, list[Change]] | None:
        """Return the recording of the last step and the reverse changes; None if there is none.

        Raises ChangeError, and forgets the step, when it cannot be read.
        """
        return self._turn(self._done, self._undone, back=True)

    def redo(self) -> tuple[int, list[Change]] | None:
        """Return the recording of the last undone step and its changes; None if there is none."""
        return self._turn(self._undone, self._done, back=False)

    @property
    def undo_label(self) -> str | None:
        """The name of the step that undo would reverse."""
        return self._done[-1].label if self._done else None

    @property
    def redo_label(self) -> str | None:
        """The name of the step that redo would make again."""
        return self._undone[-1].label if self._undone else None

    def forget(self, recording: int) -> None:
        """Drop all steps of a recording."""
        for steps in (self._done, self._undone):
            self._drop([step for step in steps if step.recording == recording])
            steps[:] = [step for step in steps if step.recording != recording]

    def save(self) -> None:
        """Write what the store does not have yet; call it within a change of the text."""
        undone = {step.number for step in self._undone}
        self._store.save_steps(
            [
                KeptStep(
                    s.number,
                    s.recording,
                    s.label,
                    undone=s.number in undone,
                    goes_on=s.goes_on,
                    change=s.change.packed(),
                )
                for s in self._unsaved.values()
                if s.change is not None
            ],
            self._gone,
        )

    def saved(self) -> None:
        """Note that the last ``save`` has reached the disk."""
        self._unsaved.clear()
        self._gone.clear()

    def _turn(
        self, here: list[_Step], there: list[_Step], back: bool
    ) -> tuple[int, list[Change]] | None:
        parts = _last_step(here, back)
        if not parts:
            return None
        del here[-len(parts) :]
        try:
            for step in parts:
                step.change = step.change or Change.unpacked(self._store.step_change(step.number))
        except ChangeError:
            # What was done before it may still be undone where the text is as it was then.
            self._drop(parts)
            raise
        changes = []
        for step in parts:
            assert step.change is not None
            step.group = None
            there.append(step)
            self._unsaved[step.number] = step
            changes.append(step.change.turned() if back else step.change)
        return parts[0].recording, changes

    def _drop(self, steps: list[_Step]) -> None:
        for step in steps:
            self._gone.add(step.number)
            self._unsaved.pop(step.number, None)
        if steps is self._undone:
            steps.clear()


def _last_step(steps: list[_Step], back: bool) -> list[_Step]:
    """Return all parts of the last step, in the order in which they are reversed."""
    count = min(len(steps), 1)
    if back:
        while 0 < count < len(steps) and steps[-count].goes_on:
            count += 1
    else:
        while 0 < count < len(steps) and steps[-count - 1].goes_on:
            count += 1
    return steps[len(steps) - count :][::-1]

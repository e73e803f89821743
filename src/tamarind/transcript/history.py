"""Undo and redo: a list of older values, oldest first, with a name for every step."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Generic, TypeVar

Value = TypeVar("Value")

LONGEST = 2_000
"""Steps kept; older ones fall away. Values share what is alike, so a step costs little."""


@dataclass(frozen=True, slots=True)
class Step(Generic[Value]):
    """One edit of the thing named ``key``; steps with the same ``group`` in a row become one."""

    key: int
    label: str
    before: Value
    after: Value
    group: str | None


class History(Generic[Value]):
    """The steps of a whole job, across its recordings, in the order they were made."""

    def __init__(self) -> None:
        self._done: list[Step[Value]] = []
        self._undone: list[Step[Value]] = []

    def add(self, step: Step[Value]) -> None:
        """Note a step that has just been made; what was undone before it is gone."""
        self._undone.clear()
        last = self._done[-1] if self._done else None
        if last and step.group and last.group == step.group and last.key == step.key:
            self._done[-1] = Step(step.key, step.label, last.before, step.after, step.group)
        else:
            self._done.append(step)
            del self._done[:-LONGEST]

    def close_group(self) -> None:
        """Let the next step stand for itself, whatever its group."""
        if self._done and self._done[-1].group:
            last = self._done[-1]
            self._done[-1] = Step(last.key, last.label, last.before, last.after, None)

    def undo(self) -> Step[Value] | None:
        """The step to take back; its ``before`` is the value to show."""
        if not self._done:
            return None
        self._undone.append(self._done.pop())
        return self._undone[-1]

    def redo(self) -> Step[Value] | None:
        """The step to make again; its ``after`` is the value to show."""
        if not self._undone:
            return None
        self._done.append(self._undone.pop())
        return self._done[-1]

    @property
    def undo_label(self) -> str | None:
        """What undo would take back."""
        return self._done[-1].label if self._done else None

    @property
    def redo_label(self) -> str | None:
        """What redo would make again."""
        return self._undone[-1].label if self._undone else None

    def forget(self, key: int) -> None:
        """Drop all steps of one thing, as when its recording is taken out of the job."""
        self._done = [step for step in self._done if step.key != key]
        self._undone = [step for step in self._undone if step.key != key]

    def amend(self, key: int, change: Callable[[Value], Value]) -> None:
        """Apply a change that is not a person's to every version of one thing."""
        for steps in (self._done, self._undone):
            for place, step in enumerate(steps):
                if step.key == key:
                    steps[place] = replace(
                        step, before=change(step.before), after=change(step.after)
                    )

"""Read and keep the settings of the open job."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from tamarind.job.setting import Setting
from tamarind.job.store import JobStore
from tamarind.transcript.bounds import clean_text

Value = TypeVar("Value")


class JobSettings:
    """The settings of the job; a value that could not be written yet counts already."""

    def __init__(self, store: JobStore, write: Callable[[Callable[[], object]], bool]) -> None:
        """``write`` calls a function with the store and deals with an OSError."""
        self._store, self._write = store, write
        self.kept: dict[str, str] = {}
        """What was set since the job was opened, by key."""
        self._read: dict[str, str | None] = {}
        """What was found in the job: nobody else writes to it while it is open."""

    def get(self, setting: Setting[Value]) -> Value:
        """Return the current value of a setting."""
        known = self.kept.get(setting.key)
        if known is None:
            if setting.key not in self._read:
                self._read[setting.key] = self._store.setting(setting.key)
            known = self._read[setting.key]
        return setting.of(known)

    def keep(self, setting: Setting[Value], value: Value) -> None:
        """Keep the value of a setting with the job."""
        text = clean_text(setting.write(value))
        self.kept[setting.key] = text
        self._write(lambda: self._store.set_setting(setting.key, text))

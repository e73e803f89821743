"""The house styles, or the caption styles, that the open job knows."""

from __future__ import annotations

from typing import Generic, TypeVar

from tamarind.application.events import Event
from tamarind.application.jobsettings import JobSettings
from tamarind.job.namedsets import NamedSets
from tamarind.job.setting import Setting
from tamarind.system.shelf import Named, Shelf

Item = TypeVar("Item", bound=Named)


class KeptSets(Generic[Item]):
    """Styles of one kind; those that do not ship are kept with the job, so that it is complete
    anywhere."""

    def __init__(
        self, settings: JobSettings, setting: Setting[NamedSets[Item]], shelf: Shelf[Item]
    ) -> None:
        self._settings, self._setting, self._shelf = settings, setting, shelf
        kept = settings.get(setting)
        self._own = NamedSets(kept)
        self._own.unread, self.unread = dict(kept.unread), dict(kept.reasons)
        """Why some of the job's own cannot be read, by their keys; they stay in it as they are."""
        self.changed: Event[[]] = Event()
        """A set has other options now, or something another set."""

    def all(self) -> dict[str, Item]:
        """Return all styles by key: those that ship, the person's, the job's."""
        return {**self._shelf.shipped, **self._shelf.own(), **self._own}

    def own(self) -> dict[str, Item]:
        """Return the job's own styles by key."""
        return dict(self._own)

    def keep(self, key: str, item: Item | None) -> None:
        """Keep a style with the job in place of one with the same key; None removes it."""
        if item is None:
            self._own.pop(key, None)
        else:
            self._own.unread.pop(key, None)
            self._own[key] = item
        self._settings.keep(self._setting, self._own)
        self.changed.emit()

    def hold(self, key: str) -> None:
        """Keep a style that is used with the job, unless it ships."""
        if key and key not in self._shelf.shipped and key not in self._own:
            self._own[key] = self._shelf.own()[key]
            self._settings.keep(self._setting, self._own)

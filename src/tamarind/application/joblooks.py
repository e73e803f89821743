"""The looks that the open job knows, and which recording has which."""

from __future__ import annotations

from collections.abc import Sequence

from tamarind.application.events import Event
from tamarind.application.jobsettings import JobSettings
from tamarind.job.looks import look_of, looks_for
from tamarind.job.namedsets import NamedSets
from tamarind.job.settings import LOOK, LOOKS, SECOND_LANGUAGE
from tamarind.picture.caption import Caption
from tamarind.picture.lookbook import SHIPPED, USUAL_LOOK, own_looks
from tamarind.picture.looks import Look


class JobLooks:
    """One look for the job, others for single recordings; those that do not ship are kept with the
    job, so that it is complete everywhere."""

    def __init__(self, settings: JobSettings) -> None:
        self._settings = settings
        kept = settings.get(LOOKS)
        self._own = NamedSets(kept)
        self._own.unread, self.unread = dict(kept.unread), dict(kept.reasons)
        """Why some of the job's own cannot be read, by their keys; they stay in it as they are."""
        self.changed: Event[[]] = Event()
        """A look has other choices now, or something another look."""

    def all(self) -> dict[str, Look]:
        """All by key: those that ship, the person's own, those of this job."""
        return {**SHIPPED, **own_looks(), **self._own}

    def key_of(self, recording_id: int | None) -> str:
        """The key of the look of a recording."""
        own = "" if recording_id is None else self._settings.get(LOOK.numbered(recording_id))
        return own or self._settings.get(LOOK) or USUAL_LOOK

    def of(self, recording_id: int | None) -> Look:
        """The look of a recording's captions."""
        keys = () if recording_id is None else (self._settings.get(LOOK.numbered(recording_id)),)
        return look_of((*keys, self._settings.get(LOOK)), self._own)

    def own(self) -> dict[str, Look]:
        """Those that do not ship, by their keys."""
        return dict(self._own)

    def of_each(self, captions: Sequence[Caption], recording_id: int | None) -> list[Look]:
        """The look of each caption of a recording; one for all where none has its own."""
        return looks_for(captions, self.of(recording_id), self._own)

    def keep(self, key: str, look: Look | None) -> None:
        """Keep a look with the job, in place of one of the same key; None takes it out."""
        if look is None:
            self._own.pop(key, None)
        else:
            self._own.unread.pop(key, None)
            self._own[key] = look
        self._settings.keep(LOOKS, self._own)
        self.changed.emit()

    def choose(self, key: str, recording_ids: Sequence[int] = ()) -> None:
        """Give recordings a look; without any, the job."""
        self.hold(key)
        for recording_id in recording_ids:
            self._settings.keep(LOOK.numbered(recording_id), key)
        if not recording_ids:
            self._settings.keep(LOOK, key)
        self.changed.emit()

    def hold(self, key: str) -> None:
        """See to it that a look is kept with the job."""
        if key not in SHIPPED and key not in self._own:
            self._own[key] = own_looks()[key]
            self._settings.keep(LOOKS, self._own)

    def leave_to_the_job(self, recording_ids: Sequence[int]) -> None:
        """These recordings have the job's look again."""
        for recording_id in recording_ids:
            self._settings.keep(LOOK.numbered(recording_id), "")
        self.changed.emit()

    @property
    def second_language(self) -> str:
        """The language that stands beside the first on the picture; empty for none."""
        return self._settings.get(SECOND_LANGUAGE)

    def set_second_language(self, language: str) -> None:
        """Show a second language on the picture, or none."""
        self._settings.keep(SECOND_LANGUAGE, language)
        self.changed.emit()

"""The caption styles of the open job, and which recording uses which."""

from __future__ import annotations

from collections.abc import Sequence

from tamarind.application.jobsettings import JobSettings
from tamarind.application.keptsets import KeptSets
from tamarind.job.looks import look_of, looks_for
from tamarind.job.settings import JOB_LOOKS, LOOK, SECOND_LANGUAGE
from tamarind.picture.caption import Caption
from tamarind.picture.lookbook import LOOKS, USUAL_LOOK
from tamarind.picture.looks import Look


class JobLooks(KeptSets[Look]):
    """One caption style for the job, and others for single recordings."""

    def __init__(self, settings: JobSettings) -> None:
        super().__init__(settings, JOB_LOOKS, LOOKS)

    def key_of(self, recording_id: int | None) -> str:
        """Return the key of a recording's caption style."""
        own = "" if recording_id is None else self._settings.get(LOOK.numbered(recording_id))
        return own or self._settings.get(LOOK) or USUAL_LOOK

    def of(self, recording_id: int | None) -> Look:
        """Return a recording's caption style."""
        keys = () if recording_id is None else (self._settings.get(LOOK.numbered(recording_id)),)
        return look_of((*keys, self._settings.get(LOOK)), self._own)

    def of_each(self, captions: Sequence[Caption], recording_id: int | None) -> list[Look]:
        """Return the style of each caption of a recording, or one for all where no caption has its
        own."""
        return looks_for(captions, self.of(recording_id), self._own)

    def choose(self, key: str, recording_ids: Sequence[int] = ()) -> None:
        """Set the caption style of recordings, or that of the job if none are given."""
        self.hold(key)
        for recording_id in recording_ids:
            self._settings.keep(LOOK.numbered(recording_id), key)
        if not recording_ids:
            self._settings.keep(LOOK, key)
        self.changed.emit()

    def leave_to_the_job(self, recording_ids: Sequence[int]) -> None:
        """Let these recordings use the job's caption style again."""
        for recording_id in recording_ids:
            self._settings.keep(LOOK.numbered(recording_id), "")
        self.changed.emit()

    @property
    def second_language(self) -> str:
        """Return the language drawn beside the first on the picture, or ""."""
        return self._settings.get(SECOND_LANGUAGE)

    def set_second_language(self, language: str) -> None:
        """Set the language drawn beside the first; "" for none."""
        self._settings.keep(SECOND_LANGUAGE, language)
        self.changed.emit()

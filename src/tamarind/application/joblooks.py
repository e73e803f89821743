"""The looks that the open job knows, and which recording has which."""

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
    """One look for the job, others for single recordings."""

    def __init__(self, settings: JobSettings) -> None:
        super().__init__(settings, JOB_LOOKS, LOOKS)

    def key_of(self, recording_id: int | None) -> str:
        """The key of the look of a recording."""
        own = "" if recording_id is None else self._settings.get(LOOK.numbered(recording_id))
        return own or self._settings.get(LOOK) or USUAL_LOOK

    def of(self, recording_id: int | None) -> Look:
        """The look of a recording's captions."""
        keys = () if recording_id is None else (self._settings.get(LOOK.numbered(recording_id)),)
        return look_of((*keys, self._settings.get(LOOK)), self._own)

    def of_each(self, captions: Sequence[Caption], recording_id: int | None) -> list[Look]:
        """The look of each caption of a recording; one for all where none has its own."""
        return looks_for(captions, self.of(recording_id), self._own)

    def choose(self, key: str, recording_ids: Sequence[int] = ()) -> None:
        """Give recordings a look; without any, the job."""
        self.hold(key)
        for recording_id in recording_ids:
            self._settings.keep(LOOK.numbered(recording_id), key)
        if not recording_ids:
            self._settings.keep(LOOK, key)
        self.changed.emit()

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

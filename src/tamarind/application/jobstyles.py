"""The house styles of the open job, and which recording uses which."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tamarind.application.correctednames import kept_for
from tamarind.application.jobsettings import JobSettings
from tamarind.application.keptsets import KeptSets
from tamarind.application.recordings import Recordings
from tamarind.captions.limits import ORDINARY, Limits
from tamarind.job.recording import Recording
from tamarind.job.settings import GLOSSARY, JOB_STYLES, TRACK_STYLES
from tamarind.job.styles import style_of
from tamarind.language.housestyle import HouseStyle
from tamarind.language.stylebook import STYLES
from tamarind.speech.glossary import Glossary, terms_of, together


class JobStyles(KeptSets[HouseStyle]):
    """A house style for each recording, and if wished another one for its translations."""

    def __init__(self, settings: JobSettings, recordings: Recordings) -> None:
        super().__init__(settings, JOB_STYLES, STYLES)
        self._recordings = recordings

    def of(self, recording: Recording, language: str = "") -> HouseStyle:
        """Return the house style of a recording, or of its track in a language, with the frame rate
        of its picture if the style asks for that; the default style if its own is not here."""
        style = style_of(recording, self._own, language, self._settings.get(TRACK_STYLES))
        rate = recording.info.frame_rate if recording.info is not None else None
        limits = style.captions.on_picture(rate)
        return style if limits is style.captions else replace(style, captions=limits)

    def limits_of(self, recording_id: int | None, language: str = "") -> Limits:
        """Return the limits of a recording's captions, or of its track in a language."""
        if recording_id is None or not self._recordings.has(recording_id):
            return ORDINARY
        return self.of(self._recordings.get(recording_id), language).captions

    def glossary_of(self, recording: Recording) -> Glossary:
        """Return the terms to listen for in a recording: the job's, then the client's, then those
        corrected for that client before."""
        return together(
            self._settings.get(GLOSSARY),
            terms_of(self.of(recording).wording.terms),
            terms_of(kept_for(recording.style)),
        )

    def of_track(self, language: str) -> str:
        """Return the key of the style chosen for a language, or ""."""
        return self._settings.get(TRACK_STYLES).get(language, "")

    def choose_for_tracks(self, language: str, key: str) -> None:
        """Set the house style of all tracks in a language; "" for the recordings' own."""
        self.hold(key)
        chosen = {**self._settings.get(TRACK_STYLES), language: key}
        self._settings.keep(TRACK_STYLES, {one: own for one, own in chosen.items() if own})
        self.changed.emit()

    def choose(self, recording_ids: Sequence[int], key: str) -> None:
        """Set the house style of recordings; a style of one's own is kept with the job."""
        self.hold(key)
        known = map(self._recordings.get, recording_ids)
        self._recordings.change(*(replace(recording, style=key) for recording in known))
        self.changed.emit()

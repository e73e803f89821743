"""The house styles that the open job knows, and which recording has which."""

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
    """A style for each recording, another one for its translations where that is wished."""

    def __init__(self, settings: JobSettings, recordings: Recordings) -> None:
        super().__init__(settings, JOB_STYLES, STYLES)
        self._recordings = recordings

    def of(self, recording: Recording, language: str = "") -> HouseStyle:
        """The house style of a recording, or of its track in a language, on the frames of its
        picture if that is wished; that of ordinary captions if it is not here."""
        style = style_of(recording, self._own, language, self._settings.get(TRACK_STYLES))
        rate = recording.info.frame_rate if recording.info is not None else None
        limits = style.captions.on_picture(rate)
        return style if limits is style.captions else replace(style, captions=limits)

    def limits_of(self, recording_id: int | None, language: str = "") -> Limits:
        """The limits of a recording's captions, or of those of its track in a language."""
        if recording_id is None or not self._recordings.has(recording_id):
            return ORDINARY
        return self.of(self._recordings.get(recording_id), language).captions

    def glossary_of(self, recording: Recording) -> Glossary:
        """What is listened for in a recording: the job's names and terms, then the client's, then
        what was corrected for that client before."""
        return together(
            self._settings.get(GLOSSARY),
            terms_of(self.of(recording).wording.terms),
            terms_of(kept_for(recording.style)),
        )

    def of_track(self, language: str) -> str:
        """The key of the style that was chosen for a language; empty where none was."""
        return self._settings.get(TRACK_STYLES).get(language, "")

    def choose_for_tracks(self, language: str, key: str) -> None:
        """Hold all tracks in a language to a house style; with an empty key to the recordings'."""
        self.hold(key)
        chosen = {**self._settings.get(TRACK_STYLES), language: key}
        self._settings.keep(TRACK_STYLES, {one: own for one, own in chosen.items() if own})
        self.changed.emit()

    def choose(self, recording_ids: Sequence[int], key: str) -> None:
        """Hold recordings to a house style; it is kept with the job if it does not ship."""
        self.hold(key)
        known = map(self._recordings.get, recording_ids)
        self._recordings.change(*(replace(recording, style=key) for recording in known))
        self.changed.emit()

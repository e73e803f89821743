"""Tell the speakers of an existing text apart again, as a proposal that the person takes or
leaves."""

from __future__ import annotations

from dataclasses import dataclass, replace

from tamarind.application.events import Event
from tamarind.application.jobsettings import JobSettings
from tamarind.application.ondemand import OnDemand
from tamarind.application.recordings import Recordings
from tamarind.application.texts import Texts
from tamarind.job.settings import PERHAPS_SPEAKERS
from tamarind.speech.diarisation.told import Told, in_own_numbers, with_voices_of
from tamarind.transcript.model import Transcript
from tamarind.transcript.speakers import speakers_of, with_speakers

CHANGED_MEANWHILE = "The text has changed meanwhile: try again."
NO_VOICES = "No speakers can be told apart there."


@dataclass(frozen=True, slots=True)
class Retold:
    """A text before and after its speakers were told apart again, with their voiceprints."""

    recording: int
    before: Transcript
    text: Transcript
    told: Told


@dataclass(frozen=True, slots=True)
class _Asked:
    recording: int
    before: Transcript
    first: int
    last: int
    by_example: bool


class SpeakersAgain:
    """Asks one question at a time; a later one replaces one that is not answered yet."""

    def __init__(
        self, on_demand: OnDemand, recordings: Recordings, texts: Texts, settings: JobSettings
    ) -> None:
        self._on_demand, self._recordings, self._texts = on_demand, recordings, texts
        self._settings = settings
        self._asked: _Asked | None = None
        self.told: Event[[Retold | str]] = Event()
        """The text as it would be; or why it cannot be told, a sentence."""
        self.listened: Event[[float]] = Event()
        """How far the voices have been listened to (0 to 1), where that is done first."""
        on_demand.speakers_told.connect(self._take_up)
        on_demand.listened.connect(self._tell_how_far)

    def ask_count(self, recording_id: int, first: int, last: int, count: int) -> None:
        """Tell ``count`` speakers apart in the cues [``first``, ``last``)."""
        text = self._texts.transcript(recording_id)
        self._asked = _Asked(recording_id, text, first, last, by_example=False)
        words = [word for cue in text.cues[first:last] for word in cue.words]
        self._on_demand.tell_speakers(recording_id, words, count)

    def ask_likeness(self, recording_id: int, first: int, last: int, speaker: int) -> None:
        """Give the cues [``first``, ``last``) to a speaker, and everything else that sounds like
        it. An unknown number makes a new speaker."""
        text = self._texts.transcript(recording_id)
        self._asked = _Asked(recording_id, text, 0, len(text.cues), by_example=True)
        words = [word for cue in text.cues for word in cue.words]
        certain = [first <= row < last for row, cue in enumerate(text.cues) for _word in cue.words]
        before = speakers_of(text, 0, len(text.cues))
        speakers = [
            speaker if is_certain else own for own, is_certain in zip(before, certain, strict=True)
        ]
        self._on_demand.tell_speakers(recording_id, words, 0, speakers, certain)

    def stop(self) -> None:
        """Cancel the question."""
        if self._asked is not None:
            self._on_demand.stop(self._asked.recording)
            self._asked = None

    def take(self, retold: Retold) -> str:
        """Replace the text, as one step of undo; return a sentence if that is not possible."""
        if retold.before is not self._texts.transcript(retold.recording):
            return CHANGED_MEANWHILE
        self._texts.edit(retold.recording, "tell speakers apart", retold.text)
        recording = self._recordings.get(retold.recording)
        voices = with_voices_of(recording.voices, retold.told)
        self._recordings.change(replace(recording, voices=voices))
        self._settings.keep(PERHAPS_SPEAKERS.numbered(retold.recording), 0)
        return ""

    def perhaps(self, recording_id: int) -> int:
        """Return the other likely number of speakers, if the number is in doubt and nobody has
        settled it; else 0."""
        other = self._settings.get(PERHAPS_SPEAKERS.numbered(recording_id))
        text = self._texts.transcript(recording_id)
        said = {cue.speaker for cue in text.cues if cue.speaker is not None}
        return other if other and text.cues and max(len(said), 1) != other else 0

    def _tell_how_far(self, recording_id: int, until: int, end: int) -> None:
        if self._asked is not None and self._asked.recording == recording_id:
            self.listened.emit(until / max(end, 1))

    def _take_up(self, recording_id: int, told: Told | str) -> None:
        asked = self._asked
        if asked is None or asked.recording != recording_id:
            return
        self._asked = None
        if isinstance(told, str):
            self.told.emit(told)
            return
        text, first, last = asked.before, asked.first, asked.last
        if all(speaker is None for speaker in told.speakers):
            self.told.emit(NO_VOICES)
            return
        if not asked.by_example:
            told = in_own_numbers(told, text, first, last)
        new = with_speakers(text, first, last, told.speakers)
        self.told.emit(Retold(recording_id, text, new, told))

"""Recognise one voice in several recordings of a job, so that a name given in one counts in all."""

from __future__ import annotations

from collections.abc import Iterator

from tamarind.application.recordings import Recordings
from tamarind.application.texts import Texts
from tamarind.job.recording import Recording
from tamarind.speech.diarisation.likeness import same_voices
from tamarind.transcript.edits import name_speaker
from tamarind.transcript.model import Transcript

STEP = "name a speaker"


class SameVoices:
    """Names voices that have no name yet; given names stay."""

    def __init__(self, recordings: Recordings, texts: Texts) -> None:
        self._recordings, self._texts = recordings, texts

    def named(self, recording: Recording, text: Transcript) -> Transcript:
        """Return a recording's text with the names that its voices have in others."""
        for other in self._others(recording):
            theirs = self._texts.transcript(other.id)
            for mine, speaker in same_voices(recording.voices, other.voices).items():
                here, there = text.speaker(mine), theirs.speaker(speaker)
                if here is None or here.name or there is None or not there.name:
                    continue
                if all(known.name != there.name for known in text.speakers):
                    text = name_speaker(text, mine, there.name)
        return text

    def name(self, recording_id: int, speaker_id: int, name: str) -> int:
        """Name a speaker, and the same voices elsewhere that have no name; each recording is a step
        of undo, the speaker's own last. Return how many others were named."""
        recording = self._recordings.get(recording_id)
        count = 0
        for other in self._others(recording):
            same = same_voices(recording.voices, other.voices).get(speaker_id)
            text = self._texts.transcript(other.id)
            known = text.speaker(same)
            if known is None or known.name or any(one.name == name for one in text.speakers):
                continue
            self._texts.edit(other.id, STEP, name_speaker(text, known.id, name))
            count += 1
        text = self._texts.transcript(recording_id)
        self._texts.edit(recording_id, STEP, name_speaker(text, speaker_id, name))
        return count

    def _others(self, recording: Recording) -> Iterator[Recording]:
        return (one for one in self._recordings.all() if one.id != recording.id and one.voices)

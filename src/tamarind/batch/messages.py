"""The messages between the program and its workers: tasks one way, events the other.

``key`` names the recording; all times are in milliseconds.
"""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from tamarind.audio.media import MediaInfo
from tamarind.audio.peaks import Peaks
from tamarind.audio.source import Source
from tamarind.batch.timeleft import Work
from tamarind.captions.limits import ORDINARY, Limits
from tamarind.speech.diarisation.voiceprint import Voiceprint
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.languageguess import Guess
from tamarind.transcript.model import Cue, Word

if TYPE_CHECKING:
    from tamarind.speech.activity import Activity


@dataclass(frozen=True, slots=True)
class Probe:
    """Read a file's headers and measure how loud it is in a few places."""

    key: int
    path: Path


@dataclass(frozen=True, slots=True)
class Decode:
    """Decode a file's sound into the cache, with its peaks."""

    key: int
    path: Path


@dataclass(frozen=True, slots=True)
class Hear:
    """Transcribe a file's ``part`` (None: to its end) into cues within limits.

    ``bookmark`` is the last that an earlier hearing of the same part told; it goes on from there.
    """

    key: int
    path: Path
    how: HearingOptions
    part: tuple[int, int | None] = (0, None)
    limits: Limits = ORDINARY
    bookmark: str = ""


@dataclass(frozen=True, slots=True)
class HearAgain:
    """Transcribe a passage (from, to) again, in another way."""

    key: int
    path: Path
    how: HearingOptions
    part: tuple[int, int]


@dataclass(frozen=True, slots=True)
class HearOnDemand:
    """Transcribe a part of a recording without touching its text: for punctuation, or, with the
    words of a ``script``, to find when each is said."""

    key: int
    path: Path
    how: HearingOptions
    part: tuple[int, int | None] = (0, None)
    script: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class TellSpeakers:
    """Tell the speakers of these words apart: ``count`` of them, or as many as there seem to be if
    it is 0; or find those that the words have in ``speakers`` by their voices, where ``certain``
    words keep theirs."""

    key: int
    path: Path
    source: Source
    words: tuple[Word, ...]
    part: tuple[int, int | None] = (0, None)
    count: int = 0
    speakers: tuple[int | None, ...] = ()
    certain: tuple[bool, ...] = ()


@dataclass(frozen=True, slots=True)
class Prepare:
    """Make a sound file of a recording's source, to be listened to."""

    key: int
    path: Path
    source: Source


@dataclass(frozen=True, slots=True)
class FindSpeech:
    """Measure where somebody speaks in a recording."""

    key: int
    path: Path
    source: Source


@dataclass(frozen=True, slots=True)
class FindShots:
    """Find when the picture of a video changes."""

    key: int
    path: Path


@dataclass(frozen=True, slots=True)
class FindStills:
    """Decode the frames of a video at some times (rising)."""

    key: int
    path: Path
    times: tuple[int, ...]


Task = (
    Probe | Decode | Hear | HearAgain | HearOnDemand | TellSpeakers | Prepare | FindSpeech
    | FindShots | FindStills
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Known:
    """The headers of a file."""

    key: int
    info: MediaInfo


@dataclass(frozen=True, slots=True)
class Identified:
    """The fingerprint of a file, of which all bytes were read."""

    key: int
    fingerprint: str


@dataclass(frozen=True, slots=True)
class Drawn:
    """The next peaks of a sound that is being decoded."""

    key: int
    peaks: Peaks


@dataclass(frozen=True, slots=True)
class SoundReady:
    """A file's sound and peaks are in the cache; ``damage`` says what is missing, if anything.

    ``is_whole`` is False where only a part was decoded: ``duration`` (ms) is up to its end then.
    """

    key: int
    duration: int
    damage: str | None
    fingerprint: str = ""
    is_whole: bool = True


@dataclass(frozen=True, slots=True)
class Started:
    """A worker has begun to transcribe a recording."""

    key: int


@dataclass(frozen=True, slots=True)
class LanguageHeard:
    """The languages that a recording may be in, likeliest first; none where nobody speaks.

    It is told where the language was to be found out, and where another one than the chosen is
    surely spoken.
    """

    key: int
    guesses: tuple[Guess, ...]


@dataclass(frozen=True, slots=True)
class VoicesSought:
    """The share (0 to 1) of a recording that was searched for voices, before any word is
    recognised."""

    key: int
    share: float


@dataclass(frozen=True, slots=True)
class VoicesKnown:
    """The voiceprints of a recording's speakers, at its end; ``perhaps`` is another likely number
    of speakers, 0 where the number is clear."""

    key: int
    voices: tuple[Voiceprint, ...]
    perhaps: int = 0


@dataclass(frozen=True, slots=True)
class Heard:
    """Finished cues; the recording is transcribed up to ``until`` of ``end``.

    ``work`` says how far it is. ``unheard`` is where somebody speaks (from, to) and no text came,
    ``at_once`` where two do.
    With ``bookmark`` another hearing goes on from here.
    """

    key: int
    cues: tuple[Cue, ...]
    until: int
    end: int
    work: Work
    unheard: tuple[tuple[int, int], ...] = ()
    bookmark: str = ""
    at_once: tuple[tuple[int, int], ...] = ()


@dataclass(frozen=True, slots=True)
class HeardAgain:
    """The words of a passage that was transcribed again."""

    key: int
    words: tuple[Word, ...]


@dataclass(frozen=True, slots=True)
class ListenedOnDemand:
    """A task beside the text has come to ``until`` of ``end`` (ms)."""

    key: int
    until: int
    end: int


@dataclass(frozen=True, slots=True)
class HeardOnDemand:
    """The words of a task beside the text, or those of its script with times."""

    key: int
    words: tuple[Word, ...]


@dataclass(frozen=True, slots=True)
class SpeakersTold:
    """The speaker of each word, and the speakers' voiceprints."""

    key: int
    speakers: tuple[int | None, ...]
    voices: tuple[Voiceprint, ...]


@dataclass(frozen=True, slots=True)
class Prepared:
    """A sound file is ready to be listened to."""

    key: int
    source: Source
    path: Path


@dataclass(frozen=True, slots=True)
class SpeechFound:
    """The probability of speech in every 32 ms of a recording."""

    key: int
    source: Source
    activity: Activity


@dataclass(frozen=True, slots=True)
class ShotsFound:
    """The times (ms) at which shots begin."""

    key: int
    shots: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class StillFound:
    """The frame of a video at a time: planes of ``picture.compose.FORMAT``, one below the other,
    with the H.273 codes of its colour matrix and range."""

    key: int
    time: int
    picture: NDArray[np.uint8]
    matrix: int
    range: int


@dataclass(frozen=True, slots=True)
class Done:
    """A task is finished."""

    key: int
    task: str


@dataclass(frozen=True, slots=True)
class Failed:
    """A task failed; ``reason`` is one sentence."""

    key: int
    task: str
    reason: str


Event = (
    Known | Identified | Drawn | SoundReady | Started | LanguageHeard | VoicesSought | VoicesKnown
    | Heard
    | HeardAgain | ListenedOnDemand | HeardOnDemand | SpeakersTold | Prepared | SpeechFound
    | ShotsFound | StillFound | Done | Failed
)  # fmt: skip

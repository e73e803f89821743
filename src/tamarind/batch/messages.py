"""What goes between the program and its workers: tasks one way, events the other.

``key`` names the recording; all times are in milliseconds.
"""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from tamarind.audio.media import MediaInfo
from tamarind.audio.source import Source
from tamarind.speech.howtohear import HowToHear
from tamarind.speech.turns import Turn
from tamarind.transcript.model import Cue, Word


@dataclass(frozen=True, slots=True)
class Look:
    """Find out what a file is, decode its sound, and keep its peaks."""

    key: int
    path: Path


@dataclass(frozen=True, slots=True)
class Hear:
    """Recognise a file's speech in ``part`` (None: to its end), numbering cues from ``first_id``.

    ``after`` is the end of the last cue that is already there, ``before`` who spoke when until
    then.
    """

    key: int
    path: Path
    how: HowToHear
    part: tuple[int, int | None]
    first_id: int = 1
    after: int = 0
    before: tuple[Turn, ...] = ()


@dataclass(frozen=True, slots=True)
class HearAgain:
    """Recognise a passage (from, to) a second time, in another way."""

    key: int
    path: Path
    how: HowToHear
    part: tuple[int, int]


@dataclass(frozen=True, slots=True)
class Prepare:
    """Make a sound file of a source of a recording, to be listened to."""

    key: int
    path: Path
    source: Source


Task = Look | Hear | HearAgain | Prepare


@dataclass(frozen=True, slots=True)
class Known:
    """A file's headers were read."""

    key: int
    info: MediaInfo
    fingerprint: str


@dataclass(frozen=True, slots=True)
class SoundReady:
    """A file's sound and peaks are in the cache; ``damage`` says what is missing, if anything."""

    key: int
    duration: int
    damage: str | None


@dataclass(frozen=True, slots=True)
class Started:
    """A worker has begun to hear a recording."""

    key: int


@dataclass(frozen=True, slots=True)
class Heard:
    """Finished cues; hearing goes on at ``go_on_at`` if it is stopped now.

    ``until`` of ``end`` has been listened to; ``seconds`` is how long that has taken. ``unheard``
    is where somebody speaks (from, to) and no text came.
    """

    key: int
    cues: tuple[Cue, ...]
    go_on_at: int
    until: int
    end: int
    seconds: float
    unheard: tuple[tuple[int, int], ...] = ()


@dataclass(frozen=True, slots=True)
class HeardAgain:
    """The words of a passage as the second hearing has them."""

    key: int
    words: tuple[Word, ...]


@dataclass(frozen=True, slots=True)
class Prepared:
    """A sound file is ready to be listened to."""

    key: int
    source: Source
    path: Path


@dataclass(frozen=True, slots=True)
class Done:
    """A task is finished."""

    key: int
    task: str


@dataclass(frozen=True, slots=True)
class Failed:
    """A task could not be done; ``reason`` is one sentence."""

    key: int
    task: str
    reason: str


Event = Known | SoundReady | Started | Heard | HeardAgain | Prepared | Done | Failed

"""A recording in a job: its file, what is known of it, and how far it is transcribed."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from pathlib import Path

from tamarind.audio.media import MediaInfo
from tamarind.language.stylebook import ORDINARY_STYLE
from tamarind.speech.diarisation.voiceprint import Voiceprint
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.languageguess import Guess
from tamarind.system.files import shown


class State(StrEnum):
    """The state of a recording."""

    ARRIVED = "arrived"
    READY = "ready"
    QUEUED = "queued"
    STOPPED = "stopped"
    DRAFT = "draft"
    FAILED = "failed"


@dataclass(frozen=True, slots=True)
class Recording:
    """One sound or video file; times in milliseconds.

    ``part`` is what to hear, None for the end of the file; ``heard_until`` is how far it was heard
    and ``bookmark`` where hearing would go on, ``unheard`` where somebody speaks (from, to) and no
    text came, ``at_once`` where two do; ``listened`` is what a person has listened to. ``style``
    names the limits of its captions. ``problem`` says in a sentence what went wrong, also with a
    file that was partly heard. ``guesses`` are the languages that may be spoken, the likeliest
    first, where that was found out or is a doubt. ``voices`` are those of its speakers. Times count
    from where its file begins; ``from_sound`` says that they still count from where its sound does
    (``oneclock``).
    """

    id: int
    path: Path
    fingerprint: str = ""
    info: MediaInfo | None = None
    duration: int = 0
    state: State = State.ARRIVED
    problem: str | None = None
    how: HearingOptions = field(default_factory=HearingOptions)
    part: tuple[int, int | None] = (0, None)
    heard_until: int = 0
    unheard: tuple[tuple[int, int], ...] = ()
    style: str = ORDINARY_STYLE
    bookmark: str = ""
    listened: tuple[tuple[int, int], ...] = ()
    guesses: tuple[Guess, ...] = ()
    voices: tuple[Voiceprint, ...] = ()
    at_once: tuple[tuple[int, int], ...] = ()
    from_sound: bool = False

    @property
    def language(self) -> str:
        """The spoken language, a BCP 47 tag."""
        return self.how.language

    @property
    def name(self) -> str:
        """The file's name without its suffix."""
        return shown(self.path.stem)

    @property
    def part_end(self) -> int:
        """The end of the section to transcribe (ms)."""
        return self.duration if self.part[1] is None else min(self.part[1], self.duration)

    @property
    def heard_share(self) -> float:
        """The share of the section that is transcribed, 0 to 1."""
        if self.state is State.DRAFT:
            return 1.0
        length = self.part_end - self.part[0]
        if length <= 0:
            return 0.0
        return min(max((self.heard_until - self.part[0]) / length, 0.0), 1.0)

    @property
    def can_be_heard(self) -> bool:
        """Whether transcribing it may be asked for."""
        return self.state in (State.READY, State.STOPPED)

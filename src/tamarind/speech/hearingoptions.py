"""The transcription settings of a recording."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import Enum
from typing import Any

from tamarind.audio.source import WHOLE, Channel, Source
from tamarind.speech.glossary import NO_TERMS, Glossary
from tamarind.transcript.languages import UNDETERMINED

BUILTIN = "builtin"
"""The name of the recogniser that comes with the program."""

MOST_VOICES = 12
MOST_VOICES_OFFERED = 8
"""More can be typed into a command, but nobody counts them in a list."""


class Care(Enum):
    """The quality: how much work goes into a recording."""

    QUICK = "quick"
    THOROUGH = "thorough"
    DOUBLE = "double"
    """By two recognisers of different kinds; where they differ is a doubt."""


class Sensitivity(Enum):
    """How readily sound is taken for speech."""

    CLEAR = "clear"
    ORDINARY = "ordinary"
    FAINT = "faint"


@dataclass(frozen=True, slots=True)
class Voices:
    """Whether speakers are told apart, and how many there are; ``count`` None: to be detected."""

    wanted: bool = False
    count: int | None = None

    @staticmethod
    def read(text: str) -> Voices:
        """Parse "off", "auto" or a number. Raises ValueError with a sentence for the person."""
        if text == "off":
            return Voices()
        if text == "auto":
            return Voices(True)
        if text.isdecimal() and 1 <= int(text) <= MOST_VOICES:
            return Voices(True, int(text))
        raise ValueError(f"Speakers are “off”, “auto” or a number from 1 to {MOST_VOICES}.")

    def __str__(self) -> str:
        return "off" if not self.wanted else "auto" if self.count is None else str(self.count)


@dataclass(frozen=True, slots=True)
class HearingOptions:
    """``language`` is a BCP 47 tag, ``others`` those of languages spoken beside it; ``recogniser``
    is a name or a model's folder. ``into_english`` asks for English words, whatever is spoken."""

    language: str = "en"
    care: Care = Care.QUICK
    voices: Voices = Voices()
    glossary: Glossary = NO_TERMS
    source: Source = WHOLE
    recogniser: str = BUILTIN
    sensitivity: Sensitivity = Sensitivity.ORDINARY
    others: tuple[str, ...] = ()
    into_english: bool = False

    @property
    def written(self) -> str:
        """The language tag of the text."""
        return "en" if self.into_english else self.language

    @property
    def expected(self) -> str:
        """The language to assume until it is detected."""
        return "en" if self.language == UNDETERMINED else self.language

    @property
    def languages(self) -> tuple[str, ...]:
        """All spoken languages."""
        return tuple(dict.fromkeys((self.language, *self.others)))

    def data(self) -> dict[str, str | int | bool]:
        """Return what can be kept as JSON: all but the glossary, which many recordings share."""
        return {
            "language": self.language,
            "care": self.care.value,
            "voices": str(self.voices),
            "track": self.source.track,
            "channel": self.source.channel.value,
            "clean": self.source.clean,
            "recogniser": self.recogniser,
            "sensitivity": self.sensitivity.value,
            "others": ",".join(self.others),
            "into_english": self.into_english,
        }

    @staticmethod
    def from_data(data: Mapping[str, Any]) -> HearingOptions:
        """Return the settings of such data; missing ones have their defaults.

        Raises ValueError for a value that cannot be.
        """
        source = Source(
            int(data.get("track", 0)), Channel(data.get("channel", "mix")), bool(data.get("clean"))
        )
        return HearingOptions(
            language=str(data.get("language", "en")),
            care=Care(data.get("care", "quick")),
            voices=Voices.read(str(data.get("voices", "off"))),
            source=source,
            recogniser=str(data.get("recogniser", BUILTIN)),
            sensitivity=Sensitivity(data.get("sensitivity", "ordinary")),
            others=tuple(filter(None, str(data.get("others", "")).split(","))),
            into_english=bool(data.get("into_english")),
        )


AS_USUAL = HearingOptions(UNDETERMINED, voices=Voices(True))
"""How a recording is heard unless a person says otherwise: its language is found out, its voices
are told apart by themselves, and one voice has no name."""

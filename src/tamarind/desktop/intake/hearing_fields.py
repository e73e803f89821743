"""The transcription settings as fields: their words in the panel and on cards, and the option each
sets. Declare a new one here and it is shown everywhere."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from tamarind.audio.source import Channel
from tamarind.speech.hearingoptions import (
    MOST_VOICES_OFFERED,
    Care,
    HearingOptions,
    Sensitivity,
    Voices,
)
from tamarind.transcript.languages import UNDETERMINED, name_of


@dataclass(frozen=True, slots=True, eq=False)
class HearingField:
    """``title`` stands beside the field, ``name`` is read by screen readers; ``options`` are values
    by their words, in order. ``told`` says a value on a card that differs from the others of its
    job."""

    title: str
    name: str
    options: Mapping[str, Any]
    get: Callable[[HearingOptions], Any]
    put: Callable[[HearingOptions, Any], HearingOptions]
    told: Callable[[Any], str]
    stereo_only: bool = False


def _others(*tags: str) -> tuple[str, ...]:
    return tuple(dict.fromkeys(filter(None, tags)))


def _tell_voices(value: str) -> str:
    words = {"off": "1 speaker", "auto": "speakers detected"}
    return words.get(value, f"{value} speakers")


_VOICES = {"detect": "auto", "1": "off"} | {
    str(count): str(count) for count in range(2, MOST_VOICES_OFFERED + 1)
}
_QUALITIES = {
    Care.QUICK: "fast",
    Care.THOROUGH: "thorough",
    Care.DOUBLE: "two recognisers",
}
_SENSITIVITIES = {
    Sensitivity.ORDINARY: "normal voice detection",
    Sensitivity.FAINT: "sensitive voice detection",
    Sensitivity.CLEAR: "strict voice detection",
}
_CHANNELS = {
    Channel.MIX: "both channels",
    Channel.LEFT: "left channel",
    Channel.RIGHT: "right channel",
}

LANGUAGE = HearingField(
    "Language",
    "Spoken language",
    {"detect": UNDETERMINED},
    get=lambda how: how.language,
    put=lambda how, value: replace(how, language=value),
    told=lambda value: "language to be detected" if value == UNDETERMINED else name_of(value),
)
ALSO = HearingField(
    "Second language",
    "Second language",
    {"none": ""},
    get=lambda how: (*how.others, "")[0],
    put=lambda how, value: replace(how, others=_others(value, *how.others[1:])),
    told=lambda value: f"and {name_of(value)}" if value else "one language",
)
AND_ALSO = HearingField(
    "Third language",
    "Third language",
    {"none": ""},
    get=lambda how: (*how.others, "", "")[1],
    put=lambda how, value: replace(how, others=_others(*how.others[:1], value)),
    told=lambda value: f"and {name_of(value)}" if value else "two languages",
)
LANGUAGES = (LANGUAGE, ALSO, AND_ALSO)
"""Their lists have the languages that something here hears, after what is said here."""
CARE = HearingField(
    "Quality",
    "Quality",
    {
        "Fast": Care.QUICK,
        "Thorough": Care.THOROUGH,
        "Two recognisers": Care.DOUBLE,
    },
    get=lambda how: how.care,
    put=lambda how, value: replace(how, care=value),
    told=_QUALITIES.__getitem__,
)
SPEAKERS = HearingField(
    "Speakers",
    "Speakers",
    _VOICES,
    get=lambda how: str(how.voices),
    put=lambda how, value: replace(how, voices=Voices.read(value)),
    told=_tell_voices,
)
SPEECH = HearingField(
    "Voice detection",
    "Voice detection",
    {
        "normal": Sensitivity.ORDINARY,
        "sensitive": Sensitivity.FAINT,
        "strict": Sensitivity.CLEAR,
    },
    get=lambda how: how.sensitivity,
    put=lambda how, value: replace(how, sensitivity=value),
    told=_SENSITIVITIES.__getitem__,
)
SIDES = HearingField(
    "Channels",
    "Channels of a stereo recording",
    {
        "both": Channel.MIX,
        "left only": Channel.LEFT,
        "right only": Channel.RIGHT,
    },
    get=lambda how: how.source.channel,
    put=lambda how, value: replace(how, source=replace(how.source, channel=value)),
    told=_CHANNELS.__getitem__,
    stereo_only=True,
)
FIELDS = (*LANGUAGES, CARE, SPEAKERS, SPEECH, SIDES)
FIRST = (LANGUAGE, CARE, SPEAKERS)
"""Those that everybody needs; the others are folded away."""


def differing(own: HearingOptions, usual: HearingOptions) -> list[str]:
    """Return the words for settings that differ from their defaults."""
    return [one.told(one.get(own)) for one in FIELDS if one.get(own) != one.get(usual)]

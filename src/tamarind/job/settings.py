"""All settings that are kept with a job, in the order: transcription, text, pages."""

from __future__ import annotations

import json
from typing import Any, NamedTuple

from tamarind.formats.broadcast.smpte import PLAIN_TIMECODES
from tamarind.formats.filenames import USUAL_PATTERN
from tamarind.job import setting as kinds
from tamarind.job.client import Client, read_client
from tamarind.job.delivered import NEVER, Delivered
from tamarind.job.namedsets import NamedSets, packed, unpacked
from tamarind.job.setting import Setting
from tamarind.language.housestyle import HouseStyle, read_style
from tamarind.language.stylebook import ORDINARY_STYLE
from tamarind.picture.looks import Look, read_look
from tamarind.speech.glossary import NO_TERMS, Glossary, read_glossary, write_glossary
from tamarind.speech.hearingoptions import AS_USUAL, HearingOptions
from tamarind.transcript.model import DOUBTFUL_BELOW


class Usual(NamedTuple):
    """The transcription settings of new recordings, and the key of their house style."""

    how: HearingOptions
    style: str


def _usual_in(kept: str) -> Usual:
    data: dict[str, Any] = json.loads(kept)
    return Usual(HearingOptions.from_data(data), str(data.get("style", ORDINARY_STYLE)))


USUAL: Setting[Usual] = Setting(
    "how to hear",
    Usual(AS_USUAL, ORDINARY_STYLE),
    _usual_in,
    lambda usual: json.dumps({**usual.how.data(), "style": usual.style}),
)
GLOSSARY: Setting[Glossary] = Setting("glossary", NO_TERMS, read_glossary, write_glossary)
JOB_STYLES: Setting[NamedSets[HouseStyle]] = Setting(
    "house styles", NamedSets(), lambda kept: unpacked(kept, read_style), packed
)
JOB_LOOKS: Setting[NamedSets[Look]] = Setting(
    "looks", NamedSets(), lambda kept: unpacked(kept, read_look), packed
)
JOB_CLIENTS: Setting[NamedSets[Client]] = Setting(
    "clients", NamedSets(), lambda kept: unpacked(kept, read_client), packed
)
CLIENT = kinds.text("client")
"""The key of the client of new recordings; numbered, that of one recording."""

DELIVERED: Setting[Delivered] = Setting("delivered", NEVER, Delivered.read, Delivered.kept)
"""Numbered: what was delivered of the recording."""

GIVEN_OUT = kinds.text("given out")
"""Numbered: what the text was when the job was packed, as ``takingback`` has it."""

KEY_LIST = kinds.text("key list")
"""Of the names that were taken out of the last copy, as its file has it."""

DETAILS = kinds.named_texts("document details")
"""Numbered: title, date and header fields of a recording's documents, by their names."""

LOOK = kinds.text("look")
"""The key of the look of the job's captions; numbered, that of one recording."""

SECOND_LANGUAGE = kinds.text("second language on the picture")
SAFE_AREAS = kinds.flag("safe areas")
PICTURE_WIDTH = kinds.whole("picture width", 0, 0, 4_000)
"""Of the large picture beside the sheet; 0 where it is small."""

DOUBTS_BY_CERTAINTY = kinds.flag("doubts by certainty")
SHOWS_LEFT_OUT = kinds.flag("shows what is left out", True)
DOUBTFUL = kinds.share("doubtful below", DOUBTFUL_BELOW)
PAUSED = kinds.flag("paused")
DISMISSED = kinds.texts("let be")
STEP = kinds.text("step")
SHOWN = kinds.whole("shown", 0)
TEXT_SIZE = kinds.whole("text size", 21, 8, 96)
LAYOUT = kinds.text("layout")
MARKS = kinds.text("marks")
PACE = kinds.text("pace")
TRANSLATION_PACE = kinds.text("translation pace")
STEP_BACK = kinds.whole("step back", 0)
TELLS_WHEN_DONE = kinds.flag("tell when done", True)
MEDIA_FOLDER = kinds.path("media folder")
WRITTEN_OUT = kinds.path("written out")
"""Of one recording: the file that its text was written to for another editor."""

PERHAPS_SPEAKERS = kinds.whole("perhaps speakers", 0, 0, 99)
"""Of one recording: how many may speak as well, where the number that was found is in doubt."""

ASKED_FOR_MOVED = kinds.text("asked for moved recordings")
TERM_BOOKS = kinds.named_texts("translation glossaries")
"""By target language, as ``termbook`` writes them."""

TRACK_STYLES = kinds.named_texts("house styles of translations")
"""By target language, the key of a house style; where there is none it is the recording's."""

ROUTES = kinds.named_texts("translation routes")
"""The route that was chosen for a pair ("en-es"), by its key."""

MEMORY = kinds.named_texts("translation memory")
"""For a pair ("en-es") sentences that were translated elsewhere, as JSON."""

TRANSLATES_ALONG = kinds.flag("translate along")
TO_TRANSLATE = kinds.named_texts("to translate")
"""Languages into which recordings (by id) are still to be translated, with commas between."""

EXPORT_FOLDER = kinds.path("export folder")
EXPORT_DOCUMENTS = kinds.words("export documents", ("txt", "srt"))
EXPORT_ALL = kinds.flag("export all", True)
EXPORT_RECORDINGS = kinds.numbers("export recordings")
EXPORT_NAMES = kinds.text("export names", USUAL_PATTERN)
EXPORT_CLIENT = kinds.text("export client")
EXPORT_TIMECODE = kinds.text("export timecode", PLAIN_TIMECODES.start)
EXPORT_RATE = kinds.text("export frame rate")
EXPORT_LOOK = kinds.flag("export look")
EXCERPT_KINDS = kinds.words("excerpt kinds", ("wav",))
EXCERPTS_JOINED = kinds.flag("excerpts joined")
EXCERPTS_BURNT = kinds.flag("excerpts with captions drawn")
SOUNDS_LOOKED = kinds.flag("sounds looked for")
"""Numbered: somebody has gone through the loud stretches of the recording."""

NEEDS_NO_DESCRIPTION = kinds.flag("needs no description")
"""Numbered: somebody has said so of the recording."""

EXPORT_DESCRIBED = kinds.flag("export descriptions")
EXPORT_NUMBERED = kinds.flag("export line numbers")
EXPORT_TEMPLATES = kinds.named_texts("export templates")
"""Clients' documents by their suffix, as paths."""

EXPORT_ENCODING = kinds.text("export encoding", "utf-8")


def declared() -> tuple[Setting[Any], ...]:
    """Return all settings."""
    return tuple(one for one in globals().values() if isinstance(one, Setting))

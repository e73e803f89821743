"""House styles: named sets of a client's rules for captions, transcripts and wording.

A style is a value; as a file it is JSON that says what it is and may leave out whatever is as
usual.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass, field
from enum import StrEnum
from typing import Any

from tamarind.captions.limits import ORDINARY, Limits
from tamarind.formats.reading.paragraphs import PLAIN, TextOptions
from tamarind.system.declared import (
    Entry,
    FileKind,
    Values,
    one_of,
    option,
    schema_of,
    texts,
    whole,
)
from tamarind.system.errors import ToldError

SUFFIX = ".style.json"

FILLERS = ("um", "uh", "er", "erm", "uhm", "mm", "hmm", "ah", "eh", "mhm")


PHRASES = (
    "you know", "I mean", "sort of", "kind of", "o sea", "tu vois", "sozusagen", "quer dizer",
)  # fmt: skip


class StyleError(ToldError, ValueError):
    """A style cannot be read; the message is one sentence."""


FILE = FileKind("tamarind-house-style", 1, "house style", StyleError)


class Level(StrEnum):
    """How much a check counts, as in files."""

    OFF = "off"
    HINT = "hint"
    MUST = "must"

    @property
    def word(self) -> str:
        """The word for people."""
        return {"off": "off", "hint": "warning", "must": "error"}[self.value]


class Verbatim(StrEnum):
    """How much of what is said a transcript has: every word; no fillers, repeats, false starts and
    phrases that mean nothing; or no openers and signs of listening either."""

    FULL = "full"
    CLEAN = "clean"
    EDITED = "edited"


class Numbers(StrEnum):
    """How numbers are written: as they are, in digits, or in words below some number."""

    AS_THEY_ARE = "as they are"
    FIGURES = "figures"
    WORDS_BELOW = "words below"


class UnitForm(StrEnum):
    """How money or a measure is written: as it is, with a sign ("£350", "5 km"), or in full."""

    AS_IT_IS = "as it is"
    SHORT = "short"
    IN_FULL = "in full"


class Dates(StrEnum):
    """How a date is written: as it is, or in digits with the name of its month."""

    AS_THEY_ARE = "as they are"
    FIGURES = "figures"


class Times(StrEnum):
    """How a time of day is written: as it is, "3:30 pm", or "15:30"."""

    AS_THEY_ARE = "as they are"
    HALF_DAY = "12 hours"
    WHOLE_DAY = "24 hours"


class SpelledLetters(StrEnum):
    """How spelled letters are written: as they are, "P-E-N" or "PEN"."""

    AS_THEY_ARE = "as they are"
    HYPHENS = "hyphens"
    TOGETHER = "together"


class Quotes(StrEnum):
    """Which quotation marks are written."""

    AS_THEY_ARE = "as they are"
    STRAIGHT = "straight"
    DOUBLE = "double"
    SINGLE = "single"
    ANGLED = "angled"
    OF_THE_LANGUAGE = "of the language"


class Dashes(StrEnum):
    """How a dash between words is written."""

    AS_THEY_ARE = "as they are"
    SPACED_EN = "spaced en"
    EM = "em"
    HYPHEN = "hyphen"


def _read_region(value: Any) -> str:
    if not isinstance(value, str):
        raise ValueError("a region such as GB")
    return value.upper()


_SPELLINGS = Values(
    _read_region,
    {"type": "string"},
    Entry.CHOICE,
    choices={
        "British": "GB", "American": "US", "Australian": "AU", "Canadian": "CA", "Indian": "IN",
    },
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Wording:
    """``verbatim`` says what is left out; ``fillers`` and ``phrases`` are of any language.

    Numbers from ``figures_from`` on are in figures with ``Numbers.WORDS_BELOW``. Dates, times,
    amounts of money, measures and spelt-out letters have a rule each. ``spelling`` is
    the variant as a region (GB, US, AU, CA, IN) where the language has such. ``terms`` are the
    client's names and terms, each as a line of a glossary.
    """

    verbatim: Verbatim = option(
        Verbatim.FULL,
        one_of(
            {
                "full: every word": Verbatim.FULL,
                "clean: no fillers, repeats, false starts": Verbatim.CLEAN,
                "edited for reading": Verbatim.EDITED,
            }
        ),
        "Verbatim",
        section="Words",
    )
    fillers: tuple[str, ...] = option(
        FILLERS, texts(Entry.WORDS), "Fillers", section="Words", rare=True
    )
    phrases: tuple[str, ...] = option(
        PHRASES,
        texts(Entry.PHRASES),
        "Phrases",
        section="Words",
        hint="left out where they mean nothing; your own wherever they stand",
        rare=True,
    )
    numbers: Numbers = option(
        Numbers.AS_THEY_ARE,
        one_of(
            {
                "as they are": Numbers.AS_THEY_ARE,
                "in words up to a limit": Numbers.WORDS_BELOW,
                "in figures": Numbers.FIGURES,
            }
        ),
        "Numbers",
        section="Figures",
        rare=True,
    )
    figures_from: int = option(
        10,
        whole(2, 1_000_001),
        "Figures from",
        section="Figures",
        only_with=("numbers", Numbers.WORDS_BELOW),
        rare=True,
    )
    dates: Dates = option(
        Dates.AS_THEY_ARE,
        one_of({"as they are": Dates.AS_THEY_ARE, "in figures: 14 March 1985": Dates.FIGURES}),
        "Dates, years",
        section="Figures",
        rare=True,
    )
    times: Times = option(
        Times.AS_THEY_ARE,
        one_of(
            {
                "as they are": Times.AS_THEY_ARE,
                "3:30 pm": Times.HALF_DAY,
                "15:30": Times.WHOLE_DAY,
            }
        ),
        "Times of day",
        section="Figures",
        rare=True,
    )
    amounts: UnitForm = option(
        UnitForm.AS_IT_IS,
        one_of(
            {
                "as it is": UnitForm.AS_IT_IS,
                "with its sign: £350": UnitForm.SHORT,
                "in full: 350 pounds": UnitForm.IN_FULL,
            }
        ),
        "Money",
        section="Figures",
        rare=True,
    )
    measures: UnitForm = option(
        UnitForm.AS_IT_IS,
        one_of(
            {
                "as they are": UnitForm.AS_IT_IS,
                "short: 5 km, 20%": UnitForm.SHORT,
                "in full: 5 kilometres": UnitForm.IN_FULL,
            }
        ),
        "Measures",
        section="Figures",
        rare=True,
    )
    letters: SpelledLetters = option(
        SpelledLetters.AS_THEY_ARE,
        one_of(
            {
                "as they are": SpelledLetters.AS_THEY_ARE,
                "P-E-N": SpelledLetters.HYPHENS,
                "PEN": SpelledLetters.TOGETHER,
            }
        ),
        "Spelled-out letters",
        section="Figures",
        rare=True,
    )
    quotes: Quotes = option(
        Quotes.AS_THEY_ARE,
        one_of(
            {
                "as they are": Quotes.AS_THEY_ARE,
                "“double”": Quotes.DOUBLE,
                "‘single’": Quotes.SINGLE,
                "«angled»": Quotes.ANGLED,
                '"straight"': Quotes.STRAIGHT,
                "as the language has them": Quotes.OF_THE_LANGUAGE,
            }
        ),
        "Quotation marks",
        section="Punctuation",
    )
    dashes: Dashes = option(
        Dashes.AS_THEY_ARE,
        one_of(
            {
                "as they are": Dashes.AS_THEY_ARE,
                "spaced – en dash": Dashes.SPACED_EN,
                "closed—em dash": Dashes.EM,
                "spaced - hyphen": Dashes.HYPHEN,
            }
        ),
        "Dashes",
        section="Punctuation",
    )
    spelling: str = option("GB", _SPELLINGS, "English spelling", section="Punctuation")
    terms: tuple[str, ...] = option(
        (),
        texts(Entry.TERMS),
        "Glossary",
        section="Names",
        hint="names and terms to listen for in all recordings with this style",
    )


AS_HEARD = Wording()

CONVENTIONS: Mapping[str, Mapping[str, object]] = {
    "as spoken": {
        "numbers": Numbers.AS_THEY_ARE,
        "dates": Dates.AS_THEY_ARE,
        "times": Times.AS_THEY_ARE,
        "amounts": UnitForm.AS_IT_IS,
        "measures": UnitForm.AS_IT_IS,
    },
    "words below ten, else figures": {
        "numbers": Numbers.WORDS_BELOW,
        "dates": Dates.AS_THEY_ARE,
        "times": Times.AS_THEY_ARE,
        "amounts": UnitForm.AS_IT_IS,
        "measures": UnitForm.AS_IT_IS,
    },
    "figures, units in full": {
        "numbers": Numbers.WORDS_BELOW,
        "dates": Dates.FIGURES,
        "times": Times.HALF_DAY,
        "amounts": UnitForm.IN_FULL,
        "measures": UnitForm.IN_FULL,
    },
    "figures, short units: £350, 5 km": {
        "numbers": Numbers.WORDS_BELOW,
        "dates": Dates.FIGURES,
        "times": Times.HALF_DAY,
        "amounts": UnitForm.SHORT,
        "measures": UnitForm.SHORT,
    },
}
"""What most clients want of numbers, dates, times, money and measures, by its words."""


@dataclass(frozen=True)
class HouseStyle:
    """A client's rules; ``levels`` holds only checks that differ from their default level."""

    name: str
    captions: Limits = ORDINARY
    transcript: TextOptions = PLAIN
    wording: Wording = AS_HEARD
    levels: Mapping[str, Level] = field(default_factory=dict)

    def packed(self) -> str:
        """Return the style as the text of a file, with every rule."""
        parts = {
            "captions": asdict(self.captions),
            "transcript": asdict(self.transcript),
            "wording": asdict(self.wording),
            "checks": {rule: level.value for rule, level in sorted(self.levels.items())},
        }
        return FILE.packed(self.name, parts)


def read_style(text: str) -> HouseStyle:
    """Return the style in a file's text; missing rules have their defaults. Raises StyleError."""
    name, data = FILE.read(text)
    captions = FILE.part(data, "captions", Limits)
    transcript = FILE.part(data, "transcript", TextOptions)
    wording = FILE.part(_renamed(data), "wording", Wording)
    try:
        levels = {str(rule): Level(level) for rule, level in dict(data.get("checks", {})).items()}
    except (TypeError, ValueError):
        raise StyleError("A check in the house style has no level that is known.") from None
    if captions.shortest > captions.longest:
        raise StyleError("The shortest time of a caption is longer than the longest.")
    return HouseStyle(name, captions, transcript, wording, levels)


def _renamed(data: dict[str, Any]) -> dict[str, Any]:
    """Return the data of a file with what earlier versions called "clean"."""
    wording = data.get("wording")
    if not isinstance(wording, dict) or not isinstance(wording.get("clean"), bool):
        return data
    others = {name: value for name, value in wording.items() if name != "clean"}
    verbatim = Verbatim.CLEAN if wording["clean"] else Verbatim.FULL
    return {**data, "wording": {"verbatim": verbatim.value, **others}}


def schema() -> dict[str, Any]:
    """Return the JSON Schema of files with a house style."""
    levels = {"enum": [level.value for level in Level]}
    return FILE.schema(
        "Times are in milliseconds.",
        {
            "captions": schema_of(Limits),
            "transcript": schema_of(TextOptions),
            "wording": schema_of(Wording),
            "checks": {"type": "object", "additionalProperties": levels},
        },
    )

"""How a language writes dates, money and measures, by the Common Locale Data Repository (CLDR) of
the Unicode Consortium, through Babel."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from functools import cache
from typing import TYPE_CHECKING, Any, Literal

from tamarind.transcript.languages import UNDETERMINED, base_of

if TYPE_CHECKING:
    from babel import Locale

_MEASURES = (
    "length-kilometer", "length-meter", "length-centimeter", "length-millimeter", "length-mile",
    "length-yard", "length-foot", "length-inch", "area-hectare", "area-acre",
    "area-square-kilometer", "area-square-meter", "area-square-centimeter", "area-square-mile",
    "area-square-foot", "mass-tonne", "mass-kilogram", "mass-gram", "mass-milligram", "mass-ounce",
    "volume-liter", "volume-milliliter", "volume-centiliter", "volume-cubic-meter",
    "volume-cubic-centimeter", "temperature-celsius", "temperature-fahrenheit",
    "speed-kilometer-per-hour", "speed-meter-per-second", "speed-mile-per-hour",
    "concentr-percent", "concentr-permillion", "energy-kilowatt-hour", "energy-kilojoule",
    "power-watt", "power-kilowatt", "power-megawatt", "frequency-hertz", "frequency-kilohertz",
    "digital-megabyte", "digital-gigabyte", "digital-terabyte", "electric-volt", "electric-ampere",
)  # fmt: skip
_MORE_NAMES = {
    "en": {
        "percent": "concentr-percent", "per cent": "concentr-percent",
        "kilo": "mass-kilogram", "kilos": "mass-kilogram",
        "miles an hour": "speed-mile-per-hour", "metres a second": "speed-meter-per-second",
        "kilometres an hour": "speed-kilometer-per-hour",
        "kilometers an hour": "speed-kilometer-per-hour",
        "metres squared": "area-square-meter", "metres cubed": "volume-cubic-meter",
    },
    "de": {"kilo": "mass-kilogram", "stundenkilometer": "speed-kilometer-per-hour"},
    "fr": {"kilo": "mass-kilogram", "kilos": "mass-kilogram"},
    "es": {"kilo": "mass-kilogram", "kilos": "mass-kilogram"},
}  # fmt: skip
_RELATIVES = {"en": ("en", "en_GB"), "pt": ("pt", "pt_PT")}
"""Places that spell the names of measures otherwise."""
_IN_FULL_ONLY = ("area-acre", "area-square-mile", "length-mile")
"""Measures whose signs few people read: they are not shortened."""

_WORDS_TOO = {"in", "a", "to", "de", "do", "on"}
"""Signs of measures that are words of some language."""

_SIGNS = {"EUR": "€", "USD": "$", "GBP": "£"}
_OF_A_KIND = {
    "EUR": ("EUR",),
    "USD": ("USD", "CAD", "AUD", "NZD"),
    "GBP": ("GBP", "EGP", "LBP"),
}
"""Money by currencies whose names share the word for it."""


@dataclass(frozen=True)
class Conventions:
    """A language's names of measures, months and money, small letters, and numbers of months from 1
    on. ``signs`` are short forms of measures ("km")."""

    locale: Locale
    measures: Mapping[str, str]
    signs: Mapping[str, str]
    months: Mapping[str, int]
    money: Mapping[str, str]

    def measure(self, value: float, measure: str, shortly: bool, number: str = "") -> str:
        """Return a measure with its number, or with ``number`` in place of it."""
        from babel.units import format_unit

        length: Literal["short", "long"] = "short" if shortly else "long"
        text = format_unit(value, measure, length=length, locale=self.locale)
        return text.replace(self.number(value), number, 1) if number else text

    def number(self, value: float) -> str:
        """Return a number in digits."""
        from babel.numbers import format_decimal

        return str(format_decimal(value, locale=self.locale))

    def amount(self, value: float, currency: str) -> str:
        """Return an amount of money with its sign: "£350", "3,50 €"."""
        from babel.numbers import format_decimal

        pattern = self.locale.currency_formats["standard"].pattern.split(";")[0]
        before = pattern.startswith("¤")
        bare = pattern.replace("¤", "").strip("\u00a0 \u200f")
        number = format_decimal(
            value,
            format=bare if value != int(value) else bare.partition(".")[0],
            locale=self.locale,
        )
        gap = "\u00a0" if "\u00a0" in pattern else ""
        sign = _SIGNS[currency]
        return f"{sign}{gap}{number}" if before else f"{number}{gap}{sign}"

    def day(self, day: int, month: int, year: int | None) -> str:
        """Return a date with the name of its month. Raises ValueError for one that no calendar
        has."""
        from babel.dates import format_date, format_skeleton

        # Without a year, a leap year: it has the 29th of February.
        when = date(year or 2000, month, day)
        if year is not None:
            text = str(format_date(when, "long", locale=self.locale))
            return text.removesuffix("\u202fг.").removesuffix(" г.")
        return str(format_skeleton("MMMMd", when, locale=self.locale))

    def month(self, month: int) -> str:
        """Return a month's name as it stands in a date."""
        return str(self.locale.months["format"]["wide"][month])


@cache
def conventions_of(language: str, region: str = "") -> Conventions | None:
    """Return the conventions of a language (BCP 47), of its usual region if the tag has none; None
    if they are not known."""
    from babel import Locale, UnknownLocaleError

    base = base_of(language)
    if base in ("", UNDETERMINED):
        return None
    own = [language.replace("-", "_")] if "-" in language else []
    for tag in (*own, *([f"{base}_{region}"] if region else []), base):
        try:
            locale = Locale.parse(tag)
            break
        except (UnknownLocaleError, ValueError, TypeError):
            continue
    else:
        return None
    relatives = [locale, *map(Locale.parse, _RELATIVES.get(base, ()))]
    return Conventions(
        locale,
        {
            name: one
            for name, one in (*_names(relatives, "long"), *_MORE_NAMES.get(base, {}).items())
            if one not in _IN_FULL_ONLY
        },
        {name: one for name, one in _names([locale], "short") if name not in _WORDS_TOO},
        dict(_months(locale)),
        dict(_money(locale, region)),
    )


def _names(locales: Iterable[Locale], length: str) -> Iterable[tuple[str, str]]:
    for locale in locales:
        patterns: Any = locale._data["unit_patterns"]
        for measure in _MEASURES:
            forms = patterns.get(measure, {}).get(length) or {}
            for kind, pattern in forms.items():
                name = pattern.removeprefix("{0}").strip("\u00a0\u202f ")
                if kind != "per" and "{0}" not in name and name:
                    kept = name if length == "short" else name.casefold()
                    yield kept.replace("\u00a0", " "), measure


def _months(locale: Locale) -> Iterable[tuple[str, int]]:
    for form in ("stand-alone", "format"):
        for number, name in locale.months[form]["wide"].items():
            yield name.casefold(), number


def _money(locale: Locale, region: str) -> Iterable[tuple[str, str]]:
    if locale.language == "en":
        yield from (("quid", "GBP"), ("buck", "USD"), ("bucks", "USD"))
    for currency, kind in _OF_A_KIND.items():
        shared = set.intersection(*(_currency_words(locale, code) for code in kind))
        for word in shared:
            weight = currency == "GBP" and locale.language == "en" and region in ("US", "CA")
            if len(word) > 2 and not weight:
                yield word, currency


def _currency_words(locale: Locale, code: str) -> set[str]:
    data: Any = locale._data
    names = [locale.currencies.get(code, "")]
    plurals = data.get("currency_names_plural", {}).get(code)
    names += plurals.values() if plurals else []
    return {word for name in names for word in name.casefold().split()}

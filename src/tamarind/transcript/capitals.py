"""Capitalise by language: Turkish and Azeri keep the dot of "i" and none on "ı" (Unicode,
SpecialCasing.txt)."""

from __future__ import annotations

from tamarind.transcript.languages import base_of

_DOTTED = frozenset(("tr", "az", "kk-latn", "tt-latn", "crh"))


def capitals(text: str, language: str) -> str:
    """Return a text in capitals."""
    return text.replace("i", "İ").upper() if _is_dotted(language) else text.upper()


def with_capital(text: str, language: str) -> str:
    """Return a text with its first letter as a capital; "ß" and the like stay."""
    first = capitals(text[:1], language)
    return f"{first}{text[1:]}" if len(first) == 1 else text


def _is_dotted(language: str) -> bool:
    return base_of(language) in _DOTTED or language.casefold() in _DOTTED

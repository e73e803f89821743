"""Rewrite quotation marks and dashes as a style asks."""

from __future__ import annotations

import re

from tamarind.language.housestyle import Dashes, Quotes, Wording
from tamarind.transcript.languages import base_of
from tamarind.transcript.unspaced import is_unspaced

_PAIRS = {
    Quotes.STRAIGHT: (('"', '"'), ("'", "'")),
    Quotes.DOUBLE: (("“", "”"), ("‘", "’")),
    Quotes.SINGLE: (("‘", "’"), ("“", "”")),
    Quotes.ANGLED: (("«", "»"), ("“", "”")),
}
"""Outer and inner marks."""

_LOW, _ANGLED, _DOUBLE = ("„", "“"), ("«", "»"), ("“", "”")
_OF_LANGUAGES = {
    "en": (_DOUBLE, ("‘", "’")), "de": (_LOW, ("‚", "‘")), "cs": (_LOW, ("‚", "‘")),
    "sk": (_LOW, ("‚", "‘")), "sl": (_LOW, ("‚", "‘")), "bg": (_LOW, ("’", "’")),
    "pl": (("„", "”"), ("«", "»")), "ro": (("„", "”"), ("«", "»")), "hu": (("„", "”"), ("»", "«")),
    "hr": (("„", "”"), ("‘", "’")), "lt": (_LOW, ("‚", "‘")), "nl": (_DOUBLE, ("‘", "’")),
    "fr": (_ANGLED, _DOUBLE), "it": (_ANGLED, _DOUBLE), "es": (_ANGLED, _DOUBLE),
    "ca": (_ANGLED, _DOUBLE), "pt": (_DOUBLE, ("‘", "’")), "ru": (_ANGLED, _LOW),
    "uk": (_ANGLED, _LOW), "el": (_ANGLED, _DOUBLE), "no": (_ANGLED, ("‘", "’")),
    "da": (("»", "«"), ("›", "‹")), "sv": (("”", "”"), ("’", "’")), "fi": (("”", "”"), ("’", "’")),
    "ja": (("「", "」"), ("『", "』")), "zh": (_DOUBLE, ("‘", "’")),
}  # fmt: skip
"""As the Common Locale Data Repository (CLDR) has them."""

_SPACED = ("fr",)
"""Languages that put narrow spaces, which no line breaks at, between quotes and what they hold and
before high marks; Canada and Switzerland do not before those."""

_NARROW = "\u202f"
_WITHIN_QUOTES = re.compile(r"(?<=«)\s*(?=\S)|(?<=\S)\s*(?=»)")
_BEFORE_HIGH = re.compile(r"(?<=[\w»”’)])[ \u00a0\u202f]?(?=[;:!?]+(?:\s|$|[»”\")]))")

_DASH = {Dashes.SPACED_EN: " – ", Dashes.EM: "—", Dashes.HYPHEN: " - "}
_DASHES = re.compile(r"(?<=\S)\s+(?:-{1,3}|–|—)\s+(?=\S)|(?<=\w)\s*(?:—|--)\s*(?=\w)")
_OUTER = re.compile('["“”„«»]')
_APOSTROPHE = re.compile(r"(?<=\w)['’](?=\w)")
_INNER = re.compile(r"(?<![\w])['‘’](?=\w)|(?<=[\w.,?!…])['’](?!\w)")


_STRAIGHT = re.compile('"')
_STRAIGHT_INNER = re.compile(r"(?<!\w)'(?=\w)|(?<=[\w.,?!…])'(?!\w)")
_BEFORE_QUOTES = '([{–—"“«„\ue001'


def restyled(text: str, wording: Wording, language: str = "en") -> str:
    """Return a text in a language with the style's quotation marks and dashes.

    Quotation marks open before a word and close after one. An apostrophe within a word goes with
    the marks: straight with straight ones, else curled.
    """
    if wording.dashes is not Dashes.AS_THEY_ARE:
        text = _DASHES.sub(_DASH[wording.dashes], text)
    if wording.quotes is Quotes.AS_THEY_ARE:
        return text
    if wording.quotes is Quotes.OF_THE_LANGUAGE:
        pairs = _OF_LANGUAGES.get(base_of(language), _OF_LANGUAGES["en"])
        return _spaced(_quoted(text, *pairs), language)
    return _quoted(text, *_PAIRS[wording.quotes])


def _spaced(text: str, language: str) -> str:
    """Add the spaces that a language puts at marks."""
    if base_of(language) not in _SPACED:
        return text
    text = _WITHIN_QUOTES.sub(_NARROW, text)
    if language.casefold() in ("fr-ca", "fr-ch"):
        return text
    return _BEFORE_HIGH.sub(_NARROW, text)


def _quoted(text: str, outer: tuple[str, str], inner: tuple[str, str]) -> str:
    text = _APOSTROPHE.sub("'" if outer[0] == '"' else "\ue000", text)
    if outer[0] in text and outer[0] != '"':
        # It has the style's marks already: what is of another kind is an inner one.
        text = _STRAIGHT.sub(lambda match: _sided(match, outer), text)
        text = _STRAIGHT_INNER.sub(lambda match: _sided(match, inner), text)
        return text.replace("\ue000", "’")
    # Inner marks wait under other letters until the outer ones are done.
    text = _INNER.sub(lambda match: _sided(match, ("\ue001", "\ue002")), text)
    text = _OUTER.sub(lambda match: _sided(match, outer), text)
    for waiting, mark in (("\ue000", "’"), ("\ue001", inner[0]), ("\ue002", inner[1])):
        text = text.replace(waiting, mark)
    return text


def _sided(match: re.Match[str], pair: tuple[str, str]) -> str:
    whole = match.string
    before = whole[match.start() - 1] if match.start() else " "
    after = whole[match.end()] if match.end() < len(whole) else " "
    if match[0] in "«“‘„" and not before.isalnum():
        return pair[0]
    if match[0] in "»”":
        return pair[1]
    if is_unspaced(before):
        # Without spaces nothing but their order tells which mark opens.
        return pair[whole[: match.start()].count(match[0]) % 2]
    opens = (before.isspace() or before in _BEFORE_QUOTES) and not after.isspace()
    return pair[0] if opens else pair[1]

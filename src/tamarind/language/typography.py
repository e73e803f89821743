"""Quotation marks and dashes as a style wants them."""

from __future__ import annotations

import re

from tamarind.language.housestyle import Dashes, Quotes, Wording

_PAIRS = {
    Quotes.STRAIGHT: (('"', '"'), ("'", "'")),
    Quotes.DOUBLE: (("“", "”"), ("‘", "’")),
    Quotes.SINGLE: (("‘", "’"), ("“", "”")),
    Quotes.ANGLED: (("«", "»"), ("“", "”")),
}
"""Outer and inner marks."""

_DASH = {Dashes.SPACED_EN: " – ", Dashes.EM: "—", Dashes.HYPHEN: " - "}
_DASHES = re.compile(r"(?<=\S)\s+(?:-{1,3}|–|—)\s+(?=\S)|(?<=\w)\s*(?:—|--)\s*(?=\w)")
_OUTER = re.compile('["“”„«»]')
_APOSTROPHE = re.compile(r"(?<=\w)['’](?=\w)")
_INNER = re.compile(r"(?<![\w])['‘’](?=\w)|(?<=[\w.,?!…])['’](?!\w)")


_STRAIGHT = re.compile('"')
_STRAIGHT_INNER = re.compile(r"(?<!\w)'(?=\w)|(?<=[\w.,?!…])'(?!\w)")
_BEFORE_QUOTES = '([{–—"“«„\ue001'


def restyled(text: str, wording: Wording) -> str:
    """A text with other quotation marks and dashes, where the style asks for it.

    Quotation marks open before a word and close after one. An apostrophe within a word goes with
    the marks: straight with straight ones, else curled.
    """
    if wording.dashes is not Dashes.AS_THEY_ARE:
        text = _DASHES.sub(_DASH[wording.dashes], text)
    if wording.quotes is Quotes.AS_THEY_ARE:
        return text
    outer, inner = _PAIRS[wording.quotes]
    text = _APOSTROPHE.sub("'" if wording.quotes is Quotes.STRAIGHT else "\ue000", text)
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
    opens = (before.isspace() or before in _BEFORE_QUOTES) and not after.isspace()
    return pair[0] if opens else pair[1]

"""Scripts that put no spaces between words – Chinese, Japanese, Thai: told, and cut into phrases.

Phrases are found by budoux (a gradient-boosted classifier over the letters around each place). They
are the words of such a text: they have times and can be doubts, and lines break between them.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import cache

import regex

_UNSPACED = regex.compile(r"[\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}\p{Lao}\p{Khmer}\p{Myanmar}]")
_KANA, _THAI = regex.compile(r"[\p{Hiragana}\p{Katakana}]"), regex.compile(r"\p{Thai}")
_TRADITIONAL = frozenset("們這個來時說會過對還樣點裡為國學與實發現開門問東車馬鳥魚龍雲電")
_NEVER_FIRST = regex.compile(
    r"^[\p{Pe}\p{Pf}\p{Po}\p{M}\u3000ー々ぁぃぅぇぉっゃゅょァィゥェォッャュョ]+"
)
"""What may not begin a line: closing marks, full stops, small kana."""

_NEVER_LAST = regex.compile(r"[\p{Ps}\p{Pi}]+$")
"""What may not end one: opening marks."""

LONGEST_PHRASE = 12
"""Letters; a longer phrase may be broken anywhere, as far as marks allow."""

UNMARKED = frozenset(("ja", "zh", "ko", "th", "lo", "km", "my", "yue"))
"""Languages whose captions commonly have no mark at the end of a sentence."""


def is_unspaced(text: str) -> bool:
    """Whether a text has letters of a script that puts no spaces between words."""
    return not text.isascii() and _UNSPACED.search(text) is not None


def letters_in(text: str) -> int:
    """How many letters of such scripts a text has."""
    return 0 if text.isascii() else len(_UNSPACED.findall(text))


def adjoins(before: str, after: str) -> bool:
    """Whether no space belongs between the end of one text and the beginning of another."""
    ends = _UNSPACED.match(before[-1:]) or _NEVER_FIRST.match(before[-1:])
    return bool(ends and _UNSPACED.match(after[:1]) and is_unspaced(before))


def phrases_of(text: str) -> list[str]:
    """A text in phrases, which together are the text again."""
    parts: list[str] = []
    for phrase in _parser_for(text)(text):
        while len(phrase) > LONGEST_PHRASE:
            parts.append(phrase[:LONGEST_PHRASE])
            phrase = phrase[LONGEST_PHRASE:]
        parts.append(phrase)
    # Closing marks go with what they close, opening ones with what they open.
    result: list[str] = []
    for part in parts:
        if result and (opening := _NEVER_LAST.search(result[-1])):
            result[-1] = result[-1][: opening.start()]
            part = opening[0] + part
            if not result[-1]:
                result.pop()
        match = _NEVER_FIRST.match(part) if result else None
        if match:
            result[-1] += match[0]
            part = part[match.end() :]
        if part:
            result.append(part)
    return result


def _parser_for(text: str) -> Callable[[str], list[str]]:
    if _KANA.search(text):
        return _parser("japanese")
    if _THAI.search(text):
        return _parser("thai")
    if _TRADITIONAL.intersection(text):
        return _parser("traditional_chinese")
    return _parser("simplified_chinese")


@cache
def _parser(name: str) -> Callable[[str], list[str]]:
    import budoux  # read at the first use: most texts have spaces

    parse: Callable[[str], list[str]] = getattr(budoux, f"load_default_{name}_parser")().parse
    return parse

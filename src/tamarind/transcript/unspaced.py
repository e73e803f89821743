"""Scripts without spaces between words – Chinese, Japanese, Thai: detect them, and cut them into
phrases.

Phrases are found by budoux (a gradient-boosted classifier over the letters around each place). They
are the words of such a text: they have times and can be doubts, and lines break between them.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable
from functools import cache

_KANA = re.compile("[\u3041-\u30ff\u31f0-\u31ff\uff66-\uff9f]")
_THAI = re.compile("[\u0e01-\u0e3a\u0e40-\u0e5b]")
_UNSPACED = re.compile(
    "[\u0e01-\u0e3a\u0e40-\u0e5b\u0e81-\u0edf\u1000-\u109f\u1780-\u17ff\u2e80-\u2fdf\u3005\u3007"
    "\u3021-\u3029\u3038-\u303b\u3041-\u30ff\u31f0-\u31ff\u3400-\u4dbf\u4e00-\u9fff\uf900-\ufaff"
    "\uff66-\uff9f\U00020000-\U000323af]"
)
"""Thai, Lao, Burmese, Khmer, Chinese, Japanese (blocks of the Unicode Standard)."""

_TRADITIONAL = frozenset("們這個來時說會過對還樣點裡為國學與實發現開門問東車馬鳥魚龍雲電")
_NEVER_FIRST = frozenset("\u3000ー々ぁぃぅぇぉっゃゅょァィゥェォッャュョ")
_CLOSING, _OPENING = frozenset(("Pe", "Pf", "Po", "Mn", "Mc", "Me")), frozenset(("Ps", "Pi"))
"""What may not begin a line – closing marks, full stops, small kana – and what may not end one."""

LONGEST_PHRASE = 12
"""Letters; a longer phrase may be broken anywhere, as far as marks allow."""

UNMARKED = frozenset(("ja", "zh", "ko", "th", "lo", "km", "my", "yue"))
"""Languages whose captions commonly have no mark at the end of a sentence."""


def is_unspaced(text: str) -> bool:
    """Whether a text has letters of a script without spaces between words."""
    return not text.isascii() and _UNSPACED.search(text) is not None


def letters_in(text: str) -> int:
    """Count the letters of such scripts in a text."""
    return 0 if text.isascii() else len(_UNSPACED.findall(text))


def adjoins(before: str, after: str) -> bool:
    """Whether no space belongs between the end of one text and the beginning of another."""
    ends = _UNSPACED.match(before[-1:]) or _closes(before[-1:])
    return bool(ends and _UNSPACED.match(after[:1]) and is_unspaced(before))


def phrases_of(text: str) -> list[str]:
    """Return the phrases of a text; joined they are the text again."""
    parts: list[str] = []
    for phrase in _parser_for(text)(text):
        while len(phrase) > LONGEST_PHRASE:
            parts.append(phrase[:LONGEST_PHRASE])
            phrase = phrase[LONGEST_PHRASE:]
        parts.append(phrase)
    # Closing marks go with what they close, opening ones with what they open.
    result: list[str] = []
    for part in parts:
        while result and unicodedata.category(result[-1][-1]) in _OPENING:
            part = result[-1][-1] + part
            result[-1] = result[-1][:-1]
            if not result[-1]:
                result.pop()
        while result and part and _closes(part[0]):
            result[-1] += part[0]
            part = part[1:]
        if part:
            result.append(part)
    return result


def _closes(letter: str) -> bool:
    return letter in _NEVER_FIRST or (letter != "" and unicodedata.category(letter) in _CLOSING)


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

"""Text without spaces between its words – Chinese, Japanese, Thai – cut into phrases, so that lines
and captions can break where they should.

A run of such text is one word in a text. For laying out it is opened into phrases as budoux finds
them (a gradient-boosted classifier over the letters around each place), and what lands in the same
line is closed to one word again: nobody ever sees a space that was not there.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import cache

import regex

from tamarind.transcript.model import Cue, Word
from tamarind.transcript.reconcile import held

_UNSPACED = regex.compile(r"[\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}\p{Lao}\p{Khmer}\p{Myanmar}]")
_KANA, _THAI = regex.compile(r"[\p{Hiragana}\p{Katakana}]"), regex.compile(r"\p{Thai}")
_NEVER_FIRST = regex.compile(r"^[\p{Pe}\p{Pf}\p{Po}\p{M}ー々ぁぃぅぇぉっゃゅょァィゥェォッャュョ]+")
"""What may not begin a line: closing marks, full stops, small kana."""

LONGEST_PHRASE = 12
"""Letters; a longer phrase may be broken anywhere, as far as marks allow."""

UNMARKED = frozenset(("ja", "zh", "ko", "th", "lo", "km", "my", "yue"))
"""Languages whose captions commonly have no mark at the end of a sentence."""


def is_unspaced(text: str) -> bool:
    """Whether a text has letters of a script that puts no spaces between words."""
    return _UNSPACED.search(text) is not None


def opened(words: Sequence[Word], language: str) -> list[Word]:
    """The words, those without spaces in them parted into phrases that share their time."""
    result: list[Word] = []
    for word in words:
        parts = phrases_of(word.text, language) if is_unspaced(word.text) else [word.text]
        if len(parts) < 2:
            result.append(word)
            continue
        length, at = word.end - word.start, 0
        own = []
        for part in parts:
            start = word.start + length * at // len(word.text)
            at += len(part)
            end = word.start + length * at // len(word.text)
            own.append(replace(word, text=part, start=start, end=end, alternatives=()))
        result += held(own, word.start, max(word.end, word.start + len(own)))
    return result


def closed(cue: Cue) -> Cue:
    """A cue whose phrases are joined again within each line."""
    breaks = set(cue.breaks or ())
    words: list[Word] = []
    starts: list[int] = []
    for place, word in enumerate(cue.words):
        if place in breaks:
            starts.append(len(words))
        elif words and _belong(words[-1], word):
            last = words[-1]
            words[-1] = replace(last, text=last.text + word.text, end=max(last.end, word.end))
            continue
        words.append(word)
    if len(words) == len(cue.words):
        return cue
    new_breaks = None if cue.breaks is None else tuple(starts)
    return replace(cue, words=tuple(words), breaks=new_breaks)


def _belong(one: Word, other: Word) -> bool:
    """Whether two words side by side have no space between them."""
    ends = _UNSPACED.match(one.text[-1:]) or _NEVER_FIRST.match(one.text[-1:])
    return bool(ends and _UNSPACED.match(other.text[:1])) and one.spans == other.spans


def phrases_of(text: str, language: str) -> list[str]:
    """A text in phrases, which together are the text again."""
    parts: list[str] = []
    for phrase in _parser_for(text, language)(text):
        while len(phrase) > LONGEST_PHRASE:
            parts.append(phrase[:LONGEST_PHRASE])
            phrase = phrase[LONGEST_PHRASE:]
        parts.append(phrase)
    # Closing marks go with what they close.
    result: list[str] = []
    for part in parts:
        match = _NEVER_FIRST.match(part) if result else None
        if match:
            result[-1] += match[0]
            part = part[match.end() :]
        if part:
            result.append(part)
    return result


def _parser_for(text: str, language: str) -> Callable[[str], list[str]]:
    if _KANA.search(text):
        return _parser("japanese")
    if _THAI.search(text):
        return _parser("thai")
    if language.casefold().startswith(("zh-tw", "zh-hk", "zh-hant", "yue")):
        return _parser("traditional_chinese")
    return _parser("japanese" if language[:2] == "ja" else "simplified_chinese")


@cache
def _parser(name: str) -> Callable[[str], list[str]]:
    import budoux  # read at the first use: most texts have spaces

    parse: Callable[[str], list[str]] = getattr(budoux, f"load_default_{name}_parser")().parse
    return parse

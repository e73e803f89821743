"""What a translation must keep: glossary terms, names, and remarks by a table.

No engine promises that, so each sentence is looked at, and where something is missing it is put
to the engine in another way: with the translation written into the source, which leaves the words
around it their grammar; then with a stand-in that engines carry through as they do a name; at last
in the parts between the terms, which always keeps them.
"""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cache
from importlib import resources

from tamarind.transcript.languages import base_of
from tamarind.transcript.sentences import CLOSERS, MARKS, OPENERS, bare
from tamarind.transcript.tokens import joined, tokens_of
from tamarind.translation.inflection import forms, is_plural, plural_of_term
from tamarind.translation.termbook import TermBook

Run = Callable[[Sequence[str]], list[str]]
"""Translates each of some texts."""

_STAND_IN = "XQZ{}"
_REMARK = re.compile(r"\[([^\[\]]{1,80})\]")
_AS_THEY_ARE = re.compile(
    r"(?:https?://|www\.)\S+[\w/]|[\w.+-]+@[\w-]+(?:\.[\w-]+)+|[£$€¥]\d+(?:[.,]\d+)*|[#@]\w+"
)
"""Addresses, sums and tags are nobody's words."""

_TIME = re.compile(r"\d{1,2}(?::\d{2}){1,2}(?:[.,]\d+)?")


@dataclass(frozen=True, slots=True)
class KeptTokens:
    """The tokens [``first``, ``last``) of a sentence and what they become.

    ``is_literal`` says that no other form of it will do.
    """

    first: int
    last: int
    target: str
    is_literal: bool


class Keeper:
    """Finds what to keep, from one language to another."""

    def __init__(
        self, source: str, target: str, terms: TermBook, names: Sequence[str] = ()
    ) -> None:
        """``names`` stay as they are unless the terms say otherwise."""
        self._source, self._target = source, target
        told = {pair.source.casefold(): (pair.source, pair.target) for pair in terms.pairs}
        own = {name.casefold(): (name, name) for name in names if name.strip()}
        pairs = {**own, **told}.values()
        self._terms = [
            ([forms(word, source) for word in tokens_of(term)], term, translation)
            for term, translation in sorted(pairs, key=lambda pair: -len(pair[0].split()))
        ]

    def found(self, text: str) -> list[KeptTokens]:
        """Return what a sentence has to keep, in order; longer terms before those within them."""
        tokens = tokens_of(text)
        plain = [bare(token) for token in tokens]
        taken = [False] * len(tokens)
        result = [*self._remarks(tokens, taken), *_as_they_are(tokens, taken)]
        for ways, term, translation in self._terms:
            size = len(ways)
            for first in range(len(tokens) - size + 1):
                own = range(first, first + size)
                if any(taken[place] for place in own) or not all(
                    plain[place] in way for place, way in zip(own, ways, strict=True)
                ):
                    continue
                if term[:1].isupper() and not _core(tokens[first])[:1].isupper():
                    continue
                said = " ".join(plain[place] for place in own)
                target = translation
                if term != translation and is_plural(said, term, self._source):
                    target = plural_of_term(translation, self._target)
                result.append(KeptTokens(first, first + size, target, term == translation))
                for place in own:
                    taken[place] = True
        return sorted(result, key=lambda kept: kept.first)

    def _remarks(self, tokens: Sequence[str], taken: list[bool]) -> list[KeptTokens]:
        found = []
        begun: int | None = None
        for place, token in enumerate(tokens):
            if "[" in token:
                begun = place
            if begun is not None and "]" in token:
                said = joined(tokens[begun : place + 1])
                match = _REMARK.search(said)
                if match is not None:
                    remark = remark_in(match[0], self._source, self._target)
                    found.append(KeptTokens(begun, place + 1, remark, True))
                    taken[begun : place + 1] = [True] * (place + 1 - begun)
                begun = None
        return found

    def has(self, text: str, kept: Sequence[KeptTokens]) -> bool:
        """Whether a translation has everything to keep, as often as the source."""
        if "[[" in text or "]]" in text:
            return False  # some engines have a use of their own for brackets
        tokens = [bare(token) for token in tokens_of(text)]
        wanted: dict[tuple[str, bool], int] = {}
        for one in kept:
            wanted[one.target, one.is_literal] = wanted.get((one.target, one.is_literal), 0) + 1
        return all(
            _count(tokens, text, target, literal, self._target) >= count
            for (target, literal), count in wanted.items()
        )

    def translated(self, texts: Sequence[str], run: Run) -> list[str]:
        """Return a translation of each text that keeps what must be kept."""
        kept = [self.found(text) for text in texts]
        result = run(texts)
        for written in (_with_targets, _with_stand_ins):
            missing = [
                place
                for place, text in enumerate(result)
                if kept[place] and not self.has(text, kept[place])
            ]
            if not missing:
                return result
            asked = [written(texts[place], kept[place]) for place in missing]
            for place, answer in zip(missing, run(asked), strict=True):
                if written is _with_stand_ins:
                    answer = _stand_ins_replaced(answer, kept[place])
                if self.has(answer, kept[place]):
                    result[place] = answer
        for place, text in enumerate(result):
            if kept[place] and not self.has(text, kept[place]):
                result[place] = self._in_parts(texts[place], kept[place], run)
        return result

    def _in_parts(self, text: str, kept: Sequence[KeptTokens], run: Run) -> str:
        tokens = tokens_of(text)
        edges = [0, *(edge for one in kept for edge in (one.first, one.last)), len(tokens)]
        between = [tokens[a:b] for a, b in zip(edges[::2], edges[1::2], strict=True)]
        said = run([joined(part) for part in between])
        parts = [said[0]]
        for one, part in zip(kept, said[1:], strict=True):
            parts += [_dressed(one, tokens), part]
        return " ".join(part for part in parts if part)


def _as_they_are(tokens: Sequence[str], taken: list[bool]) -> Iterator[KeptTokens]:
    for place, token in enumerate(tokens):
        found = _AS_THEY_ARE.search(token)
        if found is not None and not taken[place]:
            taken[place] = True
            yield KeptTokens(place, place + 1, found[0], True)


def remark_in(remark: str, source: str, target: str) -> str:
    """Return a remark in brackets in another language, with its times; unchanged if no table has
    it."""
    inner = remark.strip("[]")
    times = _TIME.findall(inner)
    words = " ".join(_TIME.sub(" ", inner).split()).strip(" ,;:–—-")
    tables = _remarks()
    for key, own in tables.get(base_of(source), {}).items():
        if words.casefold() in (one.casefold() for one in own.split("|")):
            other = tables.get(base_of(target), {}).get(key)
            if other is not None:
                said = other.split("|")[0]
                if words[:1].isupper():
                    said = said[:1].upper() + said[1:]
                return f"[{' '.join([said, *times])}]"
    return remark


def translated_remark(text: str, source: str, target: str) -> str:
    """Return the translation of a text that is a remark with punctuation."""
    return _REMARK.sub(lambda match: remark_in(match[0], source, target), text)


@cache
def _remarks() -> dict[str, dict[str, str]]:
    text = resources.files("tamarind.translation").joinpath("remarks.json").read_text("utf-8")
    read: dict[str, dict[str, str]] = json.loads(text)
    return read


def _core(token: str) -> str:
    return token.strip(OPENERS + CLOSERS + MARKS)


def _dressed(one: KeptTokens, tokens: Sequence[str]) -> str:
    """Return a kept term with the punctuation and capital of its source words."""
    first, last = tokens[one.first], tokens[one.last - 1]
    if one.target.startswith("["):
        behind = last[last.rfind("]") + 1 :]
        return one.target + behind
    head = first[: len(first) - len(first.lstrip(OPENERS))]
    tail = last[len(last.rstrip(CLOSERS + MARKS)) :]
    core = one.target
    if one.first == 0 and _core(first)[:1].isupper():
        core = core[:1].upper() + core[1:]
    return f"{head}{core}{tail}"


def _written(text: str, kept: Sequence[KeptTokens], words: Sequence[str]) -> str:
    tokens: list[str] = tokens_of(text)
    for one, word in reversed(list(zip(kept, words, strict=True))):
        tokens[one.first : one.last] = [_dressed(replace(one, target=word), tokens)]
    return joined(tokens)


def _with_targets(text: str, kept: Sequence[KeptTokens]) -> str:
    return _written(text, kept, [one.target for one in kept])


def _with_stand_ins(text: str, kept: Sequence[KeptTokens]) -> str:
    return _written(text, kept, [_STAND_IN.format(number) for number in range(1, len(kept) + 1)])


def _stand_ins_replaced(text: str, kept: Sequence[KeptTokens]) -> str:
    """Replace each placeholder that occurs exactly once; else the text has not kept them."""
    for number, one in enumerate(kept, 1):
        name = re.compile(rf"\b{_STAND_IN.format(number)}\b", re.IGNORECASE)
        if len(name.findall(text)) != 1:
            return ""
        begins = name.match(text.lstrip(OPENERS)) is not None
        own = one.target
        if begins and one.target[:1].isalpha() and not one.is_literal:
            own = one.target[:1].upper() + one.target[1:]
        text = name.sub(own.replace("\\", r"\\"), text)
    return text


def _count(tokens: Sequence[str], text: str, target: str, is_literal: bool, language: str) -> int:
    """Count how often a target occurs in a translation."""
    if is_literal and not target.replace(" ", "").isalnum():
        return text.casefold().count(target.casefold())
    words = [bare(word) for word in tokens_of(target)]
    ways = [{word} if is_literal else forms(word, language) for word in words]
    size = len(ways)
    return sum(
        all(token in way for token, way in zip(tokens[at : at + size], ways, strict=False))
        for at in range(len(tokens) - size + 1)
    )

"""Join words that are written as one today: "some body", "to-night" become "somebody", "tonight".

Models learnt from old books write them apart. They are joined where the language is far likelier
to have the one word there (as in Brill and Moore 2000, the sound being the same either way).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tamarind.speech.pronouncing import is_listed
from tamarind.speech.recognisers.base import HeardWord
from tamarind.speech.wordmodel import WordModel, plain

LIKELIER = 4.0
"""Natural log: by how much the one word must be likelier than the two. In 10 000 words of speech
all pairs above it were to be joined, and none below 3."""

LIKELIER_HYPHENED = 1.0
"""The same for parts with a hyphen, which are one word already."""


def joined(words: Sequence[HeardWord], language: WordModel) -> tuple[HeardWord, ...]:
    """Return the words with compounds joined; a joined word has the confidence of its parts."""
    texts = [plain(word.text) for word in words]
    result: list[HeardWord] = []
    place = 0
    while place < len(words):
        word, after = words[place], words[place + 1 : place + 2]
        before = [part for text in texts[max(place - 2, 0) : place] for part in text][-2:]
        if after and word.text.isalpha() and len(texts[place + 1]) == 1:
            parts = [*texts[place], *texts[place + 1]]
            follow = texts[place + 2] if place + 2 < len(words) else []
            if _is_one(parts, before, follow, language):
                text = word.text + after[0].text.lower()
                sure = min(word.confidence, after[0].confidence)
                result.append(HeardWord(text, sure, at_most=min(word.at_most, after[0].at_most)))
                place += 2
                continue
        elif len(texts[place]) == 2 and word.text.count("-") == 1:
            follow = texts[place + 1] if after else []
            if _is_one(texts[place], before, follow, language, LIKELIER_HYPHENED):
                word = replace(word, text=word.text.replace("-", ""))
        result.append(word)
        place += 1
    return tuple(result)


def _is_one(
    parts: Sequence[str],
    before: Sequence[str],
    follow: Sequence[str],
    language: WordModel,
    likelier: float = LIKELIER,
) -> bool:
    """Whether two parts are written as one word between their neighbours."""
    one = "".join(parts)
    if len(parts) != 2 or not is_listed(one):
        return False
    together = _likelihood([one, *follow[:2]], before, language)
    return together - _likelihood([*parts, *follow[:2]], before, language) >= likelier


def _likelihood(words: Sequence[str], before: Sequence[str], language: WordModel) -> float:
    history = list(before)
    total = 0.0
    for word in words:
        total += language.log_probability(word, *reversed(history[-2:]))
        history.append(word)
    return total

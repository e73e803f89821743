"""Guess the language of a text by its letters, and by how often they follow each other.

The latter is told by ``py3langid``, which knows 97 languages; it is loaded when it is asked."""

from __future__ import annotations

from collections import Counter
from functools import cache
from typing import Any

USUAL = "en"

_SCRIPTS = (
    (0x0370, 0x03FF, "el"), (0x0400, 0x052F, "ru"), (0x0590, 0x05FF, "he"), (0x0600, 0x06FF, "ar"),
    (0x0E00, 0x0E7F, "th"), (0x1100, 0x11FF, "ko"), (0x3040, 0x30FF, "ja"), (0x4E00, 0x9FFF, "zh"),
    (0xAC00, 0xD7A3, "ko"),
)  # fmt: skip
"""First and last letter of a script, and the language that most texts in it are in."""

MOST_READ = 20_000
FEWEST_LETTERS = 20
"""Less says little."""

SURE = 0.6

KANA_SHARE = 0.1
"""Japanese is mostly signs that Chinese has too, but never without its own between them."""


def likely_language(text: str) -> str:
    """Return the likeliest language tag of a text; English if nothing tells."""
    guessed, share = guess(text)
    return guessed if share >= SURE else by_script(text)


def guess(text: str) -> tuple[str, float]:
    """Return the likeliest language of a text, and its probability (0 to 1)."""
    part = text[:MOST_READ]
    if sum(map(str.isalpha, part)) < FEWEST_LETTERS:
        return by_script(text), 0.0
    tag, share = _identifier().classify(part)
    return str(tag), float(share)


@cache
def _identifier() -> Any:
    from py3langid.langid import MODEL_FILE, LanguageIdentifier

    return LanguageIdentifier.from_model_file(MODEL_FILE, norm_probs=True)


def by_script(text: str) -> str:
    """Return the language of most texts in a text's script."""
    counts: Counter[str] = Counter()
    letters = 0
    for letter in text[:MOST_READ]:
        if letter.isalpha():
            letters += 1
            code = ord(letter)
            for first, last, language in _SCRIPTS:
                if first <= code <= last:
                    counts[language] += 1
                    break
    if counts["zh"] and counts["ja"] > KANA_SHARE * counts["zh"]:
        counts["ja"] += counts.pop("zh")
    language, count = max(counts.items(), key=lambda pair: pair[1], default=(USUAL, 0))
    if count < letters / 2:
        return USUAL
    if language == "ru" and any(letter in text for letter in "їєґіЇЄҐІ"):
        return "uk"
    return language

"""Check spelling and grammar of English with the offline checker that ships as a package
(Harper)."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

SPELLING = "spelling"
GRAMMAR = "grammar"

_SPELLING_KINDS = ("Spelling", "Typo")
_CAPITAL_KINDS = ("Capitalization",)
_GRAMMAR_KINDS = (
    "Agreement", "Grammar", "WordChoice", "Eggcorn", "Malapropism", "Usage", "Nonstandard",
    "BoundaryError", "Punctuation",
)  # fmt: skip
"""Kinds that count; matters of style, and those that we look after ourselves, do not."""

_LEFT_OUT = ("Discourse markers",)
"""Advice by the start of its message that does not suit what was said aloud."""


MOST_TEXTS = 20_000
"""Paragraphs of which is remembered what is wrong with them."""


@dataclass(frozen=True, slots=True)
class Issue:
    """An error at letters [``start``, ``end``) of a text; ``suggestions`` replace just that."""

    start: int
    end: int
    kind: str
    message: str
    suggestions: tuple[str, ...]


class Grammar:
    """A checker for one variant of English that accepts the words of a glossary."""

    def __init__(self, variant: str = "GB", words: Iterable[str] = ()) -> None:
        """Takes about a second; ``variant`` is a region (GB, US, AU, CA, IN)."""
        import harper

        dialects = {
            "US": harper.Dialect.AMERICAN,
            "AU": harper.Dialect.AUSTRALIAN,
            "CA": harper.Dialect.CANADIAN,
            "IN": harper.Dialect.INDIAN,
        }
        self._linter: Any = harper.Linter(dialect=dialects.get(variant, harper.Dialect.BRITISH))
        known = sorted({word for term in words for word in term.split()})
        if known:
            self._linter.import_words(known)
        self._replaces = int(harper.SuggestionKind.REPLACE)
        self._removes = int(harper.SuggestionKind.REMOVE)
        self._known: dict[str, tuple[Issue, ...]] = {}

    def capitals(self, text: str) -> list[Issue]:
        """Return the words that should begin with a capital, such as days and countries."""
        return self._found(text, _CAPITAL_KINDS)

    def issues(self, text: str) -> Sequence[Issue]:
        """Return what is wrong with a text, in order; cached, since texts are checked again and
        again."""
        found = self._known.get(text)
        if found is None:
            if len(self._known) > MOST_TEXTS:
                self._known.clear()
            found = tuple(self._found(text, (*_SPELLING_KINDS, *_GRAMMAR_KINDS)))
            self._known[text] = found
        return found

    def _found(self, text: str, kinds: Sequence[str]) -> list[Issue]:
        found = []
        for lint in self._linter.lint(text):
            kind = str(lint.lint_kind)
            known = SPELLING if kind in _SPELLING_KINDS else GRAMMAR
            if kind not in kinds or lint.message.startswith(_LEFT_OUT):
                continue
            span = lint.span
            problem = text[span.start : span.end]
            texts = (self._suggested(one, problem) for one in lint.suggestions)
            suggestions = tuple(dict.fromkeys(texts))
            message = str(lint.message).replace("`", "")
            if known == SPELLING and message.startswith("Did you mean to spell"):
                message = "Not in the dictionary"
            found.append(Issue(span.start, span.end, known, message, suggestions))
        return sorted(found, key=lambda issue: issue.start)

    def _suggested(self, suggestion: Any, problem: str) -> str:
        """Return the replacements for a problem."""
        kind = int(suggestion.kind)
        if kind == self._removes:
            return ""
        text = str(suggestion.replacement_text)
        return text if kind == self._replaces else problem + text


@lru_cache(maxsize=4)
def kept_grammar(variant: str, words: tuple[str, ...]) -> Grammar:
    """Return a checker that is made once, for the thread that checks; other threads make their
    own."""
    return Grammar(variant, words)


def letters_to_words(words: Sequence[str]) -> list[tuple[int, int]]:
    """Return the first and last letter of each word in a text of words with a space between."""
    spans = []
    at = 0
    for word in words:
        spans.append((at, at + len(word)))
        at += len(word) + 1
    return spans

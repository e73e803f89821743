"""Find names and rare words in a document, as proposals for the glossary.

A name is a run of words with capitals that do not come from their place: within a sentence, or in a
line so short that it is an entry of a list. A rare word is one that the language's dictionary does
not have. What is there more often comes first.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Sequence

from tamarind.captions.functionwords import function_words
from tamarind.transcript.model import Cue
from tamarind.transcript.sentences import ends_sentence
from tamarind.transcript.unspaced import is_unspaced

MOST = 300
MOST_WORDS = 4
ENTRY_WORDS = 6
"""A line of no more words is an entry: its first word may be a name."""

LONGEST = 40
_SPLIT = re.compile(r"[\t;|,]|\s[-–—]\s|:\s|\(|\)|\n")
_WORD = re.compile(r"[^\W\d_](?:[\w'’.-]*\w)?")
_MARKS = "\"'“”‘’«»()[]<>*_#•·"


IsWord = Callable[[str], bool] | None
"""Whether a lower-case word is one of the language; None where that is not known."""


def terms_in(
    text: str, language: str, is_word: IsWord = None, known: Iterable[str] = ()
) -> list[str]:
    """Return terms as they are to be written, most frequent first, without those ``known``."""
    there = {term.casefold() for term in known}
    counts: Counter[str] = Counter()
    for term in _candidates(text, language, is_word):
        counts[term] += 1
    found: dict[str, str] = {}
    for term, _ in sorted(counts.items(), key=lambda one: (-one[1], one[0])):
        folded = term.casefold()
        if folded not in there and len(term) <= LONGEST:
            found.setdefault(folded, term)
    longer = {word for term in found for word in term.split() if " " in term}
    # A part of a name is not proposed beside the whole, unless it is said by itself more often.
    kept = [
        term
        for folded, term in found.items()
        if folded not in longer or counts[term] > 1 or " " in term
    ]
    return kept[:MOST]


def terms_corrected(
    draft: Sequence[Cue], text: Sequence[Cue], language: str, is_word: IsWord = None
) -> list[str]:
    """Return terms that a person wrote where the recogniser had something else: those more frequent
    in the text than in its ``draft``, most frequent first."""
    heard, written = (" ".join(cue.text for cue in cues).casefold() for cues in (draft, text))
    typed = [cue for cue in text if any(word.confidence is None for word in cue.words)]
    lines = "\n".join(cue.text for cue in typed)

    def count(term: str, where: str) -> int:
        return len(re.findall(rf"(?<!\w){re.escape(term.casefold())}(?!\w)", where))

    return [
        term
        for term in terms_in(lines, language, is_word)
        if count(term, written) > count(term, heard)
    ]


def names_in_file_name(
    stem: str, language: str, is_word: IsWord = None, known: Iterable[str] = ()
) -> list[str]:
    """Return the terms in a recording's file name ("2026-03-02_Penhallow_interview")."""
    return terms_in(re.sub(r"[_\d.\-]+", " ", stem).strip(), language, is_word, known)


def _candidates(text: str, language: str, is_word: IsWord) -> Iterator[str]:
    base = language.partition("-")[0].casefold()
    small = function_words(base).every
    for line in text.splitlines():
        is_entry = len(line.split()) <= ENTRY_WORDS
        for place, part in enumerate(_SPLIT.split(line)):
            begins = not is_entry and place == 0
            run: list[str] = []
            for raw in part.split():
                bare = raw.strip(_MARKS).rstrip(".,;:?!…")
                bare = re.sub(r"['’]s$", "", bare)
                is_name = (
                    bool(_WORD.fullmatch(bare)) and _has_capital(bare) and not is_unspaced(bare)
                )
                listed = is_word is not None and is_word(bare.casefold())
                usual = listed and (begins or is_entry) and not run and _is_plain(bare)
                if is_name and bare.casefold() not in small and not (begins and usual):
                    run.append(bare)
                else:
                    yield from _named(run, is_word)
                    run = []
                    if is_word is not None and _is_rare(bare) and not listed:
                        yield bare
                begins = ends_sentence(raw)
                if raw[-1:] in ".,;:?!" or len(run) >= MOST_WORDS:
                    yield from _named(run, is_word)
                    run = []
            yield from _named(run, is_word)


def _named(run: list[str], is_word: IsWord) -> Iterator[str]:
    """Return a name; "" for single words that any dictionary has ("Agenda")."""
    if not run:
        return
    if len(run) == 1 and is_word is not None and is_word(run[0].casefold()) and _is_plain(run[0]):
        return
    yield " ".join(run)


def _has_capital(word: str) -> bool:
    return any(letter.isupper() for letter in word)


def _is_plain(word: str) -> bool:
    """Whether only the first letter is a capital."""
    return word[:1].isupper() and (word[1:].islower() or len(word) == 1)


def _is_rare(word: str) -> bool:
    return len(word) > 3 and bool(_WORD.fullmatch(word)) and word.isalpha() and word.islower()

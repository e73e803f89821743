"""Find a glossary's terms in a hypothesis: unsure words that sound like a term.

The search already favours terms (see ``recognisers/bias``); but what the network never thought of
cannot be favoured. Words that sound like a term are put to the recogniser a second time, with the
term in their place, and both texts to the alignment: the more alike the two sound, the likelier the
recogniser finds the text with the term, and the better that fits the sound, the more speaks for the
term. Where not enough does, it is only offered as a reading.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from tamarind.speech.consensus import MOST_OTHERS, shared_out
from tamarind.speech.foreignnames import foreign_ways
from tamarind.speech.glossary import Glossary
from tamarind.speech.pronouncer import ENGLISH, Pronouncer
from tamarind.speech.pronouncing import Phones, starts_alike, unlikeness
from tamarind.speech.recognisers.base import HeardWord
from tamarind.transcript.corrections import marks_around

UNLIKE_AT_MOST = 0.45
"""Words less like a term than this are not thought of."""

CERTAIN_FROM = 0.75
"""Words heard with this confidence are left alone."""

ODDS, FOR_UNLIKENESS, FOR_TEXT, FOR_FIT = 6.4, -13.4, 0.089, 0.0266
"""Log odds that a term was said, of 0 unlikeness and as likely a text, and what each adds to them;
by logistic regression on 850 candidates in synthesised speech, 31 of them right."""

TEXT_BOUNDS, FIT_BOUNDS = (-60.0, 20.0), (-150.0, 80.0)

MOST_CANDIDATES = 8


@dataclass(frozen=True, slots=True)
class _Form:
    """One pronunciation of a term."""

    text: str
    phones: Phones
    words: int


@dataclass(frozen=True, slots=True)
class Candidate:
    """A term for the words [``first``, ``last``); ``unlike`` is 0 for the same sound."""

    first: int
    last: int
    text: str
    unlike: float

    def odds(self, text: float, fit: float) -> float:
        """Log odds that the term was said.

        ``text`` is what it adds to the text's log probability, ``fit`` to the log likelihood of
        the sound.
        """
        text = min(max(text, TEXT_BOUNDS[0]), TEXT_BOUNDS[1])
        fit = min(max(fit, FIT_BOUNDS[0]), FIT_BOUNDS[1])
        return ODDS + FOR_UNLIKENESS * self.unlike + FOR_TEXT * text + FOR_FIT * fit


class TermFinder:
    """Knows the pronunciations of a glossary's terms."""

    def __init__(self, glossary: Glossary, pronouncer: Pronouncer = ENGLISH) -> None:
        self._pronouncer = pronouncer
        ways = [(t.text, way) for t in glossary.terms for way in (t.text, *t.sounds_like)]
        said = pronouncer.phones([way for _, way in ways])
        found = [
            _Form(text, phones, len(way.split()))
            for (text, way), phones in zip(ways, said, strict=True)
            if phones
        ]
        texts = [term.text for term in glossary.terms]
        for text, phones in foreign_ways(texts) if pronouncer is ENGLISH else ():
            found.append(_Form(text, phones, len(text.split())))
        self._forms = list(dict.fromkeys(found))
        self._written = {bare(term.text) for term in glossary.terms}

    def candidates(self, words: Sequence[HeardWord]) -> list[Candidate]:
        """Return where a term may have been said, the most similar first, at most a few."""
        said = self._pronouncer.phones([word.text for word in words])
        found = {
            (candidate.first, candidate.last, candidate.text): candidate
            for form in self._forms
            for candidate in self._of_form(form, words, said)
        }
        return sorted(found.values(), key=lambda c: c.unlike)[:MOST_CANDIDATES]

    def _of_form(
        self, form: _Form, words: Sequence[HeardWord], said: Sequence[Phones]
    ) -> list[Candidate]:
        found = []
        for first in range(len(words)):
            for last in range(first + 1, min(first + form.words + 1, len(words)) + 1):
                span = words[first:last]
                if min(word.confidence for word in span) >= CERTAIN_FROM:
                    continue
                heard = tuple(phone for own in said[first:last] for phone in own)
                if not heard or len(heard) > 1.6 * len(form.phones) + 1:
                    break
                if len(heard) * 1.6 + 1 < len(form.phones) or not starts_alike(heard, form.phones):
                    continue
                if self._is_written(words, first, last, form):
                    continue
                unlike = unlikeness(heard, form.phones)
                if unlike <= UNLIKE_AT_MOST:
                    found.append(Candidate(first, last, form.text, unlike))
                owned = self._owned(form, span[-1].text)
                if owned is not None and unlikeness(heard, owned.phones) <= UNLIKE_AT_MOST:
                    unlike = unlikeness(heard, owned.phones)
                    found.append(Candidate(first, last, owned.text, unlike))
        return found

    def _owned(self, form: _Form, last: str) -> _Form | None:
        """Return the possessive of a term ("Penhallow's") if what was recognised ends so; English
        only."""
        ends_so = re.search(r"['’]?s\W*$", last.casefold()) is not None
        if self._pronouncer is not ENGLISH or not ends_so or form.text.casefold().endswith("s"):
            return None
        return _Form(f"{form.text}'s", (*form.phones, "Z"), form.words)

    def _is_written(self, words: Sequence[HeardWord], first: int, last: int, form: _Form) -> bool:
        """Whether a term is there already, perhaps in another number."""
        around = words[max(first - form.words, 0) : last + form.words]
        stem = bare(form.text).removesuffix("s")
        return stem in bare(" ".join(word.text for word in around)) or any(
            bare(word.text) in self._written for word in words[first:last]
        )


def with_term(words: Sequence[HeardWord], candidate: Candidate) -> tuple[HeardWord, ...]:
    """Return the words with the term in its place, keeping punctuation around it.

    The term is as certain as the words were at best; what they were is its reading.
    """
    span = words[candidate.first : candidate.last]
    before, after = marks_around(span[0].text)[0], marks_around(span[-1].text)[1]
    heard = " ".join(word.text for word in span).removeprefix(before).removesuffix(after)
    confidence = max(max(word.confidence for word in span), 1 - 1.5 * candidate.unlike)
    first, *further = f"{before}{candidate.text}{after}".split()
    taken = [HeardWord(first, confidence, (heard,)), *(HeardWord(w, confidence) for w in further)]
    return (*words[: candidate.first], *taken, *words[candidate.last :])


def with_offer(words: Sequence[HeardWord], candidate: Candidate) -> tuple[HeardWord, ...]:
    """Return the words with the term, or its part for each of them, as an alternative."""
    span = words[candidate.first : candidate.last]
    parts = shared_out([word.text for word in span], candidate.text.split())
    offered = [_offered(word, " ".join(part)) for word, part in zip(span, parts, strict=True)]
    return (*words[: candidate.first], *offered, *words[candidate.last :])


def _offered(word: HeardWord, text: str) -> HeardWord:
    if bare(text) == bare(word.text) or text in word.others:
        return word
    return replace(word, others=(*word.others[: MOST_OTHERS - 1], text))


def bare(text: str) -> str:
    """Return a text without punctuation, in lower case."""
    return re.sub(r"[^\w' ]", "", text).casefold()

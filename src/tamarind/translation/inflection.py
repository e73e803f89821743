"""Inflect words: to recognise a term in a sentence, and to put one in the plural.

Rules of regular endings only (as grammars of each language list them): a glossary gives a term in
one form, and "peat dams" is still the term "peat dam".
"""

from __future__ import annotations

from collections.abc import Iterator

from tamarind.captions.functionwords import function_words
from tamarind.transcript.languages import base_of
from tamarind.transcript.sentences import bare

_PLURALS: dict[str, tuple[tuple[str, str], ...]] = {
    "en": (("man", "men"), ("ch", "ches"), ("sh", "shes"), ("ss", "sses"), ("x", "xes"),
           ("ay", "ays"), ("ey", "eys"), ("oy", "oys"), ("y", "ies"), ("", "s")),
    "pt": (("ão", "ões"), ("al", "ais"), ("el", "éis"), ("ol", "óis"), ("il", "is"), ("ul", "uis"),
           ("m", "ns"), ("r", "res"), ("z", "zes"), ("s", "s"), ("", "s")),
    "es": (("z", "ces"), ("ión", "iones"), ("ón", "ones"), ("én", "enes"), ("ín", "ines"),
           ("án", "anes"), ("s", "s"), ("a", "as"), ("e", "es"), ("o", "os"), ("i", "is"),
           ("u", "us"), ("é", "és"), ("á", "ás"), ("", "es")),
    "fr": (("al", "aux"), ("eau", "eaux"), ("eu", "eux"), ("s", "s"), ("x", "x"), ("z", "z"),
           ("", "s")),
    "it": (("co", "chi"), ("go", "ghi"), ("ca", "che"), ("ga", "ghe"), ("cia", "ce"), ("gia", "ge"),
           ("io", "i"), ("o", "i"), ("a", "e"), ("e", "i"), ("", "")),
    "ca": (("ça", "ces"), ("ca", "ques"), ("ga", "gues"), ("a", "es"), ("ó", "ons"), ("à", "ans"),
           ("é", "ens"), ("s", "sos"), ("", "s")),
    "de": (("e", "en"), ("er", "er"), ("", "e")),
    "nl": (("e", "es"), ("", "en")),
}  # fmt: skip
_PLURALS["gl"] = (("ón", "óns"), ("l", "is"), ("z", "ces"), ("r", "res"), ("s", "s"), ("", "s"))
_USUAL = (("", "s"),)
_OTHER_GENDER = {"es": "oa", "pt": "oa", "gl": "oa", "it": "oa", "ca": ""}
SHORTEST = 3


def forms(word: str, language: str) -> frozenset[str]:
    """Return a lower-case word and its possible inflected forms by rule."""
    plain = bare(word)
    found = {plain, *_numbers(plain, language)}
    if base_of(language) == "en":
        found |= {form + own for form in set(found) for own in ("'s", "’s")}
        found |= {form + own for form in set(found) for own in ("'", "’") if form.endswith("s")}
    return frozenset(found)


def plural(word: str, language: str) -> str:
    """Return a word's regular plural, with its capitals; short words stay."""
    rules = _PLURALS.get(base_of(language), _USUAL)
    if len(word) < SHORTEST:
        return word
    for ending, other in rules:
        if word.casefold().endswith(ending) and len(word) > len(ending):
            return word[: len(word) - len(ending)] + other
    return word


def plural_of_term(term: str, language: str) -> str:
    """Return a term's plural: its first word and what agrees with it, up to the first function
    word; in languages with the noun last, its last word."""
    words = term.split()
    if base_of(language) in ("en", "de", "nl"):
        return " ".join([*words[:-1], plural(words[-1], language)])
    known = function_words(language)
    small = known.determiners | known.prepositions | known.conjunctions
    for place, word in enumerate(words):
        if bare(word) in small:
            return " ".join([*(plural(one, language) for one in words[:place]), *words[place:]])
    return " ".join(plural(word, language) for word in words)


def is_plural(words: str, term: str, language: str) -> bool:
    """Whether a term is in its regular plural."""
    return bare(words).rstrip("’'") == plural_of_term(bare(term), language) != bare(term)


def _numbers(plain: str, language: str) -> Iterator[str]:
    """Return singular, plural, and the other gender of each."""
    base = base_of(language)
    genders = {plain}
    pair = _OTHER_GENDER.get(base, "")
    if pair and len(plain) > SHORTEST and plain[-1:] in pair:
        genders.add(plain[:-1] + pair[1 - pair.index(plain[-1])])
    for word in genders:
        yield word
        yield plural(word, base)
    if len(plain) > SHORTEST:
        for ending, other in _PLURALS.get(base, _USUAL):
            stem = plain[: len(plain) - len(other)]
            if other and plain.endswith(other) and plural(stem + ending, base) == plain:
                yield stem + ending

"""Find what tells who somebody is: names, places, organisations, numbers, addresses and dates.

Named entities are told by what can be seen of them – capitals in a sentence, lists of first and
last names, titles, words such as "Trust" or "Lane" – as in Mikheev, Moens and Grover, "Named Entity
Recognition without Gazetteers" (1999): what a sure context says of a name once counts for all its
places in the texts.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from importlib.resources import files
from itertools import groupby

from tamarind.captions.functionwords import function_words
from tamarind.transcript.languages import base_of
from tamarind.transcript.model import DOUBTFUL_BELOW, Transcript, Word
from tamarind.transcript.sentences import ends_sentence

IsWord = Callable[[str], bool] | None


class Tells(StrEnum):
    """What something tells of somebody."""

    PERSON = "person"
    PLACE = "place"
    ORGANISATION = "organisation"
    NUMBER = "number"
    ADDRESS = "address"
    DATE = "date"


@dataclass(frozen=True, slots=True)
class Identifier:
    """Something that tells who somebody is: all its ``forms`` in the texts, the longest first, and
    how often they are there. What is only perhaps one is not ``sure``."""

    tells: Tells
    forms: tuple[str, ...]
    count: int
    sure: bool = True

    @property
    def name(self) -> str:
        """Its longest form."""
        return self.forms[0]


_LEFT, _RIGHT = "\"'“”‘’«»([{¿¡", "\"'“”‘’«»)]}.,;:?!…"
_TITLES = frozenset(
    "mr mrs ms miss dr prof professor sir lady lord father sister brother aunt uncle nan granny "
    "grandma grandpa auntie señor señora herr frau monsieur madame signor signora dom don "
    "doña".split()
)
_ORGANISATIONS = frozenset(
    "trust board council ltd limited inc university school church hospital company society "
    "association agency department ministry bank institute college club union party group "
    "foundation museum clinic surgery academy office committee charity plc llc gmbh".split()
)
_STREETS = frozenset(
    "street road lane avenue close drive way square terrace crescent place court row gardens "
    "mews boulevard alley grove calle rue straße strasse via rua plaza carrer".split()
)
_PLACES = frozenset(
    "moor hill valley river lake bridge farm park wood forest bog fen island bay beach mountain "
    "county village town city cottage castle abbey hall mill common green marsh heath loch glen "
    "north south east west".split()
)
_AT = frozenset(
    "in at from near to into around outside through across past via towards of en a de desde "
    "hacia cerca à dans chez vers nach aus bei von in zu".split()
)
_JOINING = frozenset("of de la del van von der du da dos le".split())
_NOT_NAMES = frozenset(
    "i i'm i'd i'll i've god christmas easter monday tuesday wednesday thursday friday saturday "
    "sunday january february march april may june july august september october november "
    "december english spanish french german italian portuguese welsh irish scottish british "
    "american european ok okay tv uk us usa eu un dna ad bc am pm mum dad mummy daddy internet "
    "covid".split()
)
_STARTERS = frozenset(
    "yes no well so and but then now okay right oh um uh er yeah nope thanks thank hello hi "
    "please sorry sure maybe perhaps because actually really today tomorrow yesterday everybody "
    "everyone somebody someone nobody people things one two three four five six seven eight nine "
    "ten good great dry wet see look listen".split()
)
_DIGITS = frozenset(
    "zero oh nought one two three four five six seven eight nine double triple treble".split()
)
_MONTHS = frozenset(
    "january february march april may june july august september october november december "
    "enero febrero marzo abril mayo junio julio agosto septiembre octubre noviembre diciembre "
    "janvier février mars avril mai juin juillet août septembre octobre novembre décembre januar "
    "februar märz juni juli oktober dezember gennaio febbraio aprile maggio giugno luglio "
    "settembre ottobre dicembre janeiro fevereiro março maio junho julho setembro outubro "
    "novembro dezembro".split()
)
_ORDINAL = re.compile(
    r"\d{1,2}(?:st|nd|rd|th|\.|º|er)?|(?:twenty-|thirty-)?(?:first|second|third|fourth|fifth|sixth"
    r"|seventh|eighth|ninth)|tenth|eleventh|twelfth|\w+teenth|twentieth|thirtieth",
    re.IGNORECASE,
)
_YEAR = re.compile(r"(?:1[89]|20)\d\d")
_OF_A_DATE = frozenset("the of de del le den".split())
_LONG_NUMBER = 5
"""So many digits may be a telephone or an account."""

_MAIL = re.compile(r"[^\s@]+@[^\s@]+\.\w+|(?:https?://|www\.)\S+")
_POSTCODE = re.compile(r"[A-Z]{1,2}\d[\dA-Z]? \d[A-Z]{2}")


def identifiers(
    texts: Sequence[Transcript],
    known: Mapping[str, Tells],
    is_word: Callable[[str], IsWord] = lambda _language: None,
) -> list[Identifier]:
    """Return what tells who somebody is in texts, those of a kind together, the more frequent
    first.

    ``known`` are names that are certain, such as speakers and terms of the glossary; ``is_word``
    returns for a language what tells whether a lower-case word is one of it.
    """
    plain = _plain_words(texts)
    found: Counter[tuple[Tells, str]] = Counter()
    perhaps: Counter[str] = Counter()
    for text in texts:
        for language, words in _turns(text):
            looking = _Looking(words, language, plain, is_word(language))
            found.update(looking.found())
            perhaps.update(looking.perhaps())
    for name, tells in known.items():
        if name.strip():
            found[tells, " ".join(name.split())] += 1
    entries = _grouped(found)
    taken = {part.casefold() for one in entries for form in one.forms for part in form.split()}
    entries += [
        Identifier(Tells.PERSON, (name,), count, sure=False)
        for name, count in perhaps.items()
        if name.casefold() not in taken
    ]
    order = list(Tells)
    return sorted(entries, key=lambda one: (order.index(one.tells), not one.sure, -one.count))


def _turns(text: Transcript) -> Iterator[tuple[str, list[Word]]]:
    for _, cues in groupby(text.cues, key=lambda cue: (cue.speaker, cue.language)):
        run = list(cues)
        yield run[0].language or text.language, [word for cue in run for word in cue.words]


def _plain_words(texts: Iterable[Transcript]) -> frozenset[str]:
    """Return the words that stand somewhere without a capital."""
    return frozenset(
        bare
        for text in texts
        for cue in text.cues
        for word in cue.words
        if (bare := _bare(word.text)) and bare[:1].islower()
    )


def _bare(text: str) -> str:
    """Return a word without marks around it and without a possessive ending."""
    return re.sub(r"['’]s?$", "", text.lstrip(_LEFT).rstrip(_RIGHT))


@cache
def first_names() -> frozenset[str]:
    """Return the first names of a census, in small letters."""
    return _names("dist.male.first") | _names("dist.female.first")


@cache
def last_names() -> frozenset[str]:
    """Return the last names of a census, in small letters."""
    return _names("dist.all.last")


def _names(file: str) -> frozenset[str]:
    lines = files("names").joinpath(file).read_text("ascii").splitlines()
    return frozenset(line.split()[0].casefold() for line in lines if line.strip())


class _Looking:
    """Looks through the words of one turn."""

    def __init__(
        self, words: Sequence[Word], language: str, plain: frozenset[str], is_word: IsWord
    ) -> None:
        self._words = words
        self._texts = [word.text for word in words]
        self._bare = [_bare(text) for text in self._texts]
        self._folded = [bare.casefold() for bare in self._bare]
        self._small = function_words(base_of(language)).every
        self._plain, self._is_word = plain, is_word
        self._has_noun_capitals = base_of(language) in ("de", "lb")
        self._taken: set[int] = set()

    def found(self) -> Iterator[tuple[Tells, str]]:
        """Yield what is found, with its text."""
        for looking in (self._dates, self._addresses, self._numbers, self._names):
            for tells, first, last in looking():
                if self._taken.isdisjoint(range(first, last)):
                    self._taken |= set(range(first, last))
                    yield tells, " ".join(self._bare[first:last])

    def perhaps(self) -> Iterator[str]:
        """Yield words that may be names which were heard wrongly: uncertain, and in no
        dictionary."""
        for place, word in enumerate(self._words):
            bare = self._bare[place]
            is_doubt = word.confidence is not None and word.confidence < DOUBTFUL_BELOW
            unknown = self._is_word is not None and not self._is_word(self._folded[place])
            may_be = len(bare) > 3 and bare.isalpha() and place not in self._taken
            if may_be and is_doubt and unknown:
                yield bare

    def _dates(self) -> Iterator[tuple[Tells, int, int]]:
        for place, folded in enumerate(self._folded):
            if folded not in _MONTHS or not self._bare[place][:1].isalpha():
                continue
            first, last = place, place + 1
            while first and (
                _ORDINAL.fullmatch(self._bare[first - 1]) or self._folded[first - 1] in _OF_A_DATE
            ):
                first -= 1
            while first < place and self._folded[first] in _OF_A_DATE:
                first += 1
            while last < len(self._bare) and (
                _ORDINAL.fullmatch(self._bare[last])
                or _YEAR.fullmatch(self._bare[last])
                or self._folded[last] in _OF_A_DATE
            ):
                last += 1
            while last > place + 1 and self._folded[last - 1] in _OF_A_DATE:
                last -= 1
            if last - first > 1:
                yield Tells.DATE, first, last

    def _addresses(self) -> Iterator[tuple[Tells, int, int]]:
        for place, folded in enumerate(self._folded):
            if folded not in _STREETS or not place or not self._is_capital(place):
                continue
            first = place
            while first and self._is_capital(first - 1) and not self._stops(first - 1):
                first -= 1
            if first == place:
                continue
            before = self._folded[first - 1] if first else ""
            if before[:1].isdigit() or before in _DIGITS:
                first -= 1
            yield Tells.ADDRESS, first, place + 1

    def _numbers(self) -> Iterator[tuple[Tells, int, int]]:
        place = 0
        while place < len(self._bare):
            last = place
            while last < len(self._bare) and self._counts(last):
                last += 1
                if self._stops(last - 1):
                    break
            digits = sum(
                sum(map(str.isdigit, self._bare[at])) or (self._folded[at] in _DIGITS)
                for at in range(place, last)
            )
            if digits >= _LONG_NUMBER:
                yield Tells.NUMBER, place, last
            elif _MAIL.search(self._texts[place]):
                yield Tells.NUMBER, place, place + 1
            elif _POSTCODE.fullmatch(" ".join(self._bare[place : place + 2])):
                yield Tells.NUMBER, place, place + 2
            place = max(last, place + 1)

    def _counts(self, place: int) -> bool:
        bare = self._bare[place]
        figures = bool(re.fullmatch(r"[+(]?\d[\d\-()/]*", bare))
        return figures or self._folded[place] in _DIGITS

    def _names(self) -> Iterator[tuple[Tells, int, int]]:
        place = 0
        while place < len(self._bare):
            if not self._begins_name(place):
                place += 1
                continue
            last = place + 1
            while last < len(self._bare) and not self._stops(last - 1):
                joins = (
                    self._folded[last] in _JOINING
                    and last + 1 < len(self._bare)
                    and self._is_capital(last + 1)
                    and not self._stops(last)
                )
                if self._is_capital(last) and self._folded[last] not in _NOT_NAMES:
                    last += 1
                elif joins:
                    last += 2
                else:
                    break
            yield self._kind(place, last), place, last
            place = last

    def _begins_name(self, place: int) -> bool:
        folded = self._folded[place]
        if not self._bare[place] or folded in _NOT_NAMES or folded in _TITLES:
            return False
        if not self._is_capital(place):
            # A first name that the recogniser wrote small.
            unlisted = self._is_word is not None and not self._is_word(folded)
            return unlisted and folded in first_names() and len(folded) > 3
        before = self._texts[place - 1] if place else ""
        if place and not ends_sentence(before) and before[-1:] not in ':“"':
            if self._has_noun_capitals:
                known = {*self._folded[place - 1 : place], folded} & first_names()
                return bool(known) or self._folded[place - 1] in _TITLES
            return folded not in self._small or folded in first_names()
        if place and self._folded[place - 1] in _TITLES:
            return True
        if folded in self._small or folded in _STARTERS or folded in self._plain:
            return False
        unlisted = self._is_word is not None and not self._is_word(folded)
        goes_on = place + 1 < len(self._bare) and self._is_capital(place + 1)
        is_last = goes_on and not self._stops(place) and folded in last_names()
        return folded in first_names() or is_last or unlisted

    def _kind(self, first: int, last: int) -> Tells:
        parts = set(self._folded[first:last])
        before = self._folded[first - 1] if first else ""
        whole = "".join(self._bare[first:last])
        if parts & _ORGANISATIONS or (last - first == 1 and whole.isupper() and len(whole) > 1):
            return Tells.ORGANISATION
        if before in _TITLES:
            return Tells.PERSON
        if parts & _PLACES and last - first > 1:
            return Tells.PLACE
        if self._folded[first] in first_names():
            return Tells.PERSON
        return Tells.PLACE if before in _AT else Tells.PERSON

    def _is_capital(self, place: int) -> bool:
        bare = self._bare[place]
        return bare[:1].isupper() and any(map(str.isalpha, bare))

    def _stops(self, place: int) -> bool:
        """Whether a mark ends a name behind a word."""
        return self._texts[place][-1:] in ".,;:?!…)”" or self._texts[place].endswith(("'s", "’s"))


def _grouped(found: Counter[tuple[Tells, str]]) -> list[Identifier]:
    """Return what was found with all forms of one name together: "Joan Moss", "Joan", "Moss"."""
    counts: Counter[str] = Counter()
    kinds: dict[str, Counter[Tells]] = {}
    shown: dict[str, str] = {}
    for (tells, name), count in found.items():
        key = name.casefold()
        counts[key] += count
        kinds.setdefault(key, Counter())[tells] += count
        shown.setdefault(key, name)
    of = {key: own.most_common(1)[0][0] for key, own in kinds.items()}
    longer = [key for key in counts if " " in key and of[key] is Tells.PERSON]
    parents: dict[str, list[str]] = {}
    for key in longer:
        for part in key.split():
            parents.setdefault(part, []).append(key)
    joined: dict[str, list[str]] = {}
    for key in counts:
        above = [one for one in parents.get(key, ()) if one != key]
        if " " not in key and len(above) == 1 and of[key] in (Tells.PERSON, Tells.PLACE):
            joined.setdefault(above[0], []).append(key)
        else:
            joined.setdefault(key, [])
    entries = []
    for key, parts in joined.items():
        forms = [shown[key], *(shown[part] for part in parts)]
        if of[key] is Tells.PERSON and " " in key:
            # A name that is parted between two captions is found by its parts.
            parts_of = [one for one in shown[key].split() if one[:1].isupper()]
            forms += [one for one in parts_of if len(parents.get(one.casefold(), ())) == 1]
        forms = list(dict.fromkeys(forms))
        total = counts[key] + sum(counts[part] for part in parts)
        entries.append(Identifier(of[key], tuple(sorted(forms, key=len, reverse=True)), total))
    return entries

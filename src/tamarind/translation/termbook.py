"""The glossary of a translation: pairs of terms, and names that stay as they are."""

from __future__ import annotations

from dataclasses import dataclass

from tamarind.system.errors import ToldError

_COMMENT = "#"


class TermBookError(ToldError, ValueError):
    """A glossary cannot be read; the message is one sentence for the person."""


@dataclass(frozen=True, slots=True)
class TermPair:
    """A term of the source and its translation, which is the term itself if it stays."""

    source: str
    target: str


@dataclass(frozen=True, slots=True)
class TermBook:
    """Pairs in the person's order, for one target language."""

    pairs: tuple[TermPair, ...] = ()

    def with_pair(self, pair: TermPair) -> TermBook:
        """Return the book with another pair, in place of one of the same term."""
        others = (one for one in self.pairs if one.source.casefold() != pair.source.casefold())
        return TermBook((*others, pair))

    def __bool__(self) -> bool:
        return bool(self.pairs)


NO_PAIRS = TermBook()


def read_terms(text: str) -> TermBook:
    """Read ``term = translation`` a line; a term alone stays as it is.

    Tabs part as "=" does. Empty lines and lines that begin with "#" are passed over; of a term said
    twice the last counts. Raises TermBookError when a line has a translation but no term.
    """
    pairs: dict[str, TermPair] = {}
    for number, line in enumerate(text.lstrip("\ufeff").splitlines(), 1):
        line = line.strip(" ")
        if not line.strip() or line.startswith(_COMMENT):
            continue
        source, _, target = line.partition("\t" if "\t" in line else "=")
        source, target = " ".join(source.split()), " ".join(target.split())
        if not source:
            raise TermBookError(f"Line {number} of the glossary has a translation, but no term.")
        pairs[source.casefold()] = TermPair(source, target or source)
    return TermBook(tuple(pairs.values()))


def write_terms(book: TermBook) -> str:
    """Return the text from which ``read_terms`` makes the same glossary."""
    lines = [
        pair.source if pair.target == pair.source else f"{pair.source} = {pair.target}"
        for pair in book.pairs
    ]
    return "".join(f"{line}\n" for line in lines)

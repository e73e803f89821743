"""The glossary: names and terms that the recogniser listens for."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tamarind.system.errors import ToldError

_COMMENT = "#"


class GlossaryError(ToldError, ValueError):
    """A glossary cannot be read; the message is one sentence for the person."""


@dataclass(frozen=True, slots=True)
class Term:
    """A name or term as it is written, and how else it may sound, spelled plainly."""

    text: str
    sounds_like: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Glossary:
    """Terms in the person's order."""

    terms: tuple[Term, ...] = ()

    def __bool__(self) -> bool:
        return bool(self.terms)


NO_TERMS = Glossary()


def read_glossary(text: str) -> Glossary:
    """Read one term a line; ``term = sounds like`` or ``term = one way, another`` give its sound.

    Empty lines and lines that begin with "#" are passed over, as is a term said twice. Raises
    GlossaryError when a line has a sound but no term.
    """
    terms: dict[str, Term] = {}
    for number, line in enumerate(text.lstrip("\ufeff").splitlines(), 1):
        line = line.strip()
        if not line or line.startswith(_COMMENT):
            continue
        written, _, sounds = line.partition("=")
        written = " ".join(written.split())
        if not written:
            raise GlossaryError(f"Line {number} of the glossary says how it sounds, but no term.")
        ways = tuple(" ".join(way.split()) for way in sounds.split(",") if way.strip())
        terms.setdefault(written.casefold(), Term(written, ways))
    return Glossary(tuple(terms.values()))


def terms_of(lines: Sequence[str]) -> Glossary:
    """Read a glossary, skipping lines that are no term."""
    return read_glossary("\n".join(line for line in lines if line.partition("=")[0].strip()))


def together(*glossaries: Glossary) -> Glossary:
    """Return a glossary with the terms of all, each as in the first that has it."""
    terms: dict[str, Term] = {}
    for glossary in glossaries:
        for term in glossary.terms:
            terms.setdefault(term.text.casefold(), term)
    return Glossary(tuple(terms.values()))


def write_glossary(glossary: Glossary) -> str:
    """Return the text from which ``read_glossary`` makes the same glossary."""
    lines = [
        f"{term.text} = {', '.join(term.sounds_like)}" if term.sounds_like else term.text
        for term in glossary.terms
    ]
    return "".join(f"{line}\n" for line in lines)

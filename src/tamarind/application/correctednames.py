"""Names and terms that a person corrected, kept for each client on this computer.

Nothing is kept before the person has said that it may be; a client is a house style.
"""

from __future__ import annotations

from collections.abc import Sequence

from tamarind.application import personal
from tamarind.application.personal import Personal

MOST_KEPT = 200
"""Of a client; those that were corrected last stay."""

_ALLOWED: Personal[str] = Personal("remember corrected names", "")
_KEPT: Personal[dict[str, list[str]]] = Personal("corrected names", {})


def is_decided() -> bool:
    """Whether the person has said if corrected names may be kept."""
    return personal.read(_ALLOWED) in ("yes", "no")


def is_allowed() -> bool:
    """Whether corrected names may be kept."""
    return personal.read(_ALLOWED) == "yes"


def allow(may: bool) -> None:
    """Allow or forbid keeping corrected names; names that are kept stay."""
    personal.keep(_ALLOWED, "yes" if may else "no")


def kept_for(client: str) -> list[str]:
    """Return the names that were corrected for a client (the key of a house style), latest last."""
    kept = personal.read(_KEPT).get(client)
    return [term for term in kept if isinstance(term, str)] if isinstance(kept, list) else []


def keep_for(client: str, terms: Sequence[str]) -> None:
    """Replace the names that are kept for a client; none removes the client's list."""
    kept = {**personal.read(_KEPT), client: list(dict.fromkeys(terms))[-MOST_KEPT:]}
    personal.keep(_KEPT, {one: own for one, own in kept.items() if own})


def add_for(client: str, terms: Sequence[str]) -> None:
    """Add names to those that are kept for a client."""
    new = {term.casefold() for term in terms}
    old = [term for term in kept_for(client) if term.casefold() not in new]
    keep_for(client, [*old, *terms])

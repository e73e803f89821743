"""What documents of a recording say of it besides its text: title, date, header fields, note."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from tamarind.job.client import Client

TITLE, DATE = "title", "date"
"""Under these names a job keeps them among a recording's details; other names are fields."""


@dataclass(frozen=True, slots=True)
class About:
    """``title`` and ``date`` are "" where a person has said none; ``fields`` have a name and a
    value."""

    title: str = ""
    date: str = ""
    fields: tuple[tuple[str, str], ...] = ()
    closing: str = ""
    author: str = ""


NOTHING_SAID = About()


def about(details: Mapping[str, str], client: Client | None) -> About:
    """Return what documents say by the details of a recording, in the order of its client's
    fields."""
    wanted = client.delivery.fields if client is not None else ()
    names = dict.fromkeys((*wanted, *(name for name in details if name not in (TITLE, DATE))))
    fields = tuple((name, details[name]) for name in names if details.get(name))
    return About(
        details.get(TITLE, ""),
        details.get(DATE, ""),
        fields,
        client.delivery.closing if client is not None else "",
        client.delivery.proofed_by if client is not None else "",
    )


def lines_of(details: Mapping[str, str]) -> str:
    """Return fields as a person edits them, "Name: value" on each line."""
    return "\n".join(f"{name}: {value}" for name, value in details.items())


def fields_in(text: str) -> dict[str, str]:
    """Return the fields in lines of "Name: value"; a line without a colon is a name only."""
    found: dict[str, str] = {}
    for line in text.splitlines():
        name, _, value = line.partition(":")
        if name.strip():
            found[" ".join(name.split())] = " ".join(value.split())
    return found

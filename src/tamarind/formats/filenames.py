"""Make file names from a pattern, valid on every common system, no two alike."""

from __future__ import annotations

import hashlib
import os
import re
from collections.abc import Mapping

from tamarind.system.errors import ToldError

USUAL_PATTERN = "{recording}.{language}"
FIELDS = ("recording", "title", "language", "date", "client", "document")
"""What a pattern may name in braces. One that is empty goes, with the mark before it."""

_FIELD = re.compile(r"([ ._-]?)\{(\w+)\}")
_UNLAWFUL = re.compile(r'[<>:"/\\|?*\x00-\x1f\x7f]')
_RESERVED = re.compile(r"^(con|prn|aux|nul|com\d|lpt\d)$", re.IGNORECASE)
LONGEST_BYTES = 180
LONGEST_NAME = 255
"""Bytes that a file name may have on Linux."""


class NamePatternError(ToldError, ValueError):
    """A pattern has an unknown place; the message is one sentence."""


def name_by(pattern: str, values: Mapping[str, str]) -> str:
    """Return a file name without suffix. Raises NamePatternError."""
    for _, field in _FIELD.findall(pattern):
        if field not in FIELDS:
            known = ", ".join(f"{{{one}}}" for one in FIELDS)
            raise NamePatternError(f"A name can have {known}, but not {{{field}}}.")

    def filled(match: re.Match[str]) -> str:
        value = values.get(match[2], "").strip()
        return f"{match[1]}{value}" if value else ""

    return lawful(_FIELD.sub(filled, pattern))


def lawful(name: str) -> str:
    """Return a name with hyphens for characters that some system forbids, neither empty nor too
    long."""
    name = shortened(_UNLAWFUL.sub("-", name), LONGEST_BYTES)
    name = name.strip(" .") or "text"
    return f"_{name}" if _RESERVED.match(name.partition(".")[0]) else name


def free(stem: str, suffix: str, taken: set[str]) -> str:
    """Return the name with its suffix, numbered if one like it is taken, and note it as taken.

    Capitals make no difference, since they make none on some systems.
    """
    name, number = f"{stem}.{suffix}", 2
    while name.casefold() in taken:
        name, number = f"{stem}-{number}.{suffix}", number + 1
    taken.add(name.casefold())
    return name


def fitting(stem: str, suffix: str) -> str:
    """Return a file's name with its suffix, shortened if it would be too long."""
    return f"{shortened(stem, LONGEST_NAME - len(suffix) - 1)}.{suffix}"


def shortened(name: str, most: int) -> str:
    """Return a name of at most so many bytes: a longer one ends in a digest of all of it, so that
    it is always shortened alike."""
    data = os.fsencode(name)
    if len(data) <= most:
        return name
    mark = f"~{hashlib.blake2b(data, digest_size=3).hexdigest()}"
    return data[: most - len(mark)].decode("utf-8", "ignore") + mark

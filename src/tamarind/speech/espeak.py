"""Get pronunciations from eSpeak NG, a speech synthesiser that is run as a separate program.

It knows how words of some hundred languages are said (``--ipa``), figures too. Words are asked for
many at a time, each as a paragraph, so that the program is started once for a whole stretch.
"""

from __future__ import annotations

import re
import shutil
import subprocess
from collections.abc import Sequence
from functools import cache

PROGRAM = "espeak-ng"
PATIENCE_S = 30
_KEPT = re.compile(r"[^\w'’\-]+")
_OTHER_LANGUAGE = re.compile(r"\([a-z-]+\)")


@cache
def program() -> str | None:
    """Return the path of the program, if it is installed."""
    return shutil.which(PROGRAM)


@cache
def voices() -> frozenset[str]:
    """Return the languages that it speaks, as BCP 47 tags."""
    found = _said(["--voices"], "")
    return frozenset(line.split()[1] for line in found.splitlines()[1:] if len(line.split()) > 1)


def ipa_of(words: Sequence[str], language: str) -> list[str]:
    """Return the pronunciation of each word in a language, in IPA; "" if it is not known.

    ``language`` is one of ``voices``.
    """
    plain = [_KEPT.sub("", word).strip("-'’_") for word in words]
    asked = [word for word in plain if word]
    said = _paragraphs(asked, language)
    if len(said) != len(asked):  # a word that is more than one clause to it, or none
        said = [" ".join(_paragraphs([word], language)) for word in asked]
    answers = iter(said)
    return [_bare(next(answers)) if word else "" for word in plain]


def _paragraphs(words: Sequence[str], language: str) -> list[str]:
    found = _said(["-q", "--ipa", "-v", language, "--stdin"], "\n\n".join(words) + "\n")
    return [line.strip() for line in found.splitlines() if line.strip()]


def _bare(ipa: str) -> str:
    return _OTHER_LANGUAGE.sub("", ipa).replace(" ", "")


def _said(arguments: Sequence[str], text: str) -> str:
    where = program()
    if where is None:
        return ""
    try:
        done = subprocess.run(
            [where, *arguments], input=text, capture_output=True, text=True, check=False,
            timeout=PATIENCE_S, encoding="utf-8", errors="replace",
        )  # fmt: skip
    except (OSError, subprocess.SubprocessError):
        return ""
    return done.stdout

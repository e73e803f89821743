"""Encode text: encoding, byte-order mark, line ends, and characters that an encoding lacks."""

from __future__ import annotations

from dataclasses import dataclass

ENCODINGS = {
    "utf-8": "UTF-8",
    "utf-16": "UTF-16",
    "cp1252": "Windows-1252 (Western)",
    "iso8859-15": "ISO 8859-15 (Western)",
    "cp1250": "Windows-1250 (Central European)",
    "ascii": "ASCII",
}
"""Encodings by the name that Python has for them, as they are offered."""

_STAND_INS = str.maketrans(
    {"‘": "'", "’": "'", "“": '"', "”": '"', "«": '"', "»": '"', "–": "-", "—": "-", "…": "..."}
)


def plain_counterpart(letter: str) -> str:
    """Return the plain characters that stand in for a typographic one; itself if there are none."""
    return letter.translate(_STAND_INS)


@dataclass(frozen=True, slots=True)
class Bytes:
    """How text is encoded; ``mark`` is a byte-order mark (UTF-16 always has one)."""

    encoding: str = "utf-8"
    mark: bool = False
    crlf: bool = False


UTF8 = Bytes()


def encoded(text: str, how: Bytes = UTF8) -> bytes:
    """Encode a text.

    What the encoding cannot hold is written as its plain counterpart where there is one (quotes,
    dashes), else as a question mark; ``unheld`` says what that is.
    """
    if how.crlf:
        text = text.replace("\n", "\r\n")
    if how.encoding == "utf-16":
        return b"\xff\xfe" + text.encode("utf-16-le", "replace")
    if how.encoding == "utf-8":
        data = text.encode("utf-8", "replace")
        return b"\xef\xbb\xbf" + data if how.mark else data
    kept = "".join(
        letter if holds(letter, how.encoding) else plain_counterpart(letter) for letter in text
    )
    return kept.encode(how.encoding, "replace")


def holds(text: str, encoding: str) -> bool:
    """Whether an encoding has all characters of a text."""
    try:
        text.encode(encoding)
    except UnicodeEncodeError:
        return False
    return True


def unheld(text: str, encoding: str) -> str:
    """Return the characters of a text that an encoding lacks, each once."""
    if holds(text, encoding):
        return ""
    return "".join(letter for letter in dict.fromkeys(text) if not holds(letter, encoding))

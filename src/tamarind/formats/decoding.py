"""Decode bytes to text, detecting the encoding with the language as a hint.

Files of captions come from all over the world and seldom say what they are in. Those that are no
UTF-8 are weighed by ``charset-normalizer``, which tells how much disorder each encoding would make
of the text and how much it would look like a language; ours is which encodings are in use, and what
speaks for each where several make sense.
"""

from __future__ import annotations

import codecs
import re
from dataclasses import dataclass

from tamarind.formats.captionfile import FormatError
from tamarind.formats.textlanguage import guess

NAMES = {
    "utf_8": "UTF-8",
    "utf_16": "UTF-16",
    "utf_7": "UTF-7",
    "hz": "HZ (Chinese)",
    "cp1252": "Windows-1252 (Western)",
    "cp1250": "Windows-1250 (Central European)",
    "iso8859_2": "ISO 8859-2 (Central European)",
    "cp1251": "Windows-1251 (Cyrillic)",
    "koi8_r": "KOI8-R (Russian)",
    "koi8_u": "KOI8-U (Ukrainian)",
    "cp866": "DOS 866 (Cyrillic)",
    "iso8859_5": "ISO 8859-5 (Cyrillic)",
    "cp1253": "Windows-1253 (Greek)",
    "iso8859_7": "ISO 8859-7 (Greek)",
    "cp1254": "Windows-1254 (Turkish)",
    "cp1255": "Windows-1255 (Hebrew)",
    "cp1256": "Windows-1256 (Arabic)",
    "iso8859_6": "ISO 8859-6 (Arabic)",
    "cp1257": "Windows-1257 (Baltic)",
    "cp1258": "Windows-1258 (Vietnamese)",
    "cp874": "Windows-874 (Thai)",
    "cp932": "Shift-JIS (Japanese)",
    "euc_jp": "EUC-JP (Japanese)",
    "iso2022_jp": "ISO-2022-JP (Japanese)",
    "gb18030": "GB 18030 (Chinese)",
    "big5": "Big5 (Chinese)",
    "cp949": "EUC-KR (Korean)",
}
"""Encodings that are looked for, by Python's name, and what they are called."""

_OF_LANGUAGES = {
    "ru": ("cp1251", "koi8_r", "cp866", "iso8859_5"), "be": ("cp1251", "koi8_u"),
    "bg": ("cp1251", "iso8859_5"), "uk": ("cp1251", "koi8_u"), "sr": ("cp1250", "cp1251"),
    "mk": ("cp1251",), "pl": ("cp1250", "iso8859_2"), "cs": ("cp1250", "iso8859_2"),
    "sk": ("cp1250", "iso8859_2"), "hu": ("cp1250", "iso8859_2"), "ro": ("cp1250", "iso8859_2"),
    "hr": ("cp1250", "iso8859_2"), "sl": ("cp1250", "iso8859_2"), "el": ("cp1253", "iso8859_7"),
    "tr": ("cp1254",), "he": ("cp1255",), "yi": ("cp1255",), "ar": ("cp1256", "iso8859_6"),
    "fa": ("cp1256",), "ur": ("cp1256",), "lt": ("cp1257",), "lv": ("cp1257",), "et": ("cp1257",),
    "vi": ("cp1258",), "th": ("cp874",), "ja": ("cp932", "euc_jp", "iso2022_jp"),
    "zh": ("gb18030", "big5"), "ko": ("cp949",),
}  # fmt: skip
_WESTERN = ("cp1252",)

_USUAL = {
    "cp1252": 0.06, "cp1251": 0.03, "cp932": 0.02, "gb18030": 0.02, "cp1256": 0.02,
    "iso8859_5": -0.05, "iso8859_6": -0.08, "iso8859_7": -0.03, "cp1258": -0.05, "koi8_u": -0.02,
}  # fmt: skip
"""Where nothing else speaks, those in wide use come before those that hardly are."""

WELL, SPOKEN = 0.15, 0.3
"""How much it counts that an encoding is one of the language that is expected, or of the one that
the text is in by it."""

UNWEIGHED = 0.1

FEW = 6
"""So few bytes beyond ASCII say nothing by themselves: what is usual counts."""

CLEAR = 0.12
"""By so much the best must be better than the next to be clear."""

MOST_ASKED = 5
MOST_READ = 20_000
"""So many encodings are held against the language of what they make of so many bytes."""

_STAMPS = re.compile(r"^.*-->.*$|[\d<>{}\\]+", re.MULTILINE)

MOST_DISORDER = 0.4
MOST_WEIGHED = 200_000
"""Bytes from the start of a file that are weighed."""

_MANY_SIGNS = {
    "gb18030": ("gb2312", 0xB0, 0xD7),
    "big5": ("big5", 0xA4, 0xC6),
    "cp932": ("euc_jp", 0xB0, 0xCF),
    "euc_jp": ("euc_jp", 0xB0, 0xCF),
    "iso2022_jp": ("euc_jp", 0xB0, 0xCF),
    "cp949": ("", 0, 0),
}
"""Where each standard has its signs of daily use: an encoding, and the first bytes in it."""

_LETTERS = re.compile(r"[^\W\d_]{2,}")
_LATIN, _OTHER = r"[A-Za-z\u00c0-\u024f]", r"[\u0370-\u03ff\u0400-\u04ff\u0590-\u06ff\u0e00-\u0e7f]"
_ODD_WORD = re.compile(
    r"[a-z\u00df-\u00ff\u03ac-\u03ce\u0430-\u045f][A-Z\u00c0-\u00de\u0391-\u03a9\u0400-\u042f]"
    rf"|{_LATIN}{_OTHER}|{_OTHER}{_LATIN}"
)
"""A capital within a word, or letters of two scripts side by side."""

_SIGN_IN_WORD = re.compile(
    r"(?<=[A-Za-z\u00c0-\u024f])[\u00a1-\u00a9\u00ac\u00ae-\u00b8\u00bc-\u00bf](?=[A-Za-z\u00c0-\u024f\s])"
    r"|(?<!\S)[\u00a2-\u00a6\u00a8\u00ac\u00ae-\u00b8\u00bc-\u00be](?=[a-z\u00df-\u024f])"
)
"""Marks and fractions where letters should be."""

_FREQUENT = frozenset("оеаинтсрвлαοιετσνηυρיהולראבתשמاليمونتربานรกอเงมยล")
"""The ten letters that make up more than half of any text, in scripts of some thirty letters."""

_THAI = re.compile(r"[\u0e01-\u0e5b]")
_LOOSE_THAI = re.compile(
    r"(?<![\u0e01-\u0e2e\u0e31\u0e34-\u0e3a\u0e47-\u0e4e])[\u0e31\u0e34-\u0e3a\u0e47-\u0e4e]"
)
_SEPARATORS = re.compile(r"[\x0b\x0c\x1c-\x1f\x85\u2028\u2029]")
_CONTROL = re.compile(r"[\x00-\x08\x0e-\x1b\x7f\ufeff]")


@dataclass(frozen=True, slots=True)
class DecodedText:
    """A text, its encoding, and, if that is not clear, the other likely ones, likeliest first."""

    text: str
    encoding: str
    others: tuple[str, ...] = ()


def name_of(encoding: str) -> str:
    """Return the name of an encoding for people."""
    return NAMES.get(_python_name(encoding), encoding)


def told_of(decoded: DecodedText) -> str:
    """Describe the encoding of a text, with the other likely ones."""
    taken = name_of(decoded.encoding)
    if not decoded.others:
        return taken
    others = " or ".join(map(name_of, decoded.others[:2]))
    return f"{taken}; that is not clear, it may be in {others}"


def known_encoding(name: str) -> str | None:
    """Return Python's name of an encoding, or None if it has none of that name."""
    try:
        found = codecs.lookup(name)
    except (LookupError, ValueError):
        return None
    is_text = getattr(found, "_is_text_encoding", True)
    return found.name if is_text else None


def decode(data: bytes, language: str = "", encoding: str | None = None) -> DecodedText:
    """Decode a file's bytes, in ``encoding`` if that is given.

    Line ends become "\\n"; control characters are dropped, those that part lines in other ways
    become spaces. Raises FormatError for what is no text, or not in that encoding.
    """
    if encoding is not None:
        try:
            return DecodedText(_plain(data.decode(encoding)), encoding)
        except (UnicodeError, LookupError):
            raise FormatError(f"The text is not in {name_of(encoding)}.") from None
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        return DecodedText(_plain(data.decode("utf-16", "replace")), "utf_16")
    if data[:200].count(0) > len(data[:200]) // 4:
        name = "utf_16_le" if data[1:2] == b"\0" else "utf_16_be"
        text = data.decode(name, "replace")
        if sum(char.isprintable() or char.isspace() for char in text) < 0.9 * len(text):
            raise FormatError("This is no text file.")
        return DecodedText(_plain(text), name)
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = ""
    seven = _of_seven_bits(data) if text.isascii() else None
    if seven is not None:
        return seven
    # Escapes of ISO-2022-JP are plain ASCII.
    if text and b"\x1b$" not in data and b"\x1b(" not in data:
        return DecodedText(_plain(text), "utf_8")
    if not data or (b"\0" in data):
        if data:
            raise FormatError("This is no text file.")
        return DecodedText("", "utf_8")
    best, *others = _weighed(data, language)
    return DecodedText(_plain(data.decode(best, "replace")), best, tuple(others))


def _of_seven_bits(data: bytes) -> DecodedText | None:
    """Decode a text in an encoding that uses only ASCII bytes, if it is in one."""
    for encoding, sign in (("hz", b"~{"), ("utf_7", b"+")):
        if sign not in data or not _SHIFTED[encoding].search(data):
            continue
        try:
            text = data.decode(encoding)
        except UnicodeDecodeError:
            continue
        foreign = [letter for letter in text if letter > "\x7f"]
        if foreign and sum(map(str.isalpha, foreign)) >= len(foreign) / 2:
            return DecodedText(_plain(text), encoding)
    return None


_SHIFTED = {
    "hz": re.compile(rb"~\{(?:[!-~]{2}){2,}?~\}"),
    "utf_7": re.compile(rb"(?:\+[A-Za-z0-9/+]{3,}[^A-Za-z0-9/+][^+]*){2}"),
}
"""Stretches of other letters in encodings of seven bits."""


def _weighed(data: bytes, language: str) -> list[str]:
    """Return the likeliest encoding, and those close to it that give another text."""
    from charset_normalizer import from_bytes

    part = data[:MOST_WEIGHED]
    if len(part) < len(data):
        # Not within a letter.
        part = part[: part.rfind(b"\n") + 1] or part
    matches = from_bytes(part, cp_isolation=list(NAMES)[4:], threshold=MOST_DISORDER)
    tag = language.partition("-")[0].casefold()
    own = _OF_LANGUAGES.get(tag, _WESTERN if tag else ())
    scores: dict[str, float] = {}
    for match in matches:
        name = _python_name(match.encoding)
        preferred = WELL if name in own else 0.0
        usual = _USUAL.get(name, 0.0)
        looks = _looks_typical(str(match), name)
        scores[name] = match.coherence / 2 - match.chaos + preferred + usual + looks
        for alike in match.could_be_from_charset:
            other = _python_name(alike)
            if other in NAMES and other not in scores:
                scores[other] = scores[name] - usual + (WELL if other in own else 0.0) - preferred
    for name in _WESTERN:
        if name not in scores and _fits(data, name):
            # The library leaves out what it finds too disorderly, such as many umlauts.
            scores[name] = _looks_typical(part.decode(name, "replace"), name) - UNWEIGHED
    expected = (own or _WESTERN)[0]
    few = b"\x1b" not in part and sum(byte > 0x7F for byte in part) < FEW
    if few and _fits(data, expected):
        scores[expected] = max(scores.values(), default=0.0) + 0.01
    if not scores:
        return ["cp1252"]
    _prefer_its_language(scores, data)
    ranked = sorted(scores, key=lambda name: scores[name], reverse=True)
    best = ranked[0]
    text = data.decode(best, "replace")
    close = [
        name
        for name in ranked[1:]
        if scores[best] - scores[name] < CLEAR and data.decode(name, "replace") != text
    ]
    return [best, *close]


def _prefer_its_language(scores: dict[str, float], data: bytes) -> None:
    """Prefer encodings in which the text's language is written: Polish in a Western encoding is a
    mistake, and so is French in a Baltic one."""
    for name in sorted(scores, key=lambda name: scores[name], reverse=True)[:MOST_ASKED]:
        text = _STAMPS.sub(" ", data[:MOST_READ].decode(name, "ignore"))
        tag, share = guess(text)
        if name in _OF_LANGUAGES.get(tag, _WESTERN):
            scores[name] += SPOKEN * share


def _fits(data: bytes, encoding: str) -> bool:
    try:
        data.decode(encoding)
    except UnicodeDecodeError:
        return False
    return True


def _looks_typical(text: str, encoding: str) -> float:
    """Score a text: capitals at the starts of words, and in scripts of many signs those in daily
    use, which a wrong encoding seldom produces."""
    words = _LETTERS.findall(text)
    odd = sum(_ODD_WORD.search(word) is not None for word in words) / max(len(words), 1)
    odd += len(_SIGN_IN_WORD.findall(text)) / max(len(words), 1)
    foreign = [letter for letter in text if "\x7f" < letter < "\u0250" and letter.isalpha()]
    if foreign:
        # Icelandic alone has these, and a file of it has all the others of its own beside them.
        odd += 0.8 * sum(letter in "ðýþÐÝÞ" for letter in foreign) / len(foreign)
    thai = _THAI.findall(text)
    if thai:
        # Vowels and tones above and below stand on a consonant.
        odd += len(_LOOSE_THAI.findall(text)) / len(thai)
    signs = [letter for letter in text if ord(letter) >= 0x2E80]
    if encoding not in _MANY_SIGNS or not signs:
        own = [letter for letter in text.casefold() if letter > "\u036f" and letter.isalpha()]
        frequent = sum(letter in _FREQUENT for letter in own) / len(own) - 0.4 if own else 0.0
        return frequent / 2 - odd / 2
    return 0.3 * sum(_in_daily_use(sign, encoding) for sign in signs) / len(signs) - 0.1


def _in_daily_use(sign: str, encoding: str) -> bool:
    if encoding == "cp949":
        return "\uac00" <= sign <= "\ud7a3"
    if "\u3000" <= sign <= "\u30ff" or "\uff00" <= sign <= "\uff60":
        return True
    common, first, last = _MANY_SIGNS[encoding]
    try:
        lead = sign.encode(common)[0]
    except UnicodeEncodeError:
        return False
    return first <= lead <= last


def _python_name(encoding: str) -> str:
    return encoding.casefold().replace("-", "_")


def _plain(text: str) -> str:
    text = _CONTROL.sub("", text.replace("\r\n", "\n").replace("\r", "\n"))
    return _SEPARATORS.sub(" ", text)

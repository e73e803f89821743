"""Convert written words to spoken ones, and unknown words to phones (ARPAbet).

The dictionary itself comes with the aligner; this module makes what it lacks: figures are read
out as words, and unknown words are sounded out letter by letter. That is rough, but an alignment
needs only about the right number of vowels and consonants in the right order.
"""

from __future__ import annotations

import re

from num2words import num2words

_LETTERS = {
    "a": "EY", "b": "B IY", "c": "S IY", "d": "D IY", "e": "IY", "f": "EH F", "g": "JH IY",
    "h": "EY CH", "i": "AY", "j": "JH EY", "k": "K EY", "l": "EH L", "m": "EH M", "n": "EH N",
    "o": "OW", "p": "P IY", "q": "K Y UW", "r": "AA R", "s": "EH S", "t": "T IY", "u": "Y UW",
    "v": "V IY", "w": "D AH B AH L Y UW", "x": "EH K S", "y": "W AY", "z": "Z IY",
}  # fmt: skip

_GRAPHEMES = {
    "tion": "SH AH N", "sion": "ZH AH N", "ough": "AO", "augh": "AO", "eigh": "EY", "igh": "AY",
    "tch": "CH", "sch": "S K", "dge": "JH", "ing": "IH NG", "eau": "OW", "ph": "F", "sh": "SH",
    "ch": "CH", "th": "TH", "wh": "W", "ck": "K", "ng": "NG", "qu": "K W", "kn": "N", "wr": "R",
    "gh": "G", "ee": "IY", "ea": "IY", "oo": "UW", "ou": "AW", "ow": "OW", "oi": "OY", "oy": "OY",
    "ai": "EY", "ay": "EY", "au": "AO", "aw": "AO", "ie": "IY", "ei": "EY", "oa": "OW", "ew": "UW",
    "ar": "AA R", "er": "ER", "ir": "ER", "or": "AO R", "ur": "ER", "ss": "S", "ll": "L",
    "tt": "T", "pp": "P", "bb": "B", "dd": "D", "ff": "F", "gg": "G", "mm": "M", "nn": "N",
    "rr": "R", "cc": "K", "zz": "Z", "a": "AE", "b": "B", "c": "K", "d": "D", "e": "EH", "f": "F",
    "g": "G", "h": "HH", "i": "IH", "j": "JH", "k": "K", "l": "L", "m": "M", "n": "N", "o": "AA",
    "p": "P", "q": "K", "r": "R", "s": "S", "t": "T", "u": "AH", "v": "V", "w": "W", "x": "K S",
    "y": "IY", "z": "Z",
}  # fmt: skip

_LONGEST = max(map(len, _GRAPHEMES))
_SOFTENING = "eiy"
_FIGURES = re.compile(r"\d+(?:[.,]\d+)*")
_PLAIN_FORMS = str.maketrans({"’": "'", "‘": "'", "é": "e", "è": "e", "ê": "e", "á": "a", "à": "a",
                              "â": "a", "ä": "a", "ö": "o", "ó": "o", "ô": "o", "ü": "u", "ú": "u",
                              "í": "i", "ï": "i", "ñ": "n", "ç": "c"})  # fmt: skip


def spoken_forms(word: str) -> list[str]:
    """Return the plain lower-case words said for a written one: "1952," -> nineteen fifty-two.

    Marks say nothing, so "–" gives an empty list.
    """
    text = word.lower().translate(_PLAIN_FORMS)
    text = _FIGURES.sub(lambda match: f" {_read_out(match.group())} ", text)
    text = text.replace("%", " percent ").replace("&", " and ").replace("£", " pounds ")
    return [part.strip("'") for part in re.findall(r"[a-z']+", text) if part.strip("'")]


def sounded_out(word: str) -> str:
    """Return phones for a word that no dictionary has, longest letter groups first."""
    if not re.search(r"[aeiouy]", word):
        return " ".join(_LETTERS[letter] for letter in word if letter in _LETTERS)
    phones: list[str] = []
    place = 0
    while place < len(word):
        for length in range(min(_LONGEST, len(word) - place), 0, -1):
            group = word[place : place + length]
            if group in _GRAPHEMES:
                break
        silent = group == "e" and place == len(word) - 1 and len(phones) > 1
        if group == "c" and word[place + 1 : place + 2] in tuple(_SOFTENING):
            phones.append("S")
        elif group in _GRAPHEMES and not silent:
            phones.append(_GRAPHEMES[group])
        place += length
    return " ".join(phones)


def _read_out(figures: str) -> str:
    number = figures.replace(",", "")
    try:
        if re.fullmatch(r"1[1-9]\d\d|20[1-9]\d", figures):
            spoken = num2words(int(figures), to="year")
        else:
            spoken = num2words(number)
    except (ArithmeticError, ValueError, OverflowError):
        spoken = " ".join(num2words(int(digit)) for digit in number if digit.isdigit())
    return str(spoken).replace("-", " ").replace(",", " ")

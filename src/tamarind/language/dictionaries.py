"""Check spelling in other languages with the system's Hunspell dictionaries."""

from __future__ import annotations

import re
import warnings
from functools import lru_cache
from pathlib import Path
from typing import Any

from tamarind.system.folders import data_home

_FOLDERS = ("/usr/share/hunspell", "/usr/share/myspell/dicts", "/usr/share/myspell")
_WORD = re.compile(r"[^\W\d_]+(?:['’-][^\W\d_]+)*")


class Dictionary:
    """The words of one language."""

    def __init__(self, path: Path) -> None:
        """Load the two files beside each other, ``path`` without suffix; takes about a second."""
        from spylls.hunspell import Dictionary as Hunspell

        with warnings.catch_warnings():
            # The library leaves its files to be closed by chance.
            warnings.simplefilter("ignore", ResourceWarning)
            self._hunspell: Any = Hunspell.from_files(str(path))
        self._known: dict[str, bool] = {}

    def knows(self, word: str) -> bool:
        """Whether all parts of a word, without its marks, are spelled right."""
        return all(self._knows(part) for part in _WORD.findall(word))

    def _knows(self, part: str) -> bool:
        known = self._known.get(part)
        if known is None:
            plain = part.replace("’", "'")
            known = self._known[part] = bool(self._hunspell.lookup(plain))
        return known


@lru_cache(maxsize=4)
def dictionary(language: str) -> Dictionary | None:
    """Return the dictionary for a language (a BCP 47 tag), or None if the system has none."""
    path = find(language)
    if path is None:
        return None
    try:
        return Dictionary(path)
    except (OSError, ValueError, KeyError, UnicodeError):
        return None


def find(language: str) -> Path | None:
    """Return the path of a language's dictionary: its region's, else any region's."""
    tag = language.replace("-", "_")
    for folder in (data_home().parent / "hunspell", *map(Path, _FOLDERS)):
        main = tag.partition("_")[0]
        names = [tag, f"{main}_{main.upper()}", main]
        found = [folder / name for name in names] + sorted(
            path.with_suffix("") for path in folder.glob(f"{main}_*.dic")
        )
        for path in found:
            if path.with_suffix(".dic").is_file() and path.with_suffix(".aff").is_file():
                return path
    return None

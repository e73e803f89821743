"""Ask fontconfig for fonts of the system, for scripts that the shipped ones lack."""

from __future__ import annotations

import ctypes
import ctypes.util
from contextlib import suppress
from functools import cache
from pathlib import Path
from typing import Any

_MATCH_PATTERN = 0
_BOLD, _REGULAR = 200, 80


def face_with(character: str, bold: bool) -> tuple[Path, int] | None:
    """Return file and index of a font that should have a character; None without one, or without
    fontconfig. The caller checks the font."""
    library = _library()
    return _asked(library, character, bold) if library is not None else None


@cache
def _library() -> Any:
    for name in ("libfontconfig.so.1", ctypes.util.find_library("fontconfig")):
        if name:
            with suppress(OSError):
                library = ctypes.CDLL(name)
                for made in ("FcPatternCreate", "FcCharSetCreate", "FcFontMatch"):
                    getattr(library, made).restype = ctypes.c_void_p
                return library if library.FcInit() else None
    return None


def _asked(library: Any, character: str, bold: bool) -> tuple[Path, int] | None:
    pattern = ctypes.c_void_p(library.FcPatternCreate())
    characters = ctypes.c_void_p(library.FcCharSetCreate())
    try:
        library.FcCharSetAddChar(characters, ctypes.c_uint32(ord(character)))
        library.FcPatternAddCharSet(pattern, b"charset", characters)
        library.FcPatternAddInteger(pattern, b"weight", _BOLD if bold else _REGULAR)
        library.FcConfigSubstitute(None, pattern, _MATCH_PATTERN)
        library.FcDefaultSubstitute(pattern)
        result = ctypes.c_int()
        match = ctypes.c_void_p(library.FcFontMatch(None, pattern, ctypes.byref(result)))
        if not match:
            return None
        file, index = ctypes.c_char_p(), ctypes.c_int()
        try:
            if library.FcPatternGetString(match, b"file", 0, ctypes.byref(file)) or not file.value:
                return None
            library.FcPatternGetInteger(match, b"index", 0, ctypes.byref(index))
            return Path(file.value.decode("utf-8", "surrogateescape")), index.value & 0xFFFF
        finally:
            library.FcPatternDestroy(match)
    finally:
        library.FcCharSetDestroy(characters)
        library.FcPatternDestroy(pattern)

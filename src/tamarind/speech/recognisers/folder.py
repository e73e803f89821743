"""Examine a folder with a model: its format, whether it is whole, and its languages."""

from __future__ import annotations

import importlib.util
import json
import re
from dataclasses import dataclass
from enum import Enum
from pathlib import Path

from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.system.fetching import amount

NETWORK_FILES = ("encoder_model.ort", "decoder_model_merged.ort", "tokenizer.bin")
"""What a folder in the built-in model's format holds."""

CTRANSLATE_FILES = ("model.bin", "config.json", "tokenizer.json")
CTRANSLATE_VOCABULARIES = ("vocabulary.json", "vocabulary.txt")

_ADDED = '"added_tokens"'
_LANGUAGE_TOKEN = re.compile(r"<\|([a-z]{2,3})\|>")
_ENGLISH_ONLY = ("en",)
_MANY_LANGUAGES_TOKEN = ""
"""Stands in the vocabulary of a model for many languages only; CTranslate2 goes by it too."""


class ModelFormat(Enum):
    """The formats of models that can be used."""

    NETWORK = "the built-in model's format"
    CTRANSLATE = "CTranslate2 format"


@dataclass(frozen=True, slots=True)
class ModelFolder:
    """A whole model; ``languages`` are codes of ISO 639, empty if only the person knows."""

    path: Path
    format: ModelFormat
    languages: tuple[str, ...]

    def sentence(self) -> str:
        """Describe it, for the person who has added it."""
        return (
            f"{self.path.name}: a model in {self.format.value} {self.hears}, {amount(self.size)}."
        )

    @property
    def size(self) -> int:
        """Its size on the disk (bytes)."""
        return sum(file.stat().st_size for file in self.path.iterdir() if file.is_file())

    @property
    def hears(self) -> str:
        """Its languages, for a sentence."""
        if not self.languages:
            return "for the languages it was made for"
        if len(self.languages) == 1:
            return f"for “{self.languages[0]}” only"
        return f"for {len(self.languages)} languages"


def look_into(folder: Path) -> ModelFolder:
    """Return the model in a folder. Raises RecogniserError with a sentence that says what is
    missing."""
    if not folder.is_dir():
        raise RecogniserError(f"There is no folder “{folder}”.")
    for form, files in (
        (ModelFormat.NETWORK, NETWORK_FILES),
        (ModelFormat.CTRANSLATE, CTRANSLATE_FILES),
    ):
        missing = [file for file in files if not (folder / file).is_file()]
        if form is ModelFormat.CTRANSLATE and not missing:
            missing = _without_vocabulary(folder)
        if not missing:
            return ModelFolder(folder, form, _languages(folder, form))
        if (folder / files[0]).is_file():
            raise RecogniserError(f"The model in “{folder}” is not whole: {missing[0]} is missing.")
    raise RecogniserError(
        f"“{folder}” holds no model that can be used here: neither {NETWORK_FILES[0]} with its"
        f" companions nor {CTRANSLATE_FILES[0]} of CTranslate2."
    )


def require_library(folder: ModelFolder) -> None:
    """Raise RecogniserError if the library for a folder's format is not installed."""
    needed = ("tokenizers",) if folder.format is ModelFormat.CTRANSLATE else ()
    if any(importlib.util.find_spec(name) is None for name in needed):
        raise RecogniserError(
            "Models in CTranslate2 format need extra packages; install them with:"
            " .venv/bin/pip install -e '.[languages]'"
        )


def _without_vocabulary(folder: Path) -> list[str]:
    there = any((folder / file).is_file() for file in CTRANSLATE_VOCABULARIES)
    return [] if there else [CTRANSLATE_VOCABULARIES[0]]


def _languages(folder: Path, form: ModelFormat) -> tuple[str, ...]:
    """Return the languages of a model by the tokens that tell it which one to hear."""
    return () if form is ModelFormat.NETWORK else languages_of(folder)


def languages_of(folder: Path) -> tuple[str, ...]:
    """Return the languages of a multilingual model, from its vocabulary.

    Raises RecogniserError when that cannot be read.
    """
    try:
        if not _knows_many(folder):
            return _ENGLISH_ONLY
    except (OSError, ValueError, TypeError) as error:
        raise RecogniserError(f"The vocabulary in “{folder}” cannot be read.") from error
    try:
        text = (folder / "tokenizer.json").read_text(encoding="utf-8")
        # Of a file of megabytes only this list: the window's start waits for it.
        listed, _end = json.JSONDecoder().raw_decode(text, text.index("[", text.index(_ADDED)))
        tokens = [str(token["content"]) for token in listed]
    except (OSError, ValueError, KeyError, TypeError) as error:
        raise RecogniserError(f"tokenizer.json in “{folder}” cannot be read.") from error
    return tuple(sorted(match[1] for t in tokens if (match := _LANGUAGE_TOKEN.fullmatch(t))))


def _knows_many(folder: Path) -> bool:
    """Whether the vocabulary has the token that begins a text in any language."""
    listed, lines = (folder / name for name in CTRANSLATE_VOCABULARIES)
    if not listed.is_file():
        return _MANY_LANGUAGES_TOKEN in lines.read_text(encoding="utf-8").splitlines()
    text = listed.read_text(encoding="utf-8")
    return f'"{_MANY_LANGUAGES_TOKEN}"' in text or _MANY_LANGUAGES_TOKEN in json.loads(text)

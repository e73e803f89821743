"""Examine folders with a translation model: what they translate, without loading them.

Two formats are known. One is that of the small models which are run in eight-bit integers: a
``model….bin`` beside ``vocab….spm`` (or one for each language) and perhaps a list of likely words
(``lex….bin``). The other is CTranslate2's: ``model.bin`` with ``config.json``, and the words cut by
SentencePiece.
"""

from __future__ import annotations

import json
import re
import shutil
import stat
import tempfile
import zipfile
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from enum import Enum
from pathlib import Path

from tamarind.transcript.languages import is_known
from tamarind.translation.engines.base import TranslationError

LARGEST_UNPACKED = 8 << 30
MOST_FILES = 1_000
DEEPEST = 3
"""How far below a folder the files of its model may lie."""

_CODES = r"([a-z]{2,3}(?:[_-]?(?:Hans|Hant))?)"
_IN_A_FILE = re.compile(rf"^model\.{_CODES}[-_]?{_CODES}\.", re.IGNORECASE)
_IN_A_FOLDER = re.compile(rf"(?:^|[^A-Za-z]){_CODES}[-_]{_CODES}(?=$|[^A-Za-z])")


class ModelKind(Enum):
    """The format of a model."""

    SMALL = "small"
    CONVERTED = "converted"


@dataclass(frozen=True, slots=True)
class TranslationModel:
    """A folder's model: its files, and its languages as BCP 47 tags."""

    folder: Path
    kind: ModelKind
    source: str
    target: str
    model: Path
    source_vocabulary: Path
    target_vocabulary: Path
    shortlist: Path | None = None

    @property
    def size(self) -> int:
        """Its size on the disk (bytes)."""
        files = {self.model, self.source_vocabulary, self.target_vocabulary}
        if self.shortlist is not None:
            files.add(self.shortlist)
        return sum(file.stat().st_size for file in files)


def look_into(folder: Path) -> TranslationModel:
    """Return the model in a folder. Raises TranslationError with a sentence if there is none."""
    try:
        files = [path for path in _files_below(folder, DEEPEST) if path.is_file()]
    except OSError as error:
        raise TranslationError(f"{folder} cannot be read: {error.strerror}.") from None
    converted = next(
        (f for f in files if f.name == "model.bin" and _beside(f, "config.json")), None
    )
    if converted is not None:
        return _converted(folder, converted, files)
    models = [file for file in files if re.match(r"model\..*\.bin$|model\.bin$", file.name)]
    if len(models) != 1:
        few = "no model" if not models else "several models"
        raise TranslationError(f"There is {few} for translation in {folder}.")
    return _small(folder, models[0], files)


def unpack(packed: Path, into: Path) -> Path:
    """Unpack a zip file with a model into a new folder in ``into``, and return it.

    Nothing is left when it cannot be used. Raises TranslationError with a sentence.
    """
    try:
        into.mkdir(parents=True, exist_ok=True)
        workplace = Path(tempfile.mkdtemp(prefix="unpacking-", dir=into))
    except OSError as error:
        raise TranslationError(f"{into} cannot be written: {error.strerror}.") from None
    try:
        _unzip(packed, workplace)
        inner = _only_folder(workplace)
        model = look_into(inner)
        name = packed.stem if inner == workplace else inner.name
        pair = f"{model.source}-{model.target}"
        target = into / (name if _languages_in(name) else f"{name}-{pair}")
        if target.exists():
            raise TranslationError(f"There is a model in {target} already.")
        inner.replace(target)
        return target
    except OSError as error:
        raise TranslationError(f"{packed.name} cannot be unpacked: {error.strerror}.") from None
    finally:
        shutil.rmtree(workplace, ignore_errors=True)


def _unzip(packed: Path, workplace: Path) -> None:
    try:
        with zipfile.ZipFile(packed) as file:
            entries = file.infolist()
            if len(entries) > MOST_FILES or sum(e.file_size for e in entries) > LARGEST_UNPACKED:
                raise TranslationError(f"{packed.name} is too large for a model.")
            for entry in entries:
                place = (workplace / entry.filename).resolve()
                is_link = stat.S_ISLNK(entry.external_attr >> 16)
                if not place.is_relative_to(workplace.resolve()) or is_link:
                    raise TranslationError(f"{packed.name} is no model: it reaches outside itself.")
                file.extract(entry, workplace)
    except (zipfile.BadZipFile, EOFError, RuntimeError, NotImplementedError):
        raise TranslationError(f"{packed.name} is damaged, or no zip file.") from None


def _only_folder(folder: Path) -> Path:
    inside = list(folder.iterdir())
    return inside[0] if len(inside) == 1 and inside[0].is_dir() else folder


def _files_below(folder: Path, depth: int) -> Iterator[Path]:
    for path in sorted(folder.iterdir()):
        if path.is_dir() and not path.is_symlink() and depth > 1:
            yield from _files_below(path, depth - 1)
        else:
            yield path


def _beside(file: Path, name: str) -> bool:
    return (file.parent / name).is_file()


def _small(folder: Path, model: Path, files: list[Path]) -> TranslationModel:
    vocabularies = [file for file in files if file.suffix == ".spm"]
    shared = [file for file in vocabularies if file.name.startswith("vocab")]
    source = [file for file in vocabularies if file.name.startswith("srcvocab")]
    target = [file for file in vocabularies if file.name.startswith("trgvocab")]
    if len(shared) == 1:
        source = target = shared
    if len(source) != 1 or len(target) != 1:
        raise TranslationError(f"The model in {folder} has no vocabulary (vocab….spm).")
    shortlist = next((f for f in files if re.match(r"lex\..*\.bin$", f.name)), None)
    found = _IN_A_FILE.match(model.name)
    languages = (found[1], found[2]) if found is not None else _languages_in(folder.name)
    return TranslationModel(
        folder, ModelKind.SMALL, *_known(languages, folder), model, source[0], target[0], shortlist
    )


def _converted(folder: Path, model: Path, files: list[Path]) -> TranslationModel:
    pieces = [file for file in files if file.suffix in (".spm", ".model")]
    shared = [f for f in pieces if f.stem in ("sentencepiece", "spm", "shared", "spiece")]
    source = [file for file in pieces if file.stem == "source"]
    target = [file for file in pieces if file.stem == "target"]
    if len(pieces) == 1 or shared:
        source = target = shared or pieces
    if not source or not target:
        raise TranslationError(
            f"The model in {folder} has no SentencePiece files (source.spm and target.spm)."
        )
    languages = _told(folder) or _languages_in(folder.name)
    return TranslationModel(
        folder, ModelKind.CONVERTED, *_known(languages, folder), model, source[0], target[0]
    )


def _told(folder: Path) -> tuple[str, str] | None:
    """Return the languages in a folder's own description."""
    with suppress(OSError, ValueError):
        told = json.loads((folder / "metadata.json").read_text("utf-8"))
        if isinstance(told, dict):
            source, target = told.get("from_code"), told.get("to_code")
            if isinstance(source, str) and isinstance(target, str):
                return source, target
    return None


def _languages_in(name: str) -> tuple[str, str] | None:
    for found in _IN_A_FOLDER.finditer(name):
        if is_known(tag_of(found[1])) and is_known(tag_of(found[2])):
            return found[1], found[2]
    return None


def _known(languages: tuple[str, str] | None, folder: Path) -> tuple[str, str]:
    if languages is None:
        raise TranslationError(
            f"What the model in {folder} translates is not told: name its folder after the two "
            "languages, such as en-pt."
        )
    source, target = tag_of(languages[0]), tag_of(languages[1])
    if not (is_known(source) and is_known(target)) or source == target:
        raise TranslationError(f"The model in {folder} translates from {source} to {target}?")
    return source, target


def tag_of(code: str) -> str:
    """Return a code in a file's name as a BCP 47 tag."""
    return re.sub(r"[_-]?(Hans|Hant)$", r"-\1", code.replace("_", "-"))

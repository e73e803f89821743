"""The translation models that exist besides the shipped ones: folders that a person has added,
unpacked zip files, and those an administrator has installed."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

from tamarind.system.folders import data_home
from tamarind.translation.engines.base import TranslationError
from tamarind.translation.engines.modelfolder import TranslationModel, look_into, unpack

FOR_ALL_USERS = Path("/usr/share/tamarind/translators")
FOLDERS_VARIABLE = "TAMARIND_TRANSLATORS"
"""Names folders with models for everybody on this machine, beside the usual one."""


def home() -> Path:
    """Return the folder of unpacked models."""
    return data_home() / "translators"


def models() -> list[TranslationModel]:
    """Return all usable models, the person's own first; missing and invalid ones are skipped."""
    found = []
    for folder in dict.fromkeys(_folders()):
        with suppress(TranslationError):
            found.append(look_into(folder))
    return found


def add(path: Path) -> TranslationModel:
    """Add a folder with a model, or unpack one from a zip file. Raises TranslationError with a
    sentence."""
    if path.is_dir():
        model = look_into(path.absolute())
        own = [folder for folder in _own() if folder != model.folder]
        _keep([*own, model.folder])
        return model
    if not path.is_file():
        raise TranslationError(f"{path} is not there.")
    return look_into(unpack(path, home()))


def remove(folder: Path) -> None:
    """Remove a folder from the list; it stays on the disk. Raises TranslationError if the list
    cannot be saved."""
    _keep([own for own in _own() if own != folder])


def _folders() -> Iterator[Path]:
    yield from _own()
    named = os.environ.get(FOLDERS_VARIABLE, "").split(os.pathsep)
    for place in [home(), *(Path(name) for name in named if name), FOR_ALL_USERS]:
        with suppress(OSError):
            yield from sorted(one for one in place.iterdir() if _may_be_one(one))


def _may_be_one(folder: Path) -> bool:
    """Whether a folder may be a model; incomplete ones have a name with a leading dot."""
    return folder.is_dir() and not folder.name.startswith(".")


def _list() -> Path:
    return data_home() / "translators.txt"


def _own() -> list[Path]:
    try:
        lines = _list().read_text(encoding="utf-8").splitlines()
    except (OSError, UnicodeDecodeError):
        return []
    return [Path(line) for line in lines if line]


def _keep(folders: list[Path]) -> None:
    try:
        _list().parent.mkdir(parents=True, exist_ok=True)
        _list().write_text("".join(f"{folder}\n" for folder in folders), encoding="utf-8")
    except OSError as error:
        raise TranslationError(f"The list of models cannot be kept: {error.strerror}.") from None

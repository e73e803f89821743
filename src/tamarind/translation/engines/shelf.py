"""Which translation models there are beside those that came along: folders that a person has added,
those that were unpacked from zip files, and those that an administrator has put in place."""

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
    """Where models are unpacked."""
    return data_home() / "translators"


def models() -> list[TranslationModel]:
    """All that can be used, the person's own first; what is gone or no model is passed over."""
    found = []
    for folder in dict.fromkeys(_folders()):
        with suppress(TranslationError):
            found.append(look_into(folder))
    return found


def add(path: Path) -> TranslationModel:
    """Take a folder with a model, or one that is unpacked from a zip file; raises
    TranslationError with a sentence."""
    if path.is_dir():
        model = look_into(path.absolute())
        own = [folder for folder in _own() if folder != model.folder]
        _keep([*own, model.folder])
        return model
    if not path.is_file():
        raise TranslationError(f"{path} is not there.")
    return look_into(unpack(path, home()))


def remove(folder: Path) -> None:
    """Forget a folder, which stays where it is; raises TranslationError if that cannot be kept."""
    _keep([own for own in _own() if own != folder])


def _folders() -> Iterator[Path]:
    yield from _own()
    named = os.environ.get(FOLDERS_VARIABLE, "").split(os.pathsep)
    for place in [home(), *(Path(name) for name in named if name), FOR_ALL_USERS]:
        with suppress(OSError):
            yield from sorted(one for one in place.iterdir() if _may_be_one(one))


def _may_be_one(folder: Path) -> bool:
    """What is not whole yet has a name that begins with a dot."""
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

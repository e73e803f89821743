"""The model folders that exist: those a person has added, listed in a small file, and those an
administrator has installed for everybody."""

from __future__ import annotations

import os
from contextlib import suppress
from pathlib import Path

from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.folder import ModelFolder, look_into, require_library
from tamarind.system.folders import data_home

FOR_ALL_USERS = Path("/usr/share/tamarind/models")
FOLDERS_VARIABLE = "TAMARIND_MODELS"
"""Names folders with models for everybody on this machine, beside the usual one."""


def models_home() -> Path:
    """Return the folder of downloaded models."""
    return data_home() / "models"


def own_shelf() -> ModelShelf:
    """Return the list of model folders that the person has added."""
    return ModelShelf(data_home() / "models.txt")


def of_this_machine() -> list[Path]:
    """Return the model folders that an administrator has installed, in order."""
    named = os.environ.get(FOLDERS_VARIABLE, "").split(os.pathsep)
    found: list[Path] = []
    for place in [*(Path(name) for name in named if name), FOR_ALL_USERS]:
        with suppress(OSError):
            found += sorted(one for one in place.iterdir() if one.is_dir())
    return found


def folders_here() -> list[Path]:
    """Return all model folders: the person's own, then those for everybody."""
    return list(dict.fromkeys([*own_shelf().folders(), *of_this_machine()]))


class ModelShelf:
    """Folders in the order in which they were added; a path a line in ``file``."""

    def __init__(self, file: Path) -> None:
        self._file = file

    def folders(self) -> list[Path]:
        """Return all folders, also those that are gone or incomplete."""
        try:
            lines = self._file.read_text(encoding="utf-8").splitlines()
        except (OSError, UnicodeDecodeError):
            return []
        return [Path(line) for line in lines if line]

    def add(self, folder: Path) -> ModelFolder:
        """Examine a folder and add it. Raises RecogniserError if it cannot be used or the list not
        be saved."""
        model = look_into(folder.absolute())
        require_library(model)
        self._keep([*(known for known in self.folders() if known != model.path), model.path])
        return model

    def remove(self, folder: Path) -> None:
        """Remove a folder from the list; it stays on the disk. Raises RecogniserError if the list
        cannot be saved."""
        self._keep([known for known in self.folders() if known != folder])

    def _keep(self, folders: list[Path]) -> None:
        text = "".join(f"{folder}\n" for folder in folders)
        try:
            self._file.parent.mkdir(parents=True, exist_ok=True)
            self._file.write_text(text, encoding="utf-8")
        except OSError as error:
            raise RecogniserError(f"The list of models cannot be kept: {error.strerror}.") from None

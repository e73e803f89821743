"""Where the program keeps what is the person's and belongs to no job."""

from __future__ import annotations

import os
from pathlib import Path

from tamarind.speech.recognisers.shelf import Shelf


def data_home() -> Path:
    """Jobs without a place of their own and models, by the XDG base directory specification."""
    base = os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share"
    return Path(base) / "tamarind"


def config_home() -> Path:
    """What the person has set for all jobs."""
    base = os.environ.get("XDG_CONFIG_HOME") or Path.home() / ".config"
    return Path(base) / "tamarind"


def models_home() -> Path:
    """Where models that are fetched lie."""
    return data_home() / "models"


def shelf() -> Shelf:
    """The model folders that the person has added."""
    return Shelf(data_home() / "models.txt")

"""Where a person's models lie."""

from __future__ import annotations

from pathlib import Path

from tamarind.speech.recognisers.shelf import Shelf
from tamarind.system.folders import data_home


def models_home() -> Path:
    """Where models that are fetched lie."""
    return data_home() / "models"


def shelf() -> Shelf:
    """The model folders that the person has added."""
    return Shelf(data_home() / "models.txt")

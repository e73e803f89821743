"""The program's own folders, by the XDG base directory specification."""

from __future__ import annotations

from pathlib import Path

from platformdirs import PlatformDirs

_OURS = PlatformDirs("tamarind", appauthor=False)


def cache_home() -> Path:
    """Return the folder for derived data, which may be deleted at any time."""
    return _OURS.user_cache_path


def data_home() -> Path:
    """Return the folder for models, styles, and jobs without a place of their own."""
    return _OURS.user_data_path


def config_home() -> Path:
    """Return the folder for the person's settings."""
    return _OURS.user_config_path


def state_home() -> Path:
    """Return the folder for the log and rescued jobs."""
    return _OURS.user_state_path

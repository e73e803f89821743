"""Where the program keeps what belongs to no job, by the XDG base directory specification."""

from __future__ import annotations

from pathlib import Path

from platformdirs import PlatformDirs

_OURS = PlatformDirs("tamarind", appauthor=False)


def cache_home() -> Path:
    """Derived data, which may be deleted at any time."""
    return _OURS.user_cache_path


def data_home() -> Path:
    """Jobs without a place of their own, models, house styles."""
    return _OURS.user_data_path


def config_home() -> Path:
    """What the person has set for all jobs."""
    return _OURS.user_config_path


def state_home() -> Path:
    """The log, and what was saved of jobs whose own place could not be written."""
    return _OURS.user_state_path

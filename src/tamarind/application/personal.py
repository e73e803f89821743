"""The person's settings for all jobs, in one small JSON file in the configuration folder."""

from __future__ import annotations

import contextlib
import json
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

from tamarind.system.files import write_whole
from tamarind.system.folders import config_home

FILE = "settings.json"
UNREAD = "settings.unread.json"
"""What could not be read is kept under this name once something is set."""

Value = TypeVar("Value")


@dataclass(frozen=True, slots=True)
class Personal(Generic[Value]):
    """A setting: its key, and the default of the same type."""

    key: str
    default: Value


DARK = Personal("dark", False)
HIGH_CONTRAST = Personal("high contrast", False)
SMALL_CARDS = Personal("a line for each recording", False)
SOUND_GB: Personal[float] = Personal("sound gb", 20.0)
KEYS: Personal[dict[str, Any]] = Personal("keys", {})
PEDALS: Personal[dict[str, Any]] = Personal("pedals", {})
RECENT_LANGUAGES: Personal[list[Any]] = Personal("recent languages", [])
RECENT_JOBS: Personal[list[Any]] = Personal("recent jobs", [])
MENU_BAR = Personal("menu bar", True)
OPEN_FOLDS: Personal[list[Any]] = Personal("open folds", [])
"""Names of folded settings that are shown."""

WINDOW_PLACES: Personal[dict[str, Any]] = Personal("window places", {})


def read(setting: Personal[Value]) -> Value:
    """Return the value of a setting, or its default."""
    value = _all().get(setting.key, setting.default)
    return value if isinstance(value, type(setting.default)) else setting.default


def keep(setting: Personal[Value], value: Value) -> None:
    """Keep a value; if the folder cannot be written, only until the program ends."""
    with contextlib.suppress(OSError):
        config_home().mkdir(parents=True, exist_ok=True)
        if problem():
            # It may be put right by hand.
            (config_home() / FILE).replace(config_home() / UNREAD)
        data = json.dumps({**_all(), setting.key: value}, indent=1, ensure_ascii=False)
        write_whole(config_home() / FILE, data.encode())


def problem() -> str:
    """Return a sentence on why the settings cannot be read; "" if they can, or there are none."""
    try:
        data = json.loads((config_home() / FILE).read_text("utf-8"))
    except FileNotFoundError:
        return ""
    except (OSError, ValueError) as error:
        said = getattr(error, "strerror", None) or "it is no JSON"
        return f"Your settings for all jobs, “{config_home() / FILE}”, cannot be read: {said}."
    if isinstance(data, dict):
        return ""
    return f"Your settings for all jobs, “{config_home() / FILE}”, cannot be read."


def _all() -> dict[str, Any]:
    try:
        data = json.loads((config_home() / FILE).read_text("utf-8"))
    except (OSError, ValueError):
        return {}
    return data if isinstance(data, dict) else {}

"""What the person has set for all jobs: one small JSON file in the configuration folder."""

from __future__ import annotations

import contextlib
import json
from typing import Any, TypeVar

from tamarind.system.files import write_whole
from tamarind.system.folders import config_home

FILE = "settings.json"
Value = TypeVar("Value")


def read(name: str, otherwise: Value) -> Value:
    """A setting; ``otherwise`` where there is none or one of another kind."""
    value = _all().get(name, otherwise)
    return value if isinstance(value, type(otherwise)) else otherwise


def keep(name: str, value: object) -> None:
    """Keep a setting; a folder that cannot be written forgets it at the end of the session."""
    with contextlib.suppress(OSError):
        config_home().mkdir(parents=True, exist_ok=True)
        data = json.dumps({**_all(), name: value}, indent=1, ensure_ascii=False)
        write_whole(config_home() / FILE, data.encode())


def _all() -> dict[str, Any]:
    try:
        data = json.loads((config_home() / FILE).read_text("utf-8"))
    except (OSError, ValueError):
        return {}
    return data if isinstance(data, dict) else {}

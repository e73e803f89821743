"""Every check, in the order in which they are listed."""

from __future__ import annotations

from importlib import import_module

from tamarind.checks.check import Check
from tamarind.language.housestyle import HouseStyle, Level

for _name in ("caption", "sound", "wording", "spelling", "output"):
    import_module(f"tamarind.checks.{_name}checks")

CHECKS = Check.all


def level_of(style: HouseStyle, key: str) -> Level:
    """How much a check counts in a style."""
    return style.levels.get(key, CHECKS[key].level)

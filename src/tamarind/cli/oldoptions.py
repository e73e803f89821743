"""Option names of earlier versions, which work for one more version and say what they are called
now."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import NamedTuple


class Renamed(NamedTuple):
    """The current name of an option, and its values by what they were called."""

    name: str
    values: Mapping[str, str] = {}


_SECTION_END = Renamed("--until")
_STYLE = Renamed("--caption-style")
RENAMED: Mapping[str, Mapping[str, Renamed]] = {
    "transcribe": {
        "--care": Renamed("--quality", {"quick": "fast", "double": "two"}),
        "--to": _SECTION_END,
        "--jobs": Renamed("--workers"),
        "--clean": Renamed("--reduce-noise"),
        "--sensitivity": Renamed(
            "--voice-detection", {"ordinary": "normal", "faint": "sensitive", "clear": "strict"}
        ),
    },
    "convert": {"--look": _STYLE, "--marks": Renamed("--punctuate")},
    "check": {"--mend": Renamed("--fix")},
    "video": {
        "--to": _SECTION_END, "--look": _STYLE, "--list-looks": Renamed("--list-caption-styles")
    },
    "excerpts": {"--look": _STYLE},
}  # fmt: skip


def renamed(command: str, arguments: Sequence[str]) -> tuple[list[str], list[str]]:
    """Return the arguments with current names and values, and a sentence for each old one."""
    known = RENAMED.get(command, {})
    new: list[str] = []
    told: list[str] = []
    values: Mapping[str, str] = {}
    for argument in arguments:
        name, is_joined, value = argument.partition("=")
        if name not in known:
            new.append(values.get(argument, argument))
            values = {}
            continue
        one = known[name]
        told.append(f"{name} is called {one.name} now; the old name goes in the next version.")
        new.append(f"{one.name}={one.values.get(value, value)}" if is_joined else one.name)
        values = {} if is_joined else one.values
    return new, list(dict.fromkeys(told))


def renamed_setting(command: str, name: str, value: object) -> tuple[str, object]:
    """Return the current name and value of a setting in a file."""
    one = RENAMED.get(command, {}).get(f"--{name}")
    if one is None:
        return name, value
    return one.name.removeprefix("--"), one.values.get(str(value), value) if one.values else value

"""Read settings files: options of commands by name, as TOML or JSON."""

from __future__ import annotations

import argparse
import json
import tomllib
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from tamarind.cli.oldoptions import renamed_setting
from tamarind.cli.parser import COMMANDS
from tamarind.system.errors import ToldError
from tamarind.system.files import read_file
from tamarind.system.folders import config_home

LARGEST = 1 << 20
STANDING = "tamarind.toml"


class SettingsError(ToldError):
    """A settings file cannot be used; the message is one sentence."""


def read_settings(path: Path, parser: argparse.ArgumentParser) -> dict[str, Any]:
    """Return what a file sets, by the parser's names. Raises SettingsError."""
    return _settings(path, _read(path), parser)


def standing_settings(command: str, parser: argparse.ArgumentParser) -> dict[str, Any]:
    """Return what ``tamarind.toml`` sets for a command, in a table of its name: the person's file,
    then that of the current folder, which counts more. Raises SettingsError."""
    settings: dict[str, Any] = {}
    for path in (config_home() / STANDING, Path(STANDING)):
        if path.is_file():
            found = _read(path)
            for name in found:
                if name not in COMMANDS:
                    tables = ", ".join(f"[{one}]" for one in COMMANDS)
                    raise SettingsError(f"{path}: “{name}” is no table; there are {tables}.")
            table = found.get(command, {})
            if not isinstance(table, dict):
                raise SettingsError(f"{path}: “{command}” should be a table, [{command}].")
            settings |= _settings(path, table, parser)
    return settings


def _read(path: Path) -> dict[str, Any]:
    try:
        data = read_file(path, LARGEST).decode("utf-8-sig")
        found = json.loads(data) if path.suffix.lower() == ".json" else tomllib.loads(data)
    except OSError as error:
        raise SettingsError(f"{path}: {error.strerror}.") from None
    except (ValueError, RecursionError) as error:
        raise SettingsError(f"{path} is no TOML or JSON: {error}.") from None
    if not isinstance(found, dict):
        raise SettingsError(f"{path} should hold names and values.")
    return found


def _settings(
    path: Path, found: Mapping[str, Any], parser: argparse.ArgumentParser
) -> dict[str, Any]:
    options = {
        option.removeprefix("--"): action
        for action in parser._actions
        for option in action.option_strings
        if option.startswith("--") and option not in ("--help", "--settings")
    }
    settings: dict[str, Any] = {}
    command = parser.prog.rpartition(" ")[2]
    for old, given in found.items():
        name, value = renamed_setting(command, old, given)
        if name not in options:
            known = ", ".join(sorted(options))
            raise SettingsError(f"{path}: “{name}” is no setting; there are {known}.")
        settings[options[name].dest] = _checked(path, name, value, options[name])
    return settings


def _checked(path: Path, name: str, value: Any, action: argparse.Action) -> Any:
    """Check a value as the option of that name would."""
    if action.nargs == 0:
        if isinstance(value, bool):
            return value
        raise SettingsError(f"{path}: “{name}” is true or false.")
    values = value if isinstance(value, list) else [value]
    if any(isinstance(one, dict | bool) for one in values):
        raise SettingsError(f"{path}: “{name}” cannot be {value!r}.")
    texts = [str(one) for one in values]
    for text in texts:
        if action.choices is not None and text not in action.choices:
            known = ", ".join(map(str, action.choices))
            raise SettingsError(f"{path}: “{name}” is one of {known}, not “{text}”.")
    made = [_made(path, name, text, action) for text in texts]
    if isinstance(value, list):
        if not isinstance(action, argparse._AppendAction):
            raise SettingsError(f"{path}: “{name}” is one value, not a list.")
        return made
    return [made[0]] if isinstance(action, argparse._AppendAction) else made[0]


def _made(path: Path, name: str, text: str, action: argparse.Action) -> Any:
    """Return what the option makes of a text."""
    if not callable(action.type):
        return text
    try:
        return action.type(text)
    except argparse.ArgumentTypeError as error:
        raise SettingsError(f"{path}: “{name}” cannot be “{text}”: {error}") from None
    except (ValueError, TypeError):
        raise SettingsError(f"{path}: “{name}” cannot be “{text}”.") from None

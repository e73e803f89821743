"""The options of the commands that are about the program itself."""

from __future__ import annotations

import argparse
from pathlib import Path


def add_models(command: argparse.ArgumentParser) -> None:
    """Those of ``tamarind models``."""
    command.add_argument(
        "act", nargs="?", choices=("list", "fetch", "remove", "measure"), default="list"
    )
    command.add_argument("name", nargs="?", metavar="NAME", help="as the list has it")


def add_desktop(command: argparse.ArgumentParser) -> None:
    """Those of ``tamarind desktop``."""
    which = command.add_mutually_exclusive_group(required=True)
    which.add_argument("--install", action="store_true", help="put them in place")
    which.add_argument("--remove", action="store_true", help="take them away")
    command.add_argument("--for-all", action="store_true", help="for everybody on this computer")


def add_completion(command: argparse.ArgumentParser) -> None:
    """Those of ``tamarind completion``."""
    command.add_argument("shell", choices=("bash", "zsh", "tcsh"))


def add_manual(command: argparse.ArgumentParser) -> None:
    """Those of ``tamarind manual``."""
    command.add_argument("folder", type=Path, metavar="DIR", help="where to")

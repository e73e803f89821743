"""Put texts into other languages."""

from __future__ import annotations

import argparse
from pathlib import Path

from tamarind.cli.options import add_encoding_of_in, add_files, language
from tamarind.language.stylebook import SHIPPED


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    add_files(command, at_least="*")
    command.add_argument(
        "--to", action="append", type=language, metavar="LANGUAGE", help="again for more"
    )
    command.add_argument("--list", action="store_true", help="tell what translates what")
    command.add_argument(
        "--add", type=Path, metavar="FOLDER|ZIP", help="take a translation model from now on"
    )
    command.add_argument(
        "--fetch",
        metavar="PAIR",
        help="download the model of a pair, such as en-ca; “?” lists them",
    )
    command.add_argument(
        "--glossary", type=Path, metavar="FILE", help="“term = translation” a line, or what stays"
    )
    command.add_argument(
        "--memory", type=Path, metavar="FILE", help="sentences translated before, as TMX"
    )
    command.add_argument(
        "--engine",
        metavar="NAME",
        help="one that the route goes over; “server” asks the server that you have named (best)",
    )
    command.add_argument(
        "--by", metavar="ROUTE", help="direct, or the languages on the way, such as pt (best)"
    )
    command.add_argument(
        "--style",
        metavar="NAME|FILE",
        help=f"house style of the translation: {', '.join(SHIPPED)}, or a file",
    )
    command.add_argument("--language", type=language, metavar="LANGUAGE", help="if IN does not say")
    add_encoding_of_in(command)


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.translate import translate

    return translate(options)

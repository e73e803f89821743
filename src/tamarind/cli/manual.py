"""Make the manual pages in roff from the commands' help: one for all and one for each command."""

from __future__ import annotations

import argparse
from collections.abc import Iterator, Mapping

from tamarind import __version__
from tamarind.cli.parser import COMMANDS

NAME = "tamarind"


def pages(
    parser: argparse.ArgumentParser, commands: Mapping[str, argparse.ArgumentParser]
) -> dict[str, str]:
    """Return the texts of the manual pages by file name."""
    about = parser.description or ""
    listed = "".join(
        f".TP\n.BR {NAME}\\-{name} (1)\n{_escaped(COMMANDS[name].about)}\n" for name in commands
    )
    examples = (parser.epilog or "").strip("\n")
    whole = (
        _head(NAME, "recorded speech becomes proofed, timed text")
        + f".SH SYNOPSIS\n.B {NAME}\n[JOB|RECORDING]\n.br\n.B {NAME}\nCOMMAND ...\n"
        + f".SH DESCRIPTION\n{_escaped(about)}\n.SH COMMANDS\n{listed}"
        + f".SH NOTES\n.nf\n{_escaped(examples)}\n.fi\n"
    )
    result = {f"{NAME}.1": whole}
    for name, command in commands.items():
        usage = command.format_usage().removeprefix("usage: ")
        result[f"{NAME}-{name}.1"] = (
            _head(f"{NAME}-{name}", COMMANDS[name].about)
            + f".SH SYNOPSIS\n.nf\n{_escaped(usage.strip())}\n.fi\n"
            + ".SH OPTIONS\n"
            + "".join(_options(command))
            + f".SH SEE ALSO\n.BR {NAME} (1)\n"
        )
    return result


def _head(name: str, about: str) -> str:
    return (
        f'.TH {name.upper()} 1 "" "Tamarind {__version__}" "Tamarind"\n'
        f".SH NAME\n{_escaped(name)} \\- {_escaped(about)}\n"
    )


def _options(command: argparse.ArgumentParser) -> Iterator[str]:
    for action in command._actions:
        if action.help == argparse.SUPPRESS:
            continue
        value = action.metavar if isinstance(action.metavar, str) else ""
        if not value and action.choices is not None:
            value = "|".join(map(str, action.choices))
        names = ", ".join(action.option_strings) or value
        shown = f"{names} {value}" if action.option_strings and value else names
        yield f".TP\n.B {_escaped(shown)}\n{_escaped(action.help or '')}\n"


def _escaped(text: str) -> str:
    """Escape a text so that nothing in it is taken for roff."""
    text = text.replace("\\", "\\e").replace("-", "\\-")
    lines = (f"\\&{line}" if line[:1] in (".", "'") else line for line in text.split("\n"))
    return "\n".join(lines)

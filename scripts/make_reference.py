"""Write what the documents take from the code: keys, rules of a
house style, what each module is for, JSON Schemas.

    .venv/bin/python scripts/make_reference.py [--check]

With ``--check`` nothing is written; ends with 1 if a file is not as it should be.
"""

import ast
import json
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import tamarind.desktop.window  # noqa: F401 - all commands are declared in what it imports
from tamarind.captions.limits import Limits
from tamarind.checks.catalogue import CHECKS
from tamarind.cli.parser import COMMANDS, make_parser
from tamarind.desktop.commands import listed
from tamarind.desktop.keys import Keys
from tamarind.formats.data import everything
from tamarind.formats.documents import FORMATS
from tamarind.formats.reading.paragraphs import TextOptions
from tamarind.job import client
from tamarind.language import housestyle
from tamarind.language.housestyle import Wording
from tamarind.picture import looks
from tamarind.system.declared import Entry, Option, options_of

DOCS = Path(__file__).parent.parent / "docs"
GUIDE = DOCS / "guide"
SOURCE = DOCS.parent / "src" / "tamarind"
RULES_PAGE = GUIDE / "house-style-rules.md"
BEGINS, ENDS = "<!-- made by scripts/make_reference.py -->", "<!-- end -->"
HEAD = "| rule | in a file | values | default |"
PARTS = (("Captions", Limits), ("Transcript", TextOptions), ("Wording", Wording))


def keys() -> str:
    """Return a table with a line for each command of the window."""
    lines = ["| act | key |", "|---|---|"]
    for group, rows in listed(Keys().of).items():
        lines.append(f"| **{group}** | |")
        for text, keys, _ in rows:
            quoted = " or ".join(f"`{key}`" for key in keys.split("  or  "))
            lines.append(f"| {text} | {'–' if keys == '–' else quoted} |")
    return "\n".join(lines)


def formats() -> str:
    """Return a table of the formats, what is read and written, and what each can hold."""
    lines = ["| format | suffixes | | holds, besides text and times |", "|---|---|---|---|"]
    for one in FORMATS:
        does = [
            *(["read"] if one.read is not None or one.read_data is not None else []),
            *(["written"] if one.write is not None else []),
        ]
        suffixes = ", ".join(f"`.{suffix}`" for suffix in one.suffixes)
        held = ", ".join(sorted(one.holds)) or "–"
        lines.append(f"| {one.label} | {suffixes} | {', '.join(does)} | {held} |")
    return "\n".join(lines)


def commands() -> str:
    """Return a section for each command of the program, with its options."""
    lines: list[str] = []
    parsers = make_parser(*COMMANDS)[1]
    for name, one in COMMANDS.items():
        lines += [f"## tamarind {name}", "", f"{one.about[:1].upper()}{one.about[1:]}.", ""]
        lines += ["| option | what it does |", "|---|---|"]
        for action in parsers[name]._actions:
            if action.dest in ("help", "quiet", "verbose", "log_level"):
                continue
            named = ", ".join(f"`{flag}`" for flag in action.option_strings)
            about = (action.help or "").replace("|", "\\|")
            lines.append(f"| {named or f'`{action.metavar or action.dest}`'} | {about} |")
        lines.append("")
    return "\n".join(lines).rstrip()


def rules() -> str:
    """Return a table with a line for each rule of a house style, and one for each check."""
    lines: list[str] = []
    for title, kind in PARTS:
        lines += [f"## {title}", "", HEAD, "|---|---|---|---|"]
        part = f"{title.casefold()}."
        lines += [
            f"| {one.section}: {one.label} | `{part}{one.name}` | {_values(one)} "
            f"| {_shown(one, one.default)} |"
            for one in options_of(kind).values()
        ]
        lines.append("")
    lines += ["## Checks", "", "| check | in a file | usually |", "|---|---|---|"]
    lines += [
        f"| {rule.title.capitalize()} | `checks.{rule.key}` | {rule.level} |"
        for rule in CHECKS.values()
    ]
    return "\n".join(lines)


def modules(room: str) -> str:
    """Return a table with the first line of each module of a room."""
    top = SOURCE / room
    lines = ["| file | what it is |", "|---|---|"]
    for path in sorted(top.rglob("*.py"), key=lambda one: (one.parent, one.name)):
        told = ast.get_docstring(ast.parse(path.read_text("utf-8"))) or ""
        name = str(path.relative_to(top)).replace("__init__.py", "")
        first = " ".join(told.split("\n\n")[0].split())
        if name:
            lines.append(f"| `{name}` | {first} |")
    return "\n".join(lines)


def _values(one: Option) -> str:
    if one.values.choices is not None:
        kept = ((words, _in_file(value)) for words, value in one.values.choices.items())
        return ", ".join(f"`{value}` ({words})" for words, value in kept)
    if one.values.entry is Entry.TICK:
        return "yes, no"
    if one.values.bounds is None:
        return "words"
    low, high = (_shown(one, bound) for bound in one.values.bounds)
    return f"{low} to {high}"


def _in_file(value: Any) -> str:
    """Return a value as JSON has it, without quotes."""
    return json.dumps(value, ensure_ascii=False).strip('"')


def _shown(one: Option, value: Any) -> str:
    """Return a value as the editor shows it."""
    if one.values.choices is not None:
        return next(words for words, choice in one.values.choices.items() if choice == value)
    if one.values.entry is Entry.TICK:
        return "yes" if value else "no"
    if one.values.entry is Entry.SECONDS:
        return f"{value / 1000:g} s"
    if isinstance(value, tuple):
        return ", ".join(value) or "none"
    number = f"{value:g}" if isinstance(value, float) else str(value)
    return f"{number} {one.unit}".strip()


def _between(text: str, made: str) -> str:
    before, rest = text.split(BEGINS, 1)
    return f"{before}{BEGINS}\n{made}\n{ENDS}{rest.split(ENDS, 1)[1]}"


def _schema(schema: object) -> str:
    return json.dumps(schema, indent=1, ensure_ascii=False) + "\n"


def files() -> Iterator[tuple[Path, str]]:
    """Yield each file that is made, or has a part that is, with its text."""
    for name, made in (("keys", keys), ("formats", formats), ("command-line", commands)):
        page = GUIDE / f"{name}.md"
        yield page, _between(page.read_text("utf-8"), made())
    yield RULES_PAGE, _between(RULES_PAGE.read_text("utf-8"), rules())
    for page in sorted((DOCS / "rooms").glob("*.md")):
        yield page, _between(page.read_text("utf-8"), modules(page.stem))
    folder = DOCS / "schemas"
    yield folder / "transcript.schema.json", _schema(everything.schema())
    yield folder / "house-style.schema.json", _schema(housestyle.schema())
    yield folder / "look.schema.json", _schema(looks.schema())
    yield folder / "client.schema.json", _schema(client.schema())


def main() -> int:
    """Write or check."""
    stale = [(path, text) for path, text in files() if path.read_text("utf-8") != text]
    if "--check" in sys.argv[1:]:
        return int(bool(stale))
    for path, text in stale:
        path.write_text(text, "utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())

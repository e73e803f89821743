"""Write the table of keys in the README anew, from what the commands declare.

    .venv/bin/python scripts/make_key_table.py [--check]

With ``--check`` nothing is written; ends with 1 if the table is not as it should be.
"""

import sys
from pathlib import Path

import tamarind.desktop.window  # noqa: F401 - all commands are declared in what it imports
from tamarind.desktop.commands import listed
from tamarind.desktop.keys import Keys

README = Path(__file__).parent.parent / "README.md"
BEGINS, ENDS = "<!-- keys: made by scripts/make_key_table.py -->", "<!-- end of keys -->"


def table() -> str:
    """All keys as they come, a table with a line for each command."""
    lines = ["| act | key |", "|---|---|"]
    for group, rows in listed(Keys().of).items():
        lines.append(f"| **{group}** | |")
        for text, keys, _ in rows:
            quoted = " or ".join(f"`{key}`" for key in keys.split("  or  "))
            lines.append(f"| {text} | {'–' if keys == '–' else quoted} |")
    return "\n".join(lines)


def renewed(text: str) -> str:
    """The README with the table as it should be."""
    before, rest = text.split(BEGINS, 1)
    after = rest.split(ENDS, 1)[1]
    return f"{before}{BEGINS}\n{table()}\n{ENDS}{after}"


def main() -> int:
    """Write or check."""
    text = README.read_text("utf-8")
    new = renewed(text)
    if "--check" in sys.argv[1:]:
        return int(new != text)
    README.write_text(new, "utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())

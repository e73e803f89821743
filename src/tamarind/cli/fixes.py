"""``tamarind check --fix``: apply certain fixes, or show them first."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from tamarind.captions.lines import with_breaks
from tamarind.checks import manyfixes
from tamarind.checks.catalogue import CHECKS
from tamarind.checks.check import CheckContext
from tamarind.cli.output import harmless, tell
from tamarind.cli.statuses import UseError
from tamarind.formats import documents
from tamarind.formats.encoding import Bytes
from tamarind.formats.format import Options
from tamarind.formats.timecode import clock
from tamarind.system.files import write_whole
from tamarind.transcript.model import Transcript

ALL = "all"
KEPT = ".before-mending"


def kinds_in(names: Sequence[str]) -> tuple[str, ...]:
    """Return rules by their keys. Raises UseError for an unknown one."""
    certain = [rule.key for rule in CHECKS.values() if rule.certain]
    if ALL in names:
        return tuple(certain)
    for name in names:
        if name not in CHECKS:
            raise UseError(f"“{name}” is no kind of finding; there are {', '.join(CHECKS)}, {ALL}.")
        if name not in certain:
            raise UseError(
                f"What is told of “{name}” is a guess: fix it one by one in the window."
                f" Many at once are fixed of {', '.join(certain)}."
            )
    return tuple(names)


def fixed_by_kinds(
    text: Transcript, context: CheckContext, kinds: Sequence[str]
) -> tuple[Transcript, list[str]]:
    """Return the text with all certain fixes of these rules, and each change in words, before and
    after."""
    new, changes = manyfixes.fixed_by_kinds(text, context, kinds)
    return new, [
        f"{clock(time)}  {CHECKS[kind].title}\n{_lines('- ', before)}{_lines('+ ', after)}"
        for time, kind, before, after in changes
    ]


def write_back(path: Path, text: Transcript, read: documents.Read, context: CheckContext) -> None:
    """Replace a file by the fixed text, keeping the old file beside it. Raises OSError,
    FormatError."""
    suffix = documents.suffix_of(path)
    encoding = Bytes(read.decoded.encoding)
    ways = Options(context.style.transcript, bytes=encoding, timecodes=read.timecodes)
    data = documents.write(suffix, with_breaks(text, context.style.captions), read.source, ways)
    kept = path.with_name(f"{path.stem}{KEPT}{path.suffix}")
    if not kept.exists():
        write_whole(kept, path.read_bytes())
    write_whole(path, data)
    tell(f"{path}: fixed; the file as it was is in {kept.name}.")


def listed(changes: Sequence[str]) -> str:
    """Return the changes as lines to show."""
    return "".join(map(harmless, changes))


def _lines(mark: str, text: str) -> str:
    return "".join(f"    {mark}{line}\n" for line in text.split("\n") if line)

"""The option ``--second`` of ``tamarind convert``: a second language in the same file."""

from __future__ import annotations

import argparse
from collections.abc import Iterable, Sequence
from pathlib import Path

from tamarind.cli.output import tell
from tamarind.cli.statuses import UseError
from tamarind.cli.textfiles import TextFile
from tamarind.formats import documents
from tamarind.formats.format import FormatOption
from tamarind.system.files import shown
from tamarind.transcript.languages import base_of, tag_of
from tamarind.transcript.model import Transcript

BESIDE = FormatOption.SIDE_BY_SIDE


def second_captions(files: Sequence[TextFile], options: argparse.Namespace) -> Transcript | None:
    """Return the captions in the second language, or None if none are named. Raises UseError and
    FormatError."""
    if options.second is None:
        return None
    if len({file.source for file in files}) > 1:
        raise UseError("--second belongs to one text.")
    check_second({file.suffix for file in files}, options)
    path = Path(options.second)
    if not path.exists():
        raise UseError(f"There is no file “{shown(str(path))}” for --second.")
    suffixes = [one.suffix.lower().lstrip(".") for one in (path, files[0].source)]
    if not all(map(documents.is_captions, suffixes)):
        raise UseError("--second takes captions, whose times tell what belongs together.")
    read = documents.read(path, None, options.from_encoding)
    for sentence in read.repairs:
        tell(f"{shown(str(path))}: {sentence}")
    return read.transcript


def second_language(options: argparse.Namespace, languages: Iterable[str]) -> str | None:
    """Return the second language as a job with texts in these has it, or None if none is named.
    Raises UseError."""
    if options.second is None:
        return None
    tag = tag_of(options.second)
    if tag is None:
        raise UseError(f"Unknown language “{options.second}” after --second.")
    there = [one for one in languages if base_of(one) == base_of(tag)]
    if not there:
        raise UseError(f"The job has no text in “{options.second}”.")
    return tag if tag in there else there[0]


def check_second(suffixes: Iterable[str], options: argparse.Namespace) -> None:
    """Raise UseError for formats and options that two languages do not go with."""
    if options.roll_up or options.lay_out or options.sound or options.punctuate:
        raise UseError(
            "Captions in two languages stay as they are cut: leave out --lay-out, --roll-up,"
            " --sound and --punctuate."
        )
    for suffix in suffixes:
        if not documents.is_captions(suffix) and not documents.offer([suffix], BESIDE):
            raise UseError(
                f"A .{suffix} file holds one language: with --second write captions, .docx, .odt,"
                " .html or .pdf."
            )

"""Commands about the program itself: launcher, completion, manual pages."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from tamarind.cli.manual import pages
from tamarind.cli.output import tell, told
from tamarind.cli.parser import COMMANDS, make_parser
from tamarind.cli.statuses import DONE, SOME_FAILED


def completion(options: argparse.Namespace) -> int:
    """Print the shell's completion script."""
    import shtab

    print(shtab.complete(make_parser(*COMMANDS)[0], options.shell))
    return DONE


def manual(options: argparse.Namespace) -> int:
    """Write the manual pages."""
    try:
        options.folder.mkdir(parents=True, exist_ok=True)
        for name, text in pages(*make_parser(*COMMANDS)).items():
            (options.folder / name).write_text(text, encoding="utf-8")
    except OSError as error:
        return told(f"{options.folder}: {error.strerror}.", SOME_FAILED)
    return DONE


def desktop(options: argparse.Namespace) -> int:
    """Install the launcher, or remove it."""
    from tamarind.launcher.install import install, remove, share_folder

    share = share_folder(options.for_all)
    manuals = pages(*make_parser(*COMMANDS))
    try:
        if options.remove:
            gone = remove(share, manuals)
            tell(f"removed: {len(gone)} files below {share}." if gone else "nothing was there.")
        else:
            program = Path(sys.argv[0])
            is_program = program.name == "tamarind" and program.is_file()
            command = (
                [str(program.absolute())] if is_program else [sys.executable, "-m", "tamarind"]
            )
            written = install(share, command, manuals)
            tell(f"in place: {len(written)} files below {share}. Look for “Tamarind” in the menu.")
    except OSError as error:
        return told(f"{error.filename or share}: {error.strerror}.", SOME_FAILED)
    return DONE

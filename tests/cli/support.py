"""The command as it is used: called in this process, or in one of its own where that matters."""

import contextlib
import io
import os
import subprocess
import sys

from tamarind.cli.main import main
from tests.support import FolderTest

PRETENDED = ("--recogniser", "pretended")


class CommandTest(FolderTest):
    pretends = False
    """Whether hearing is left to the stand-in, where it is not what is tried."""

    own_process = False
    """Whether the command has a process for itself, which takes a second more."""

    def run_command(self, *arguments: object, text: str = "") -> tuple[int, str, str]:
        """Its status, what it wrote, and what it said; ``text`` is its standard input."""
        if self.pretends and "transcribe" in arguments and "--recogniser" not in arguments:
            arguments = (*arguments, *PRETENDED)
            if "--speakers" not in arguments:
                arguments = (*arguments, "--speakers", "off")
        if self.own_process:
            return self.run_process(*arguments, text=text)
        return called(self.folder, *arguments, text=text)

    def run_process(self, *arguments: object, text: str = "") -> tuple[int, str, str]:
        """As ``run_command``, in a process of its own."""
        done = subprocess.run(
            [sys.executable, "-m", "tamarind", *map(str, arguments)],
            input=text,
            capture_output=True,
            text=True,
            env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
            cwd=self.folder,
            timeout=120,
            check=False,
        )
        return done.returncode, done.stdout, done.stderr


def called(folder: object, *arguments: object, text: str = "") -> tuple[int, str, str]:
    """The command within this process, in a folder: status, output, and what was said."""
    streams = [io.TextIOWrapper(io.BytesIO(), "utf-8", write_through=True) for _ in range(2)]
    given = io.TextIOWrapper(io.BytesIO(text.encode()), "utf-8")
    before = sys.stdin
    sys.stdin = given
    try:
        with (
            contextlib.chdir(str(folder)),
            contextlib.redirect_stdout(streams[0]),
            contextlib.redirect_stderr(streams[1]),
        ):
            try:
                status = main([*map(str, arguments)])
            except SystemExit as ended:
                status = ended.code if isinstance(ended.code, int) else 0
    finally:
        sys.stdin = before
    out, said = (one.buffer.getvalue().decode("utf-8", "replace") for one in streams)
    return status, out, said

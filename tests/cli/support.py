"""The command in a process of its own, as it is used."""

import os
import subprocess
import sys

from tests.support import FolderTest

PRETENDED = ("--recogniser", "pretended")


class CommandTest(FolderTest):
    pretends = False
    """Whether hearing is left to the stand-in, where it is not what is tried."""

    def run_command(self, *arguments: object) -> tuple[int, str, str]:
        if self.pretends and "transcribe" in arguments and "--recogniser" not in arguments:
            arguments = (*arguments, *PRETENDED)
        done = subprocess.run(
            [sys.executable, "-m", "tamarind", *map(str, arguments)],
            capture_output=True,
            text=True,
            env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
            cwd=self.folder,
            timeout=120,
            check=False,
        )
        return done.returncode, done.stdout, done.stderr

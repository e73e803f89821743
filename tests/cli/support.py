"""The command in a process of its own, as it is used."""

import os
import subprocess
import sys

from tests.support import FolderTest


class CommandTest(FolderTest):
    def run_command(self, *arguments):
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

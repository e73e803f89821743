"""Keep the computer from sleeping while a batch runs, where the system allows."""

from __future__ import annotations

import contextlib
import shutil
import subprocess
from collections.abc import Sequence

COMMAND = (
    "systemd-inhibit",
    "--what=sleep:idle",
    "--who=Tamarind",
    "--why=Recordings are being transcribed",
    "--mode=block",
    "cat",
)
"""It holds the system awake as long as ``cat`` reads, which ends with the program that feeds it."""


class Awake:
    """An inhibition of sleep from ``hold`` to ``let_go``; it ends with the process too."""

    def __init__(self, command: Sequence[str] = COMMAND) -> None:
        self._command = command
        self._holder: subprocess.Popen[bytes] | None = None

    @property
    def held(self) -> bool:
        """Whether sleep is inhibited."""
        return self._holder is not None and self._holder.poll() is None

    def hold(self) -> None:
        """Inhibit sleep from now on."""
        if self.held or shutil.which(self._command[0]) is None:
            return
        with contextlib.suppress(OSError):
            self._holder = subprocess.Popen(
                self._command,
                stdin=subprocess.PIPE,
                stdout=subprocess.DEVNULL,
                stderr=subprocess.DEVNULL,
            )

    def let_go(self) -> None:
        """Allow sleep again."""
        if self._holder is not None:
            if self._holder.stdin is not None:
                self._holder.stdin.close()
            with contextlib.suppress(subprocess.TimeoutExpired):
                self._holder.wait(0.2)
            if self._holder.poll() is None:
                self._holder.kill()
                self._holder.wait()
        self._holder = None

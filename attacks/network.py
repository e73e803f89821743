"""Everything that Tamarind does, where every attempt to reach the network is seen."""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

from attacks import quietplace
from attacks.verdicts import Verdict

PATIENCE_S = 1_200
PARTS = 6
"""Five commands and the window."""
DONE = ("status 0", "status 1 check", "window")
"""How the line of one begins; a text of which a part was heard breaks rules."""


def attack(_seed: int, seconds: float) -> Verdict:
    """Use all of it for at least so many seconds; every part that was done counts as a try."""
    verdict = Verdict("network attempts", "nothing leaves the computer")
    if not quietplace.is_possible():
        verdict.skipped = "this machine lets nobody make a network of their own"
        return verdict
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as folder:
        command = [sys.executable, "-m", "attacks.everything", folder, str(seconds)]
        seen = quietplace.watched(command, seconds + PATIENCE_S)
        lines = seen.said.splitlines()
        done = [line for line in lines if line.startswith(DONE)]
        rounds = next((int(line.split()[1]) for line in lines if line.startswith("rounds ")), 0)
        for _ in done:
            verdict.held("in peace")
        if seen.status != 0 or not rounds or len(done) != PARTS * rounds:
            verdict.failed(f"status {seen.status}, {len(done)} done: {seen.said[-800:]}")
        for attempt in seen.attempts:
            verdict.failed(attempt)
        for call in seen.sockets:
            verdict.failed(f"made a socket: {call}")
        left = [path for path in Path(folder).rglob("*onnxruntime*") if path.is_dir()]
        for path in left:
            verdict.failed(f"left {path.name} in the person's folder")
        if not seen.traced:
            verdict.outcomes["without strace, by its packets alone"] = len(done)
    return verdict

"""Running tests: some of them here, or all modules shared out among the cores."""

from __future__ import annotations

import faulthandler
import io
import multiprocessing
import os
import time
import unittest
from concurrent.futures import ProcessPoolExecutor, as_completed
from dataclasses import dataclass
from pathlib import Path

TOP = Path(__file__).parent
LONGEST = (
    "test_commands", "test_attacks", "test_promises", "test_intake", "test_every_command",
    "test_crew", "test_never_lost", "test_saving", "test_house_style",
    "test_terms", "test_recogniser",
    "test_voices", "test_hearing", "test_proof", "test_recognisers", "test_alignment",
)  # fmt: skip
HANGS_S = 1500


@dataclass
class Outcome:
    """What came of some tests."""

    run: int = 0
    failed: int = 0
    skipped: int = 0
    text: str = ""
    seconds: float = 0.0

    def add(self, other: Outcome) -> None:
        """Count others too."""
        self.run += other.run
        self.failed += other.failed
        self.skipped += other.skipped


def run(suite: unittest.TestSuite, stream: io.TextIOBase | None = None) -> Outcome:
    """Run tests, telling of them on a stream."""
    # A test that hangs tells where, long before anyone stops it from outside.
    faulthandler.dump_traceback_later(HANGS_S, exit=True)
    result = unittest.TextTestRunner(stream=stream, verbosity=1).run(suite)
    faulthandler.cancel_dump_traceback_later()
    failed = len({test for test, _ in result.failures + result.errors})
    failed += len(result.unexpectedSuccesses)
    for test, reason in result.skipped:
        print(f"skipped {test}: {reason}")
    return Outcome(result.testsRun, failed, len(result.skipped))


def run_module(name: str) -> Outcome:
    """All tests of a module, in a process that may have run others before."""
    stream = io.StringIO()
    began = time.monotonic()
    outcome = run(unittest.defaultTestLoader.loadTestsFromName(name), stream)
    outcome.text = stream.getvalue()
    outcome.seconds = time.monotonic() - began
    return outcome


def run_all() -> Outcome:
    """All modules, as many side by side as there are cores."""
    paths = sorted(TOP.rglob("test_*.py"))
    order = {name: place for place, name in enumerate(LONGEST)}
    paths.sort(key=lambda path: order.get(path.stem, len(order)))
    names = [".".join(path.relative_to(TOP.parent).with_suffix("").parts) for path in paths]
    total = Outcome()
    context = multiprocessing.get_context("spawn")
    with ProcessPoolExecutor(len(os.sched_getaffinity(0)), context) as pool:
        coming = {pool.submit(run_module, name): name for name in names}
        for future in as_completed(coming):
            name = coming[future]
            error = future.exception()
            if error is not None:
                print(f"{name}: its process ended: {error}")
                total.add(Outcome(1, 1))
                continue
            outcome = future.result()
            counts = f"{outcome.run} run, {outcome.failed} failed"
            print(f"{name}: {counts}, {outcome.seconds:.0f} s", flush=True)
            if outcome.failed:
                print(outcome.text, flush=True)
            total.add(outcome)
    return total

"""Running tests: some of them here, or all classes shared out among the cores."""

from __future__ import annotations

import faulthandler
import io
import json
import multiprocessing
import os
import time
import unittest
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor, as_completed
from dataclasses import dataclass, field
from pathlib import Path

TOP = Path(__file__).parent
DURATIONS = TOP / "durations.json"
"""Seconds of each class as they were measured once; the longest are begun first."""

UNKNOWN_S = 5.0
BESIDES = 1
"""So many more processes than cores: many tests wait for a time, or for a disk."""
HANGS_S = 1500


@dataclass
class Outcome:
    """What came of some tests; ``durations`` are seconds by the name of each."""

    run: int = 0
    failed: int = 0
    skipped: int = 0
    text: str = ""
    durations: dict[str, float] = field(default_factory=dict)

    def add(self, other: Outcome) -> None:
        """Count others too."""
        self.run += other.run
        self.failed += other.failed
        self.skipped += other.skipped
        self.durations |= other.durations


class _Result(unittest.TextTestResult):
    """Measures each test, with what is done before and after it."""

    durations: dict[str, float]

    def startTestRun(self) -> None:
        self.durations = {}

    def startTest(self, test: unittest.TestCase) -> None:
        self._began = time.monotonic()
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:
        super().stopTest(test)
        self.durations[test.id()] = time.monotonic() - self._began


def run(suite: unittest.TestSuite, stream: io.TextIOBase | None = None) -> Outcome:
    """Run tests, telling of them on a stream."""
    # A test that crashes tells where; one that hangs too, long before anyone stops it from outside.
    faulthandler.enable()
    faulthandler.dump_traceback_later(HANGS_S, exit=True)
    runner = unittest.TextTestRunner(stream=stream, verbosity=1)
    runner.resultclass = _Result  # type: ignore[assignment]
    result = runner.run(suite)
    faulthandler.cancel_dump_traceback_later()
    failed = len({test for test, _ in result.failures + result.errors})
    failed += len(result.unexpectedSuccesses)
    for test, reason in result.skipped:
        print(f"skipped {test}: {reason}")
    durations = result.durations if isinstance(result, _Result) else {}
    return Outcome(result.testsRun, failed, len(result.skipped), durations=durations)


def discovered(patterns: list[str]) -> unittest.TestSuite:
    """The tests whose names fit one of the patterns, or all."""
    loader = unittest.TestLoader()
    if patterns:
        loader.testNamePatterns = [f"*{pattern}*" for pattern in patterns]
    return loader.discover(str(TOP), top_level_dir=str(TOP.parent))


def run_class(name: str) -> Outcome:
    """All tests of a class, in a process that may have run others before."""
    stream = io.StringIO()
    outcome = run(unittest.defaultTestLoader.loadTestsFromName(name), stream)
    outcome.text = stream.getvalue()
    return outcome


def run_all() -> Outcome:
    """All classes, some side by side."""
    # Threads of a library, each of which takes a core to wait on, would stand in each other's way.
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    known: dict[str, float] = json.loads(DURATIONS.read_text()) if DURATIONS.exists() else {}
    names = sorted(_classes(discovered([])), key=lambda name: -known.get(name, UNKNOWN_S))
    total = Outcome()
    context = multiprocessing.get_context("spawn")
    with ProcessPoolExecutor(len(os.sched_getaffinity(0)) + BESIDES, context) as pool:
        coming = {pool.submit(run_class, name): name for name in names}
        for future in as_completed(coming):
            name = coming[future]
            error = future.exception()
            if error is not None:
                print(f"{name}: its process ended: {error}")
                total.add(Outcome(1, 1))
                continue
            outcome = future.result()
            counts = f"{outcome.run} run, {outcome.failed} failed"
            print(f"{name}: {counts}, {sum(outcome.durations.values()):.1f} s", flush=True)
            if outcome.failed:
                print(outcome.text, flush=True)
            total.add(outcome)
    return total


def keep_durations(outcome: Outcome) -> None:
    """Keep how long each class took, for whoever runs them next."""
    classes: dict[str, float] = {}
    for test, seconds in outcome.durations.items():
        name = test.rsplit(".", 1)[0]
        classes[name] = classes.get(name, 0.0) + seconds
    kept = {name: round(seconds, 1) for name, seconds in sorted(classes.items()) if seconds >= 0.5}
    DURATIONS.write_text(json.dumps(kept, indent=1) + "\n")


def _classes(suite: unittest.TestSuite) -> Iterator[str]:
    """The names of the classes that have tests; a module that cannot be loaded is one too."""
    seen: set[str] = set()
    for test in _flat(suite):
        name = test.id().rsplit(".", 1)[0]
        if type(test).__name__ == "_FailedTest":
            name = test.id().split("_FailedTest.", 1)[-1]
        if name not in seen:
            seen.add(name)
            yield name


def _flat(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    for one in suite:
        if isinstance(one, unittest.TestSuite):
            yield from _flat(one)
        else:
            yield one

"""The five laws of ``docs/promises.md``, tried on chance of another seed than the tests have.

Each is a set of property tests; here they are run with the seed that is asked for, and from half of
the full size on with all the tries of ``scripts/test --long``.
"""

from __future__ import annotations

import io
import os
import unittest

import hypothesis.core

from attacks.verdicts import Verdict

LAWS = {
    "what is said is in the text": ("tests.speech.test_coverage",),
    "one clock": ("tests.audio.test_clock", "tests.job.test_oneclock"),
    "what goes in comes out": ("tests.transcript.test_carrying", "tests.formats.test_nothing_lost"),
    "what can be written can be read": ("tests.application.test_working",),
    "mending never spoils": ("tests.checks.test_mending_law",),
    "workers are not believed": ("tests.batch.test_wire",),
}
"""Each law, and the modules that try it."""

FULL = len(LAWS)


def attack(seed: int, count: int) -> list[Verdict]:
    """Each law once; ``count`` is their number at full size, less for fewer tries of each."""
    if 2 * count >= FULL * 10:
        os.environ["TAMARIND_LONG_TESTS"] = "1"
    hypothesis.core.global_force_seed = seed
    verdicts = []
    for law, modules in LAWS.items():
        verdict = Verdict(f"law: {law}", law)
        suite = unittest.defaultTestLoader.loadTestsFromNames(modules)
        result = unittest.TextTestRunner(io.StringIO(), verbosity=0).run(suite)
        wrong = {str(test): text for test, text in (*result.failures, *result.errors)}
        for _ in range(result.testsRun - len(wrong)):
            verdict.held("held")
        for test, text in wrong.items():
            verdict.failed(f"{test}: {text.strip().splitlines()[-1]}")
        verdicts.append(verdict)
    return verdicts

"""``python -m tests [PATTERN]``: run all tests and close with "N passed, N failed"."""

import faulthandler
import sys
import unittest
from pathlib import Path


def main() -> int:
    """Run and count; 0 if all passed."""
    # A test that hangs tells where, long before anyone stops it from outside.
    faulthandler.dump_traceback_later(1500, exit=True)
    top = Path(__file__).parent
    loader = unittest.TestLoader()
    if len(sys.argv) > 1:
        loader.testNamePatterns = [f"*{pattern}*" for pattern in sys.argv[1:]]
    suite = loader.discover(str(top), top_level_dir=str(top.parent))
    result = unittest.TextTestRunner(verbosity=1).run(suite)
    failed = len({test for test, _ in result.failures + result.errors})
    failed += len(result.unexpectedSuccesses)
    skipped = len(result.skipped)
    passed = result.testsRun - failed - skipped
    if skipped:
        for test, reason in result.skipped:
            print(f"skipped {test}: {reason}")
    print(f"{passed} passed, {failed} failed" + (f", {skipped} skipped" if skipped else ""))
    return 1 if failed or not passed else 0


if __name__ == "__main__":
    sys.exit(main())

"""``python -m tests [--long] [--durations] [PATTERN...]``: run tests; the last line is "N passed,
N failed".

Without a pattern all classes are shared out among the cores, those that take longest first.
``--long`` has chance do thousands of tries where it does a few dozen otherwise. ``--durations``
lists the slowest, and keeps how long each class took.
"""

import os
import sys

from tests import running

SLOWEST = 40


def main() -> int:
    """Run and count; 0 if all passed."""
    arguments = sys.argv[1:]
    patterns = [one for one in arguments if not one.startswith("--")]
    if "--long" in arguments:
        os.environ["TAMARIND_LONG_TESTS"] = "1"
    total = running.run(running.discovered(patterns)) if patterns else running.run_all()
    if "--durations" in arguments:
        slowest = sorted(total.durations.items(), key=lambda entry: -entry[1])[:SLOWEST]
        for name, seconds in slowest:
            print(f"{seconds:6.1f} s  {name}")
        if not patterns:
            running.keep_durations(total)
    passed = total.run - total.failed - total.skipped
    skipped = f", {total.skipped} skipped" if total.skipped else ""
    print(f"{passed} passed, {total.failed} failed{skipped}")
    return 1 if total.failed or not passed else 0


if __name__ == "__main__":
    sys.exit(main())

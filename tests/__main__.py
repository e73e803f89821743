"""``python -m tests [PATTERN...]``: run all tests and close with "N passed, N failed".

Without a pattern the modules are shared out among the cores, those that take longest first.
"""

import sys
import unittest

from tests import running


def main() -> int:
    """Run and count; 0 if all passed."""
    if len(sys.argv) > 1:
        loader = unittest.TestLoader()
        loader.testNamePatterns = [f"*{pattern}*" for pattern in sys.argv[1:]]
        total = running.run(
            loader.discover(str(running.TOP), top_level_dir=str(running.TOP.parent))
        )
    else:
        total = running.run_all()
    passed = total.run - total.failed - total.skipped
    skipped = f", {total.skipped} skipped" if total.skipped else ""
    print(f"{passed} passed, {total.failed} failed{skipped}")
    return 1 if total.failed or not passed else 0


if __name__ == "__main__":
    sys.exit(main())

"""``python -m tamarind`` is the ``tamarind`` command."""

import sys

from tamarind.cli.main import program

if __name__ == "__main__":
    sys.exit(program())

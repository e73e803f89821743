"""Measure what fixing everything at once does to drafts: word errors before and after must not
grow.

    .venv/bin/python benchmarks/mending.py [NAME ...]

Drafts of recordings with known texts (``material.py``), or of those with these names, each mended
by the ordinary house style as ``tamarind check --fix all`` does it.
"""

from __future__ import annotations

import sys
from pathlib import Path

HERE = Path(__file__).parent
sys.path[:0] = [str(HERE.parent), str(HERE)]

from hearing import ours, words_of  # noqa: E402
from material import known_recordings  # noqa: E402
from tamarind.checks.catalogue import CHECKS  # noqa: E402
from tamarind.checks.check import CheckContext  # noqa: E402
from tamarind.checks.manyfixes import fixed_by_kinds  # noqa: E402
from tamarind.language.stylebook import STYLES  # noqa: E402
from tamarind.speech.hearingoptions import HearingOptions  # noqa: E402
from tamarind.transcript.model import Transcript  # noqa: E402
from truth import word_errors  # noqa: E402


def main() -> None:
    """Print the result for each draft."""
    kinds = [rule.key for rule in CHECKS.values() if rule.certain]
    context = CheckContext(STYLES.find("ordinary"))
    worse = 0
    for known in known_recordings():
        if sys.argv[1:] and not any(name in known.name for name in sys.argv[1:]):
            continue
        cues, _ = ours(known, HearingOptions())
        text = Transcript("en", tuple(cues))
        after, changes = fixed_by_kinds(text, context, kinds)
        wrong = [
            word_errors(known.text, " ".join(word.text for word in words_of(one.cues)))
            for one in (text, after)
        ]
        worse += wrong[1] > wrong[0]
        print(f"{known.name}: {wrong[0]} before, {wrong[1]} after, {len(changes)} changes")
    print(f"{worse} drafts are worse than before")


if __name__ == "__main__":
    main()

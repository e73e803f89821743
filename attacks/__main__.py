"""``python -m attacks [NAME…] [--seed N] [--size N]``: attack the promises and print what held."""

from __future__ import annotations

import argparse
import sys
import time

from attacks import captions, damagedjobs, disks, doubles, kills, laws, media, network
from attacks.verdicts import Verdict, table

KINDS = {
    "jobs": (damagedjobs.attack, 1_000),
    "captions": (captions.attack, 10_000),
    "media": (media.attack, 300),
    "doubles": (doubles.attack, 60),
    "disks": (disks.attack, 36),
    "kills": (kills.attack, 500),
    "laws": (laws.attack, 60),
    "network": (network.attack, 3_600),
}
"""Each attack, and how often (the last one: how many seconds) at full size."""


def main() -> int:
    """Run what is asked for; 0 if all held."""
    parser = argparse.ArgumentParser(prog="scripts/attack", description=__doc__)
    parser.add_argument("names", nargs="*", choices=[[], *KINDS], help="all, if none is named")
    parser.add_argument("--seed", type=int, default=1, help="the same seed, the same attacks (1)")
    parser.add_argument(
        "--size", type=float, default=0.03, help="share of the full size; 1 takes hours (0.03)"
    )
    options = parser.parse_args()
    verdicts: list[Verdict] = []
    for name in options.names or KINDS:
        attack, full = KINDS[name]
        count = max(round(full * options.size), 6)
        began = time.monotonic()
        found = attack(options.seed, count)
        verdicts += found if isinstance(found, list) else [found]
        print(f"{name}: {time.monotonic() - began:.0f} s", file=sys.stderr, flush=True)
    print(table(verdicts))
    return 1 if any(verdict.failures for verdict in verdicts) else 0


if __name__ == "__main__":
    sys.exit(main())

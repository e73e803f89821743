"""What came of an attack: how many times it was tried, in how many it held, and why not."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field


@dataclass
class Verdict:
    """Of one kind of attack; ``outcomes`` counts how it ended where it held, ``failures`` says in
    a line each where it did not."""

    name: str
    promise: str
    tries: int = 0
    outcomes: Counter[str] = field(default_factory=Counter)
    failures: list[str] = field(default_factory=list)
    skipped: str = ""

    def held(self, outcome: str) -> None:
        """Once more it held."""
        self.tries += 1
        self.outcomes[outcome] += 1

    def failed(self, why: str) -> None:
        """Once it did not."""
        self.tries += 1
        self.failures.append(why)


def table(verdicts: Sequence[Verdict]) -> str:
    """All verdicts, a line each, and then what failed."""
    lines = [f"{'attack':<34} {'tried':>6} {'held':>6}   outcomes"]
    for one in verdicts:
        if one.skipped:
            lines.append(f"{one.name:<34} {'–':>6} {'–':>6}   not tried: {one.skipped}")
            continue
        outcomes = ", ".join(f"{count} {what}" for what, count in one.outcomes.most_common())
        held = one.tries - len(one.failures)
        lines.append(f"{one.name:<34} {one.tries:>6} {held:>6}   {outcomes}")
    for one in verdicts:
        lines += [f"FAILED {one.name}: {why}" for why in one.failures[:20]]
        if len(one.failures) > 20:
            lines.append(f"FAILED {one.name}: and {len(one.failures) - 20} more")
    return "\n".join(lines)

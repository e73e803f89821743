"""Measure a person's speed of proofing, to estimate the time left."""

from __future__ import annotations

from dataclasses import dataclass

TICK_S = 2
"""Work is counted by so much."""

IDLE_AFTER_S = 30.0
"""Somebody who neither plays nor types for so long is doing something else."""

FEWEST_WORDS = 60
"""A pace is believed once so many words have been proofed at it."""

REMEMBERED_WORDS = 4_000


@dataclass(slots=True)
class ProofingPace:
    """Seconds of work and the words proofed in them; older work counts for less."""

    seconds: float = 0.0
    words: float = 0.0

    def add(self, seconds: float, words: int) -> None:
        """Add work; words may be negative."""
        self.seconds += seconds
        self.words = max(self.words + words, 0.0)
        if self.words > REMEMBERED_WORDS:
            self.seconds *= REMEMBERED_WORDS / self.words
            self.words = REMEMBERED_WORDS

    def seconds_for(self, words: float) -> float | None:
        """Estimate the seconds for so many words, or None if the pace is not known."""
        return words * self.seconds / self.words if self.words >= FEWEST_WORDS else None

    def kept(self) -> str:
        """Return the pace as text for the job."""
        return f"{self.seconds:.0f} {self.words:.0f}"

    @classmethod
    def read(cls, kept: str) -> ProofingPace:
        """Read the pace from text; a new one if it makes no sense."""
        try:
            seconds, words = map(float, kept.split())
            return cls(max(seconds, 0.0), max(words, 0.0))
        except ValueError:
            return cls()

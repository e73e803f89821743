"""Models that can be downloaded by name: their languages, accuracy, size and speed.

All are networks for many languages (Radford et al. 2022) in CTranslate2's format, as their hub has
them. Sizes are those of the files there; how slow one is, is reckoned from its weights until it has
been measured on this machine.
"""

from __future__ import annotations

from dataclasses import dataclass

from tamarind.speech.processor import multiplies_bytes

BASE_MILLIONS = 74
QUICK_BASE, SLOW_BASE = 1.7, 2.7
"""A model of so many weights takes so many times as long as the built-in recogniser, as a whole
command: measured, with products of bytes and without."""


def base_slowness() -> float:
    """Return how many times as long as the built-in recogniser the multilingual one takes here."""
    return QUICK_BASE if multiplies_bytes() else SLOW_BASE


@dataclass(frozen=True, slots=True)
class Offer:
    """``repository`` is its place on the hub, ``size`` in bytes, ``millions`` of weights;
    ``accuracy`` is for people."""

    name: str
    repository: str
    size: int
    millions: int
    accuracy: str
    english_only: bool = False

    @property
    def slowness(self) -> float:
        """Estimate how many times as long as the built-in recogniser it takes."""
        return base_slowness() * self.millions / BASE_MILLIONS

    @property
    def hears(self) -> str:
        """Its languages, in words."""
        return "English" if self.english_only else "99 languages"


OFFERS = (
    Offer("tiny", "Systran/faster-whisper-tiny", 78_000_000, 39,
          "many mistakes; for a first look on an old computer"),
    Offer("base", "Systran/faster-whisper-base", 148_000_000, 74,
          "as good as the included multilingual one"),
    Offer("small", "Systran/faster-whisper-small", 486_000_000, 244,
          "about half the mistakes of the included multilingual one"),
    Offer("medium", "Systran/faster-whisper-medium", 1_530_000_000, 769,
          "few mistakes in the languages that are spoken most"),
    Offer("large-v3", "Systran/faster-whisper-large-v3", 3_090_000_000, 1_550,
          "the fewest mistakes; better left to run overnight"),
    Offer("small.en", "Systran/faster-whisper-small.en", 486_000_000, millions=244,
          accuracy="English somewhat better than the others of its size", english_only=True),
    Offer("medium.en", "Systran/faster-whisper-medium.en", 1_530_000_000, millions=769,
          accuracy="English with few mistakes", english_only=True),
)  # fmt: skip


def offer_for(name: str) -> Offer | None:
    """Return the model of this name, or None."""
    return next((offer for offer in OFFERS if offer.name == name), None)


def in_words(slowness: float) -> str:
    """Say how slow a model is."""
    if slowness < 1.5:
        return "about as fast as the built-in one"
    times = f"{slowness:.0f}" if slowness >= 3 else f"{slowness:.1f}"
    return f"takes {times} times as long as the built-in one"

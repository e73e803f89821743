"""What telling speakers apart anew comes to."""

from __future__ import annotations

from dataclasses import dataclass

from tamarind.speech.diarisation.voiceprint import Voiceprint


@dataclass(frozen=True, slots=True)
class Told:
    """The speaker of each word (None: nobody could be made out), and what the speakers are known
    by."""

    speakers: tuple[int | None, ...]
    voices: tuple[Voiceprint, ...]

"""Find names by which speakers introduce themselves and each other.

"I'm Martin Hale" names who says it, "with me is Martin Hale" who speaks next, "thank you, Martin"
who spoke before or speaks next. What is said more often counts more; a name belongs to one voice.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from itertools import groupby

import regex

from tamarind.transcript.model import Cue, Transcript

MOST_WORDS = 3
ITSELF, NEXT, BESIDE = 3.0, 2.0, 1.0
"""What it counts to name oneself, to announce whoever speaks next, and to call somebody."""

_MINE = {
    "en": r"(?:my name is|my name's|i'm|i am|this is)",
    "de": r"(?:ich bin|ich heiße|mein name ist)",
    "fr": r"(?:je suis|je m'appelle|mon nom est)",
    "es": r"(?:soy|me llamo|mi nombre es)",
    "it": r"(?:sono|mi chiamo|il mio nome è)",
    "pt": r"(?:sou|me chamo|chamo-me|meu nome é)",
    "ru": r"(?:меня зовут|я)",
}
_THEIRS = {
    "en": r"(?:with me is|joined by|(?:talking|speaking) (?:with|to)|here is|welcome|over to)",
    "de": r"(?:bei mir ist|zu gast ist|ich spreche mit|willkommen)",
    "fr": r"(?:avec moi|je parle avec|j'accueille|bienvenue)",
    "es": r"(?:conmigo está|hablo con|bienvenid[oa])",
    "it": r"(?:con me c'è|parlo con|benvenut[oa])",
    "pt": r"(?:comigo está|falo com|bem-vind[oa])",
    "ru": r"(?:со мной|я говорю с)",
}
_CALLED = {
    "en": r"(?:thank you|thanks|hello|hi)",
    "de": r"(?:danke|hallo)", "fr": r"(?:merci|bonjour)", "es": r"(?:gracias|hola)",
    "it": r"(?:grazie|ciao)", "pt": r"(?:obrigad[oa]|olá)", "ru": r"(?:спасибо|здравствуйте)",
}  # fmt: skip
_NAME = rf"(\p{{Lu}}[\w'’-]+(?:\s+\p{{Lu}}[\w'’-]+){{0,{MOST_WORDS - 1}}})"


Turn = tuple[int | None, str]
"""Who speaks, and all that they say until another does."""


def proposed_names(transcript: Transcript) -> dict[int, tuple[str, ...]]:
    """Return the names that each voice without one may have, the likeliest first."""
    turns = _turns(transcript.cues)
    base = transcript.language.partition("-")[0].casefold()
    counts: defaultdict[int, defaultdict[str, float]] = defaultdict(lambda: defaultdict(float))
    for place, (speaker, said) in enumerate(turns):
        after = turns[place + 1][0] if place + 1 < len(turns) else None
        before = turns[place - 1][0] if place else None
        for name in _found(_MINE.get(base), said):
            _count(counts, speaker, name, ITSELF)
        for name in _found(_THEIRS.get(base), said):
            _count(counts, after, name, NEXT)
        for name in _found(_CALLED.get(base), said):
            _count(counts, before, name, BESIDE)
            _count(counts, after, name, BESIDE / 2)
    known = {speaker.name.casefold() for speaker in transcript.speakers if speaker.name}
    unnamed = [speaker.id for speaker in transcript.speakers if not speaker.name]
    result: dict[int, tuple[str, ...]] = {}
    best = {
        name: max(counts, key=lambda one: counts[one].get(name, 0.0))
        for own in counts.values()
        for name in own
    }
    for voice in unnamed:
        own = [(score, name) for name, score in counts[voice].items() if best[name] == voice]
        names = [name for _, name in sorted(own, reverse=True) if name.casefold() not in known]
        if names:
            result[voice] = tuple(_longest(names))
    return result


def _count(
    counts: defaultdict[int, defaultdict[str, float]], speaker: int | None, name: str, weight: float
) -> None:
    if speaker is not None:
        counts[speaker][name] += weight


def _found(pattern: str | None, text: str) -> list[str]:
    if pattern is None:
        return []
    return [match[1] for match in regex.finditer(rf"\b(?i:{pattern}),?\s+{_NAME}", text)]


def _longest(names: Sequence[str]) -> list[str]:
    """Put a first name after the full name that contains it."""
    whole = [name for name in names if not any(f"{name} " in f"{o} " and name != o for o in names)]
    return [*whole, *(name for name in names if name not in whole)]


def _turns(cues: Sequence[Cue]) -> list[Turn]:
    return [
        (speaker, " ".join(cue.text for cue in own))
        for speaker, own in groupby((cue for cue in cues if cue.words), lambda cue: cue.speaker)
    ]

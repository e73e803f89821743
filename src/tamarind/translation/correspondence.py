"""Find the source words of a corrected translation, by their positions in the sentence."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import astuple

from tamarind.captions.functionwords import function_words
from tamarind.transcript.languages import base_of
from tamarind.transcript.sentences import bare
from tamarind.transcript.tokens import tokens_of

LONGEST, LEAST_DICE, FEWEST = 3, 0.6, 2


def likely_source(
    pairs: Iterable[tuple[str, str]], here: str, translations: Sequence[str], language: str
) -> str:
    """Return the words of the source text ``here`` that go with a part of some translations; "" if
    none does well enough.

    ``pairs`` are sources and their translations all over the job. Candidates are runs of up to
    three words; each is measured by the Dice coefficient of being said and being translated so
    (Smadja, McKeown and Hatzivassiloglou 1996). ``language`` is that of the source.
    """
    wanted = [_plain(text) for text in translations]
    small: set[str] = set().union(*astuple(function_words(base_of(language))))
    candidates: dict[str, str] = {}
    tokens = [token for token in tokens_of(here) if bare(token)]
    for first in range(len(tokens)):
        for last in range(first + 1, min(first + LONGEST, len(tokens)) + 1):
            run = [bare(token) for token in tokens[first:last]]
            if run[0] not in small and run[-1] not in small:
                said = " ".join(tokens[first:last]).strip(".,;:!?…“”\"'()")
                candidates.setdefault(" ".join(run), said)
    counts = dict.fromkeys(candidates, (0, 0))
    translated = 0
    for source, target in pairs:
        source, target = f" {_plain(source)} ", f" {_plain(target)} "
        has = any(f" {one} " in target for one in wanted)
        translated += has
        for key in candidates:
            if f" {key} " in source:
                times, both = counts[key]
                counts[key] = times + 1, both + has
    dice = {key: 2 * both / (n + translated) for key, (n, both) in counts.items() if n}
    best = max(dice, key=lambda key: (dice[key], len(key)), default="")
    if translated < FEWEST or not best or dice[best] < LEAST_DICE:
        return ""
    return candidates[best]


def _plain(text: str) -> str:
    return " ".join(filter(None, map(bare, tokens_of(text))))

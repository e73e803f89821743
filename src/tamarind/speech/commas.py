"""Find commas that should be full stops ("never wet a boot, the drains had been dug").

Recognisers that learnt from captions of all languages put a comma where a clause ends, whether or
not the next one stands by itself. How likely a full stop belongs there is a logistic regression
over the words on both sides: with what the next clause begins and the last one began, whether both
have a verb, and how long they are. The weights are learnt from prose by ``benchmarks/commas.py``.
English only.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

from tamarind.transcript.sentences import bare, ends_clause, ends_sentence

LIKELY = 0.7
"""From this on a full stop is written: one that is wrong costs more than one that is missing."""

_KINDS = {
    "subject": "i we he she they it you there nobody everybody somebody everyone people i'm we're"
    " they're he's she's it's i've we've i'll we'll they'll i'd we'd",
    "determiner": "the a an my our your his her their its this that these those some any each every"
    " no one two three four five both all",
    "joining": "and but or nor so yet",
    "leaning": "which who whom whose where when because if although though as while whether unless"
    " once than whatever whenever wherever what how why since",
    "preposition": "in on at by for from with of to into over under after before between through"
    " without within during until about like near",
    "adverb": "then now otherwise perhaps maybe still here never next please thank thanks yes well",
}
_KIND_OF = {word: kind for kind, words in _KINDS.items() for word in words.split()}
_SMALL = frozenset(_KIND_OF) - frozenset(_KINDS["subject"].split())
_VERBS = frozenset(
    "is are was were be been am have has had will would can could shall should may might must do"
    " does did isn't aren't wasn't weren't haven't hasn't hadn't won't wouldn't can't couldn't"
    " don't doesn't didn't i'm we're they're he's she's it's i've we've i'll we'll they'll that's"
    " there's said went came saw took made got knew thought wanted told gave found put kept let"
    " ran fell stood".split()
)
_OTHERS = ("doing", "done", "other")
_ALL_KINDS = (*_KINDS, *_OTHERS)

FEATURES = (
    *(f"next {kind}" for kind in _ALL_KINDS), *(f"begun {kind}" for kind in _ALL_KINDS),
    "verb before", "verb behind", "length before", "length behind", "first", "subject stands",
    "subject leans", "determiner stands", "determiner leans", "other stands", "one word",
)  # fmt: skip

BIAS = -2.33
WEIGHTS = (
    0.45, 0.68, -0.71, 0.32, 0.35, -0.02, -0.61, -0.53, 0.08, 0.13, 0.21, 0.13, -0.47, -0.49,
    0.18, 0.07, -0.06, 0.29, 0.08, 0.18, 1.07, -0.24, -0.83, 0.26, -0.76, 0.53, -0.55, 0.37,
    -0.95,
)  # fmt: skip


def ends_after(texts: Sequence[str]) -> list[int]:
    """Return the indices of the words whose comma should be a full stop, in a text of written
    words."""
    found: list[int] = []
    edges = [place for place, text in enumerate(texts) if ends_clause(text) or ends_sentence(text)]
    first, is_first = 0, True
    for edge, following in pairwise([*edges, len(texts) - 1]):
        left, right = texts[first : edge + 1], texts[edge + 1 : following + 1]
        ended = ends_sentence(texts[edge])
        if not ended and right and texts[edge].endswith(","):
            told = features(list(map(bare, left)), list(map(bare, right)), is_first)
            total = BIAS + sum(w * x for w, x in zip(WEIGHTS, told, strict=True))
            ended = total >= math.log(LIKELY / (1 - LIKELY))
            found += [edge] if ended else []
        first, is_first = edge + 1, ended
    return found


def features(left: Sequence[str], right: Sequence[str], is_first: bool) -> list[float]:
    """Return the evidence of two clauses on the mark between them: their bare words, and whether
    the first begins a sentence."""
    following, begun = _kind(right[0]), _kind(left[0])
    before, behind = _has_verb(left), _has_verb(right)
    leans = begun in ("leaning", "preposition")
    told = [
        *(following == kind for kind in _ALL_KINDS), *(begun == kind for kind in _ALL_KINDS),
        before, behind, math.log(len(left) + 1), math.log(len(right) + 1), is_first,
        following == "subject" and before and not leans,
        following == "subject" and leans,
        following == "determiner" and before and behind and not leans,
        following == "determiner" and behind and leans,
        following in ("other", "preposition", "adverb") and before and behind and not leans
        and is_first,
        len(left) == 1,
    ]  # fmt: skip
    return list(map(float, told))


def _kind(word: str) -> str:
    known = _KIND_OF.get(word)
    if known is not None:
        return known
    return "doing" if word.endswith("ing") else "done" if word.endswith("ed") else "other"


def _has_verb(words: Sequence[str]) -> bool:
    """Whether the words include a finite verb: a listed one, one with such an ending, or the word
    after a subject."""
    subjects = [place for place, word in enumerate(words) if _KIND_OF.get(word) == "subject"]
    return any(word in _VERBS or (len(word) > 4 and word.endswith("ed")) for word in words) or any(
        place + 1 < len(words) and words[place + 1] not in _SMALL for place in subjects
    )

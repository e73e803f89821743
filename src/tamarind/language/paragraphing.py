"""Divide a text into paragraphs as an editor would, by words, pauses and length together.

Every border between two sentences has evidence, the log of how much likelier the paragraph ends
there than that it goes on:

- *cohesion*: how far the words on both sides are others than those around (the depth of a valley
  of Hearst, "TextTiling: Segmenting Text into Multi-paragraph Subtopic Passages", Computational
  Linguistics 23, 1997), and how little the next sentence shares with the one before;
- *openers*: words that begin a topic ("so", "next", "the second thing"), and words that lean on
  what was said ("they", "this", "but");
- *pauses*, against the other pauses of the same recording: two lognormal classes of the same
  spread, found by expectation maximisation, since one reader rests for half a second between
  paragraphs and another for three.

The length of paragraphs is lognormal about what is wished. The best of all ways to part a text is
found by dynamic programming over its cues (as Utiyama and Isahara do for topics, "A Statistical
Model for Domain-Independent Text Segmentation", ACL 2001). The weights of words are learnt from
prose whose paragraphs are known, by ``benchmarks/paragraphs.py``.
"""

from __future__ import annotations

import math
from bisect import bisect_left
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from tamarind.captions.functionwords import function_words
from tamarind.transcript.edits import begins_by_itself
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.sentences import bare, ends_sentence
from tamarind.transcript.unspaced import is_unspaced

USUAL_WORDS = 65
"""Of a paragraph."""

LONGEST = 2.5
"""A paragraph has at most so many times the words that are wished, if no limit is set."""

SPREAD = 0.8
"""Standard deviation of the log of paragraphs' lengths."""

FEWER = -0.6
"""Evidence that every border between sentences lacks, so that chance makes no paragraphs."""

MID_SENTENCE = -9.0
"""Evidence of a border where no sentence ends: only where nothing else keeps to the limit."""

CLOSED = -60.0
"""Evidence of a border that a person has closed."""

LETTERS_A_WORD = 3
SAMPLE = 50
"""Of so many cues it is seen whether the text has spaces between its words."""
"""Of scripts without spaces, that count as a word."""

STEM = 6
"""Letters by which words are told: inflected forms mostly begin alike."""

AROUND = 8
"""Sentences on each side of a border whose words are compared."""

_OPENERS = {
    "en": "so|now|well|okay|right|first|firstly|second|secondly|third|thirdly|finally|lastly|next"
    "|another|anyway|meanwhile|today|let's|the first|the second|the third|the next|the last"
    "|the other|moving on|as for|in short|to sum|one more",
    "de": "so|also|nun|jetzt|gut|erstens|zweitens|drittens|schließlich|zum|als nächstes|kommen wir",
    "fr": "alors|bon|bien|maintenant|d'abord|premièrement|deuxièmement|ensuite|enfin|passons",
    "es": "bueno|ahora|entonces|primero|segundo|tercero|después|finalmente|por último|pasemos",
    "it": "allora|dunque|ora|bene|primo|secondo|terzo|poi|infine|passiamo",
    "pt": "bem|bom|agora|então|primeiro|segundo|terceiro|depois|finalmente|por fim|passemos",
    "ru": "итак|теперь|ну|хорошо|во-первых|во-вторых|в-третьих|наконец|далее|перейдём",
}
_LEANING = {
    "en": "he she it they this that these those such his her its their him them",
    "de": "er sie es dies diese dieser dieses das solche sein seine ihr ihre ihn ihm ihnen",
    "fr": "il elle ils elles ce cela ça ceci cette ces son sa ses leur leurs",
    "es": "él ella ello ellos ellas esto eso este esta estos estas su sus",
    "it": "lui lei esso essa essi loro questo questa questi queste ciò suo sua",
    "pt": "ele ela eles elas isto isso este esta estes estas seu sua",
    "ru": "он она оно они это этот эта эти его её их такой",
}
_JOINING = {
    "en": "and but or nor because", "de": "und aber oder denn", "fr": "et mais ou car",
    "es": "y pero o porque", "it": "e ma o perché", "pt": "e mas ou porque", "ru": "и но или а",
}  # fmt: skip

FEATURES = (
    "depth", "likeness", "leaning", "joining", "opening", "leaning early", "question", "length",
)  # fmt: skip
"""What words tell of a border, in the order of the weights."""

WEIGHTS = (0.28, -0.23, -0.25, -0.20, 0.68, -0.53, 0.03, 0.14)

Numbers = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class SentenceRun:
    """A run of cues up to one with the end of a sentence: [first, last) cues, its words without
    marks, and whether it is a question."""

    first: int
    last: int
    words: tuple[str, ...]
    asks: bool


class Paragraphing:
    """The paragraphs of one text; the evidence is computed once, so that trying other lengths is
    cheap. Borders that a person has opened or closed stay."""

    def __init__(self, transcript: Transcript) -> None:
        self._transcript = transcript
        self._cues = [place for place, cue in enumerate(transcript.cues) if cue.words]
        cues = [transcript.cues[place] for place in self._cues]
        self._lengths = np.array([_length(cue) for cue in cues], float)
        self._forced = np.array([_is_forced(before, cue) for before, cue in pairwise(cues)], bool)
        closed = np.array([cue.paragraph_set and not cue.opens_paragraph for cue in cues[1:]], bool)
        self._evidence = _evidence(cues, transcript.language, self._forced)
        self._evidence[closed & ~self._forced] = CLOSED

    def parted(self, words: int = USUAL_WORDS, most: int = 0) -> Transcript:
        """Return the text in paragraphs of about so many words, and at most ``most`` (0: as many as
        are likely) where cues allow a border."""
        text = self._transcript
        if not self._cues:
            return text
        gains = np.concatenate([[0.0], self._evidence])
        forced = np.concatenate([[True], self._forced])
        best = best_openings(self._lengths, gains, forced, words, most or words * LONGEST)
        opening = {self._cues[place] for place in best}
        cues = tuple(
            replace(cue, opens_paragraph=place in opening)
            if cue.opens_paragraph != (place in opening) and not cue.paragraph_set
            else cue
            for place, cue in enumerate(text.cues)
        )
        return text if cues == text.cues else replace(text, cues=cues)


def best_openings(
    lengths: Numbers,
    gains: Numbers,
    forced: NDArray[np.bool_],
    words: float,
    most: float,
    spread: float = SPREAD,
) -> list[int]:
    """Return the indices of the units that begin a part, for parts of about so many ``words`` and
    none of more than ``most`` that can be cut.

    ``lengths`` are those of the units in words, ``gains`` the evidence that a part begins with
    each, and ``forced`` where one does in any case; all of shape (units,).
    """
    count = len(lengths)
    ends = np.concatenate([[0.0], np.cumsum(lengths)])
    cut = np.concatenate([forced, [True]])
    cut[0] = True
    since = np.maximum.accumulate(np.where(cut, np.arange(count + 1), 0))
    best = np.full(count + 1, -np.inf)
    best[0] = 0.0
    origin = np.zeros(count + 1, np.intp)
    for stop in range(1, count + 1):
        lowest = max(int(since[stop - 1]), bisect_left(ends, ends[stop] - most, 0, stop - 1))
        firsts = np.arange(lowest, stop)
        sizes = np.log(np.maximum(ends[stop] - ends[firsts], 1.0))
        sums = best[firsts] + _likely(sizes, words, spread, bool(cut[stop]))
        sums = sums + np.where(firsts > 0, gains[firsts], 0.0)
        choice = int(sums.argmax())
        best[stop], origin[stop] = sums[choice], firsts[choice]
    opening = []
    stop = count
    while stop:
        stop = int(origin[stop])
        opening.append(stop)
    return opening[::-1]


def mean_length(transcript: Transcript) -> float:
    """Return the mean number of words in a paragraph; 0 for a text without words."""
    cues = [cue for cue in transcript.cues if cue.words]
    begun = 1 + sum(
        [
            1
            for before, cue in pairwise(cues)
            if cue.opens_paragraph or begins_by_itself(before, cue)
        ]
    )
    has_spaces = not any(is_unspaced(cue.text) for cue in cues[:SAMPLE])
    lengths = [len(cue.words) for cue in cues] if has_spaces else map(_length, cues)
    return sum(lengths) / begun if cues else 0.0


def _length(cue: Cue) -> float:
    """Count the words of a cue; letters in scripts without spaces."""
    if not is_unspaced(cue.text):
        return len(cue.words)
    return max(len(cue.text) / LETTERS_A_WORD, 1.0)


def _is_forced(before: Cue, cue: Cue) -> bool:
    """Whether a paragraph begins with a cue whatever its words."""
    return begins_by_itself(before, cue) or (cue.paragraph_set and cue.opens_paragraph)


def _likely(logs: Numbers, words: float, spread: float, is_cut: bool) -> Numbers:
    """Return the log likelihood of these lengths. A part that ``is_cut`` by a change of speaker may
    be shorter than one that ends by itself."""
    usual = math.log(USUAL_WORDS / 5)
    z = (logs - (math.log(max(words, 2)) - spread**2 / 2)) / spread
    likely = -0.5 * z * z - math.log(spread) - logs + usual
    if is_cut:
        shorter = -0.15 * z * z - math.log(words) + usual
        likely = np.where(z < 0, np.maximum(likely, shorter), likely)
    return np.asarray(likely, float)


def _evidence(cues: Sequence[Cue], language: str, forced: NDArray[np.bool_]) -> Numbers:
    """Return the evidence (logs) for a border before each cue but the first."""
    evidence = np.full(max(len(cues) - 1, 0), MID_SENTENCE)
    found = sentences_of(cues, forced)
    if len(found) < 2:
        return evidence
    borders = np.array([sentence.first - 1 for sentence in found[1:]])
    words = features(found, language) @ np.array(WEIGHTS)
    words -= math.log(np.mean(np.exp(words)))
    within = ~forced[borders]
    pauses = np.array([cues[at + 1].words[0].start - cues[at].words[-1].end for at in borders])
    rests = REST * np.clip((pauses - LONG_MS) / LONG_MS, 0.0, 1.0)
    if within.sum() > 2:
        rests[within] += pause_evidence(pauses[within])
    evidence[borders] = words + rests + FEWER
    return evidence


def sentences_of(cues: Sequence[Cue], forced: NDArray[np.bool_]) -> list[SentenceRun]:
    """Return cues in runs that end with a sentence, or where a paragraph begins anyway.

    Cues of a text without any marks are sentences by themselves.
    """
    ended = [ends_sentence(cue.words[-1].text) for cue in cues]
    if not any(ended):
        ended = [True] * len(cues)
    found: list[SentenceRun] = []
    first = 0
    for place in range(len(cues)):
        is_last = place == len(cues) - 1
        if is_last or ended[place] or forced[place]:
            run = cues[first : place + 1]
            words = tuple(bare(word.text) for cue in run for word in cue.words)
            asks = run[-1].words[-1].text.rstrip("\"'”’)»").endswith(("?", "？", "؟"))
            found.append(SentenceRun(first, place + 1, words, asks))
            first = place + 1
    return found


def features(sentences: Sequence[SentenceRun], language: str) -> Numbers:
    """Return what the words say of each border between sentences, shape (borders, features)."""
    base = language.partition("-")[0].casefold()
    openers = set(_OPENERS.get(base, "").split("|")) - {""}
    leaning, joining = set(_LEANING.get(base, "").split()), set(_JOINING.get(base, "").split())
    small = function_words(base).every
    stems = [stems_of(sentence.words, small) for sentence in sentences]
    rarity = rarities(stems)
    counts = [Counter(own) for own in stems]
    near = similarities(counts, rarity, 1)
    deep = depths(similarities(counts, rarity, AROUND))
    rows = []
    for following in sentences[1:]:
        words = following.words
        first, two = words[0] if words else "", " ".join(words[:2])
        rows.append((
            first in leaning, first in joining, first in openers or two in openers,
            any(word in leaning for word in words[:4]), following.asks,
        ))  # fmt: skip
    longs = np.log([max(len(sentence.words), 1) for sentence in sentences[1:]])
    told = np.array(rows, float)
    return np.column_stack([standard(deep), standard(near), told, standard(longs)])


def stems_of(words: Sequence[str], small: frozenset[str]) -> list[str]:
    """Return the content words by their first letters; pairs of letters in scripts without
    spaces."""
    found = []
    for word in words:
        if is_unspaced(word):
            found += [word[at : at + 2] for at in range(len(word) - 1)]
        elif len(word) > 2 and word not in small and not word.isdigit():
            found.append(word[:STEM])
    return found


def rarities(stems: Sequence[Sequence[str]]) -> dict[str, float]:
    """Return how informative each word is: more, the fewer sentences it is in (log inverse
    frequency)."""
    spread_over = Counter(stem for own in stems for stem in set(own))
    return {stem: math.log((len(stems) + 1) / count) for stem, count in spread_over.items()}


def similarities(counts: Sequence[Counter[str]], rarity: dict[str, float], around: int) -> Numbers:
    """Return the cosine between so many sentences before and after each border."""
    found = np.zeros(len(counts) - 1)
    for border in range(1, len(counts)):
        sides = []
        for part in (counts[max(border - around, 0) : border], counts[border : border + around]):
            total: Counter[str] = Counter()
            for count in part:
                total.update(count)
            sides.append({s: (1 + math.log(n)) * rarity[s] for s, n in total.items()})
        left, right = sides
        norm = math.sqrt(sum(v * v for v in left.values()) * sum(v * v for v in right.values()))
        shared = sum(value * right.get(stem, 0.0) for stem, value in left.items())
        found[border - 1] = shared / norm if norm else 0.0
    return found


def depths(similarities: Numbers) -> Numbers:
    """Return how deep each border lies below the peaks on both sides (Hearst)."""
    count = len(similarities)
    found = np.zeros(count)
    for place, here in enumerate(similarities):
        left = right = here
        at = place
        while at > 0 and similarities[at - 1] >= left:
            at -= 1
            left = similarities[at]
        at = place
        while at < count - 1 and similarities[at + 1] >= right:
            at += 1
            right = similarities[at]
        found[place] = left + right - 2 * here
    return found


def standard(values: Numbers) -> Numbers:
    return np.asarray((values - values.mean()) / max(float(values.std()), 1e-6), float)


SEPARATION = 0.55
"""The log of how many times longer pauses between paragraphs mostly are than between sentences."""

PAUSE_SPREAD = 0.35
"""The usual standard deviation of the log of pauses."""

OPENING_SHARE = 0.2
"""Of the borders between sentences, before anything is known."""

SHORTEST_PAUSE = 20.0
"""Shorter ones (ms) are alike."""

LONG_MS, REST = 2_500, 6.0
"""A pause of twice so long is evidence of its own, however long the others are."""

UNPAUSED = 0.2
"""Of all paragraphs end with a pause like any other."""

TELLING = 4.0
"""A pause that is so many times likelier where a paragraph ends counts no more on average."""

MOST = 6.0
"""Evidence of the longest pause."""

TURNS = 30
STRENGTH = 8.0
"""The usual separation and share count as much as so many pauses."""


def pause_evidence(pauses: NDArray[np.generic]) -> Numbers:
    """Return the log of how much likelier each pause (ms) between sentences is at the end of a
    paragraph, shape (pauses,)."""
    logs = np.log(np.maximum(np.asarray(pauses, float), SHORTEST_PAUSE))
    middle = float(np.median(logs))
    spread = max(1.4826 * float(np.median(np.abs(logs - middle))), 0.2)
    middle, apart, share = middle - 0.1, SEPARATION, OPENING_SHARE
    for _ in range(TURNS):
        odds = (_fit(logs, middle + apart, spread) - _fit(logs, middle, spread)) + math.log(
            share / (1 - share)
        )
        opens = 1 / (1 + np.exp(-np.clip(odds, -50, 50)))
        middle = float(np.mean(logs - opens * apart))
        weight = float(opens.sum())
        apart = (float((opens * (logs - middle)).sum()) + STRENGTH * SEPARATION) / (
            weight + STRENGTH
        )
        apart = max(apart, 0.3)
        errors = (1 - opens) * (logs - middle) ** 2 + opens * (logs - middle - apart) ** 2
        prior = STRENGTH * PAUSE_SPREAD**2
        spread = max(math.sqrt((float(errors.sum()) + prior) / (len(logs) + STRENGTH)), 0.2)
        share = (weight + STRENGTH * OPENING_SHARE) / (len(logs) + STRENGTH)
    likelier = np.exp(
        np.minimum(_fit(logs, middle + apart, spread) - _fit(logs, middle, spread), MOST)
    )
    likelier = (1 - UNPAUSED) * likelier + UNPAUSED
    # Pauses that are all alike say nothing.
    return np.asarray(np.log(likelier / np.minimum(likelier, TELLING).mean()), float)


def _fit(logs: Numbers, middle: float, spread: float) -> Numbers:
    return np.asarray(-0.5 * ((logs - middle) / spread) ** 2, float)

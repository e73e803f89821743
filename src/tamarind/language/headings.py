"""Propose headings for a long text: where a topic begins, and words of its own for each.

Topics are parts of some hundred words that begin with a paragraph, found as paragraphs are
(``paragraphing``), from wider windows. A heading is the phrase that tells its part best from the
others: words that carry meaning weigh by how often they are in the part and how rare elsewhere (as
key phrases are found by Salton's tf-idf), and a phrase that is said again counts more.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from tamarind.captions.functionwords import FunctionWords, function_words
from tamarind.language.paragraphing import (
    STEM,
    SentenceRun,
    best_openings,
    depths,
    features,
    rarities,
    sentences_of,
    similarities,
    standard,
    stems_of,
)
from tamarind.transcript.edits import opens_paragraph
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.sentences import bare, ends_clause, ends_sentence
from tamarind.transcript.unspaced import is_unspaced

TOPIC_WORDS, SHORTEST, LONGEST = 350, 400, 1_500
"""About how long a topic is; a text of fewer words than the shortest has none."""

SPREAD = 0.7
AROUND = 16
"""Sentences on each side of a border whose words are compared."""

DEPTH, OPENING, ASKING = 1.2, 1.0, 0.5
"""What the depth of a valley, words that open a topic, and a question weigh."""

LEANS = 2, 4
"""Where ``paragraphing.FEATURES`` say so."""

ONCE = 0.3
"""What a word weighs that is said once, against e times."""

LENGTH = 0.35
"""A phrase of more words must tell more, by this power of their number."""

ALONE = 0.6
"""What a single word is worth that is no name."""

MOST_WORDS = 5
PROPOSED = 4
DULL = frozenset(
    "thing things way ways lot kind sort bit something someone anything everything nothing people "
    "time times day year years one two three four five six seven eight nine ten number good great "
    "really actually know think mean said say says going get got go come came goes put made make "
    "want wanted like just also then now here there again still even well yes okay today "
    "first second third last next".split()
)
"""Words that tell little of a topic; English."""


@dataclass(frozen=True, slots=True)
class HeadingProposal:
    """A heading before the cue at an index, and other wordings, best first."""

    place: int
    wordings: tuple[str, ...]


def proposals(transcript: Transcript) -> list[HeadingProposal]:
    """Return headings for the topics of a text; none if it is short, or has headings."""
    topics = _topics(transcript)
    whole = _counts(transcript.cues)
    found = []
    taken: set[str] = set()
    for first, last in topics:
        if transcript.cues[first].heading:
            continue
        wordings = _wordings(transcript.cues[first:last], whole, transcript.language)
        wordings = [one for one in wordings if one.casefold() not in taken]
        wordings = _with_both(wordings)
        if wordings:
            taken.add(wordings[0].casefold())
            found.append(HeadingProposal(first, tuple(wordings)))
    return found


def wordings_at(transcript: Transcript, place: int) -> tuple[str, ...]:
    """Return headings for what follows from a cue on, best first."""
    cues = transcript.cues
    starts = [first for first, _ in _topics(transcript)]
    later = [start for start in starts if start > place]
    last = min(later[0] if later else len(cues), _after_words(cues, place, TOPIC_WORDS))
    return tuple(_with_both(_wordings(cues[place:last], _counts(cues), transcript.language)))


def _with_both(wordings: Sequence[str]) -> list[str]:
    """Put the best two together first, if they are short; then each."""
    found = list(wordings)
    if len(found) > 1 and len(f"{found[0]} {found[1]}".split()) <= MOST_WORDS:
        second = found[1]
        second = second[:1].lower() + second[1:] if second[1:].islower() else second
        found.insert(0, f"{found[0]}, {second}")
    return found[:PROPOSED]


def _topics(transcript: Transcript) -> list[tuple[int, int]]:
    """Return the first cue of each topic, and one after its last."""
    places = [place for place, cue in enumerate(transcript.cues) if cue.words]
    cues = [transcript.cues[place] for place in places]
    if sum(len(cue.words) for cue in cues) < SHORTEST:
        return []
    begins = [opens_paragraph(transcript.cues, place) for place in places]
    found = sentences_of(cues, np.array(begins[1:], bool))
    if len(found) < 2:
        return []
    base = transcript.language
    gains = np.concatenate([[0.0], _evidence(found, base)])
    starts = np.array([begins[sentence.first] for sentence in found])
    gains[~starts] = -60.0
    forced = np.array([bool(cues[sentence.first].heading) for sentence in found])
    lengths = np.array([max(len(sentence.words), 1) for sentence in found], float)
    opening = best_openings(lengths, gains, forced, TOPIC_WORDS, LONGEST, SPREAD)
    firsts = [places[found[place].first] for place in opening]
    return list(zip(firsts, [*firsts[1:], len(transcript.cues)], strict=True))


def _evidence(found: Sequence[SentenceRun], language: str) -> np.ndarray:
    """Return the evidence (logs) that a topic begins with each sentence but the first."""
    told = features(found, language)
    small = function_words(language.partition("-")[0].casefold()).every
    stems = [stems_of(sentence.words, small) for sentence in found]
    deep = standard(depths(similarities([Counter(own) for own in stems], rarities(stems), AROUND)))
    leans = sum(told[:, place] for place in LEANS)
    return np.asarray(DEPTH * deep + OPENING * (told[:, 4] - leans) + ASKING * told[:, 6], float)


def _wordings(part: Sequence[Cue], whole: Counter[str], language: str) -> list[str]:
    """Return phrases of a part that set it apart from the ``whole``, whose words are counted; best
    first."""
    small = function_words(language.partition("-")[0].casefold())
    phrases = Counter(_phrases(part, small))
    own = _counts(part)
    inside = max(own.total(), 1)
    outside = max(whole.total() - own.total(), 1)
    weights = {
        stem: (ONCE + math.log(count))
        * math.log1p(count / inside * outside / (whole[stem] - count + 1))
        for stem, count in own.items()
    }
    scores: dict[tuple[str, ...], float] = {}
    for phrase, count in phrases.items():
        stems = {stem for word in phrase if (stem := _stem(word)) and _tells(word, small)}
        if stems:
            total = sum(weights.get(stem, 0.0) for stem in stems)
            alone = ALONE if len(phrase) == 1 and phrase[0].islower() else 1.0
            scores[phrase] = alone * total / len(phrase) ** LENGTH * (1 + math.log(count))
    found: list[str] = []
    used: set[str] = set()
    for phrase in sorted(scores, key=lambda one: (-scores[one], one)):
        stems = {_stem(word) for word in phrase if _tells(word, small)}
        if stems & used and len(found) < PROPOSED:
            continue
        used |= stems
        text = " ".join(phrase)
        found.append(text[:1].upper() + text[1:])
        if len(found) == PROPOSED:
            break
    return found


def _phrases(cues: Sequence[Cue], small: FunctionWords) -> Iterator[tuple[str, ...]]:
    """Return runs of words without a mark between them that begin and end with a content word."""
    links = small.prepositions | small.determiners | frozenset(("and",))
    run: list[str] = []
    for word in (word for cue in cues for word in cue.words):
        clean = word.text.strip("\"'“”‘’«»()[]¿¡").rstrip(".,;:?!…。，！？、")
        begins = not run
        run.append(clean[:1].lower() + clean[1:] if begins and _is_usual(clean) else clean)
        if not (ends_sentence(word.text) or ends_clause(word.text)):
            continue
        yield from _parts_of(run, small, links)
        run = []
    yield from _parts_of(run, small, links)


def _parts_of(
    run: Sequence[str], small: FunctionWords, links: frozenset[str]
) -> Iterator[tuple[str, ...]]:
    for first, word in enumerate(run):
        if not _tells(word, small):
            continue
        for last in range(first + 1, min(first + MOST_WORDS, len(run)) + 1):
            phrase = tuple(run[first:last])
            inner = [one for one in phrase[1:-1] if not _tells(one, small)]
            if _tells(phrase[-1], small) and all(one.casefold() in links for one in inner):
                yield phrase


def _is_usual(word: str) -> bool:
    """Whether a word at the start of a sentence may have its capital only from there."""
    return word[1:].islower() or len(word) == 1


def _tells(word: str, small: FunctionWords) -> bool:
    plain = word.casefold()
    letters = sum(letter.isalpha() for letter in plain)
    return letters > 2 and plain not in small.every and plain not in DULL


def _stem(word: str) -> str:
    return bare(word)[:STEM]


def _counts(cues: Sequence[Cue]) -> Counter[str]:
    return Counter(
        _stem(word.text)
        for cue in cues
        for word in cue.words
        if len(bare(word.text)) > 2 or is_unspaced(word.text)
    )


def _after_words(cues: Sequence[Cue], place: int, words: int) -> int:
    """Return the first cue after so many words from an index on."""
    while place < len(cues) and words > 0:
        words -= len(cues[place].words)
        place += 1
    return place

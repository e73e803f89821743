"""Lay out timed words as cues: cue borders and line breaks are chosen together, then times.

All ways of cutting a run of words into cues are weighed, and the cheapest one is found by dynamic
programming over its words, as Knuth and Plass do for the lines of a paragraph ("Breaking
Paragraphs into Lines", 1981). Cutting before a word fixes when the cue there starts and how long
the one before it may stand, whatever the other borders are (``timing.border_times``); so the cost
of a cue depends on its two borders alone, and the best of all cuttings is found exactly. The costs
of all cues of the same number of words are computed at once; with at most 40 words a cue that is
linear in the length of the text.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Collection, Sequence
from dataclasses import replace
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from tamarind.captions.limits import ROUNDING, Limits
from tamarind.captions.lines import EVENNESS
from tamarind.captions.syntax import border_costs
from tamarind.captions.timing import Borders, border_times, shown
from tamarind.transcript.model import Cue, Word, text_of
from tamarind.transcript.reconcile import held
from tamarind.transcript.sentences import ends_sentence

PARAGRAPH_PAUSE_MS = 1_800

CUE = 0.9
"""What a cue costs on the scale of ``syntax``, so that there are not more of them than needed."""

BETWEEN = 1.25
"""What a border between cues costs against the same one between lines, which are read at once."""

SENTENCE_INSIDE = 1.2
SHOT_INSIDE = 0.8
"""A sentence, and a shot of the picture, that ends within a cue."""

QUIET_MS, QUIET = 400, 2.5
"""A pause within a cue costs so much for each second beyond the first ms."""

HEALING_MS, HEALING = 900, 0.7
"""A pause of so many ms takes this share of the cost of a border."""

TOO_FAST, FASTER = 30.0, 70.0
TOO_SHORT, SHORTER = 2.5, 10.0
"""Just beyond the limit, and more for as much again as the limit."""

NO_GAP = 30.0
"""A border where words are so short that the gap cannot be kept."""

GRID = 1024.0
LOOKAHEAD = 3
"""What a border costs hangs on words up to so far behind it."""

Costs = NDArray[np.float64]
Said = tuple[Word, int | None]
"""A word and who speaks it."""


def lay_out(
    words: Sequence[Word],
    limits: Limits,
    first_id: int = 1,
    after: int | None = None,
    voices: Sequence[int | None] = (),
    language: str = "en",
    until: int | None = None,
    opening: Collection[int] | None = None,
    shots: Sequence[int] = (),
    before: Said | None = None,
    languages: Sequence[str] = (),
) -> list[Cue]:
    """Return cues for a run of words, in order, numbered from ``first_id``.

    ``voices`` may say for each word who speaks it, ``languages`` in which language if that is not
    the text's; a cue has one speaker and one language. Words at the places in
    ``opening`` begin a paragraph and so a cue; None lets paragraphs be found. ``after`` and
    ``until`` are when the cue before ends and the one behind starts, ``shots`` when a new shot of
    the picture begins (all ms). No word's start is moved; a word's end gives way to the gap before
    the next cue where nothing is silent there, by no more than half of the word. ``before`` is the
    word that stands before them, if they do not begin the text.
    """
    if not words:
        return []
    borders = border_times(words, limits, after, until, shots)
    return _laid(words, limits, borders, first_id, voices, language, opening, before, languages)[0]


def lay_out_so_far(
    words: Sequence[Word],
    limits: Limits,
    first_id: int = 1,
    after: int | None = None,
    voices: Sequence[int | None] = (),
    language: str = "en",
    before: Said | None = None,
    languages: Sequence[str] = (),
    shots: Sequence[int] = (),
) -> tuple[list[Cue], int]:
    """Lay out a text that goes on; return its cues, and how many are final whatever words
    follow."""
    if not words:
        return [], 0
    borders = border_times(words, limits, after, shots=shots)
    return _laid(words, limits, borders, first_id, voices, language, None, before, languages)


def _laid(
    words: Sequence[Word],
    limits: Limits,
    borders: Borders,
    first_id: int,
    voices: Sequence[int | None],
    language: str,
    opening: Collection[int] | None,
    before: Said | None,
    languages: Sequence[str],
) -> tuple[list[Cue], int]:
    """Return the cues, and how many of them are final."""
    spoken = list(voices) or [None] * len(words)
    tags = list(languages) or [""] * len(words)
    forced = np.zeros(len(words) + 1, bool)
    forced[[0, *(opening or ())]] = True
    kinds = zip(spoken, tags, strict=True)
    forced[1:-1] |= np.array([a != b for a, b in pairwise(kinds)], bool)
    syntax = border_costs(
        [word.text for word in words], language, before[0].text if before else None
    )
    cuts, final = _cheapest(words, limits, syntax, forced, borders)
    cues = []
    for place, (first, last) in enumerate(zip(cuts, [*cuts[1:], len(words)], strict=True)):
        group = tuple(words[first:last])
        text = text_of(group)
        start, end = shown(borders, first, last, text, limits)
        opens = opening is not None and first in opening
        cue = Cue(first_id + place, start, end, held(group, start, end), spoken[first], opens)
        cues.append(replace(cue, language=tags[first]) if tags[first] else cue)
    return (with_paragraphs(cues, before) if opening is None else cues), final


def with_paragraphs(cues: Sequence[Cue], before: Said | None = None) -> list[Cue]:
    """Open a paragraph at the first cue, at a change of speaker, and after a long pause.

    ``before`` is the word that stands before them, if they do not begin the text.
    """
    result: list[Cue] = []
    for cue in cues:
        opens = (
            before is None
            or before[1] != cue.speaker
            or (
                cue.words[0].start - before[0].end >= PARAGRAPH_PAUSE_MS
                and ends_sentence(before[0].text)
            )
        )
        result.append(replace(cue, opens_paragraph=opens))
        before = cue.words[-1], cue.speaker
    return result


def _cheapest(
    words: Sequence[Word], limits: Limits, syntax: Costs, forced: NDArray[np.bool_], times: Borders
) -> tuple[list[int], int]:
    """Return the indices of the words that begin a cue, and how many of the cues are final."""
    count = len(words)
    costs = cue_costs(words, limits, syntax, forced, times)
    pauses = np.concatenate([[0.0], times.pauses, [0.0]])
    healed = BETWEEN * syntax * (1 - HEALING * np.clip(pauses / HEALING_MS, 0, 1))
    healed[1:-1] += np.where(times.tight[1:-1], NO_GAP, 0.0)
    healed = _on_grid(healed)
    best = np.zeros(count + 1)
    origin = np.zeros(count + 1, np.intp)
    longest = len(costs)
    # Row ``stop`` holds the costs of the cues that end there, the shortest first.
    by_stop = np.full((count + 1, longest), np.inf)
    for length, row in enumerate(costs, 1):
        by_stop[length:, length - 1] = _on_grid(row[: count + 1 - length])
    for stop in range(1, count + 1):
        reach = min(longest, stop)
        options = best[stop - reach : stop][::-1] + by_stop[stop, :reach]
        length = int(options.argmin())
        best[stop] = options[length] + healed[stop]
        origin[stop] = stop - length - 1
    cuts = _path(origin, count)
    shared = _last_shared(origin, max(count - LOOKAHEAD - longest, 0), count - LOOKAHEAD)
    return cuts, bisect_right(cuts, shared) - 1


def _on_grid(costs: Costs) -> Costs:
    """Round costs so that their sums are exact: of equal ways the same is taken wherever one
    begins."""
    return np.round(costs * GRID) / GRID


def _path(origin: NDArray[np.intp], stop: int) -> list[int]:
    """Return where the cues begin on the best way to a place, in order."""
    cuts = []
    while stop > 0:
        stop = int(origin[stop])
        cuts.append(stop)
    return cuts[::-1]


def _last_shared(origin: NDArray[np.intp], first: int, last: int) -> int:
    """Return the last cut that the best ways to all places in [first, last] share.

    If every way onwards goes through one of the places, nothing that follows can change what is
    before that cut (as where the survivors of a Viterbi search merge).
    """
    ways = set(range(first, last + 1)) if last > 0 else {0}
    while len(ways) > 1:
        furthest = max(ways)
        ways.remove(furthest)
        ways.add(int(origin[furthest]))
    return ways.pop()


def cue_costs(
    words: Sequence[Word], limits: Limits, syntax: Costs, forced: NDArray[np.bool_], times: Borders
) -> list[Costs]:
    """Return the cost of a cue of 1, 2, … words from each word; infinite where none may be.

    Row ``length - 1`` has shape (words,); what would go beyond the last word is infinite too.
    """
    count = len(words)
    spaces = np.array([not word.glued for word in words], float)
    widths = np.array([limits.width(word.text) for word in words], float)
    letters = np.concatenate([[0.0], np.cumsum(widths + spaces)])
    marks_of = np.array([limits.letters(word.text) for word in words], float)
    counted = spaces if limits.counts_spaces else np.zeros(count)
    read = np.concatenate([[0.0], np.cumsum(marks_of + counted)])
    ends_here = np.array([ends_sentence(word.text) for word in words], float)
    sentences = np.concatenate([[0.0], np.cumsum(ends_here)])
    quiet = QUIET * np.clip(times.pauses - QUIET_MS, 0, None) / 1000
    quiets = np.concatenate([[0.0, 0.0], np.cumsum(quiet)])
    cuts = np.cumsum(forced)
    room = (limits.line_length + 1) * limits.lines
    lines: list[list[Costs]] = []
    result: list[Costs] = []
    for length in range(1, count + 1):
        first = np.arange(count + 1 - length)
        last = first + length
        width = letters[last] - letters[first] - spaces[first]
        uneven = EVENNESS * ((limits.line_length - width) / limits.line_length) ** 2
        one = np.where((width <= limits.line_length) | (length == 1), uneven, np.inf)
        lines.append(_lines(lines, one, syntax, length, limits.lines))
        cost = np.min(lines[-1], axis=0) + CUE
        if length > 1:
            cost = np.where(cuts[last - 1] > cuts[first], np.inf, cost)
            over = times.spoken_until[last] - times.start[first] > limits.longest
            cost = np.where(over, np.inf, cost)
        cost = cost + quiets[last] - quiets[first + 1]
        cost = cost + SENTENCE_INSIDE * (sentences[last - 1] - sentences[first])
        cost = cost + SHOT_INSIDE * times.shots_within(first, last)
        lasting = np.minimum(times.latest_end[last] - times.start[first], limits.longest)
        lasting = np.maximum(lasting, 1.0)
        marks = read[last] - read[first] - counted[first]
        fast = 1000 * marks / lasting / (limits.reading_speed + ROUNDING)
        cost = cost + np.where(fast > 1, TOO_FAST + FASTER * (fast - 1), 0.0)
        short = lasting / limits.shortest
        cost = cost + np.where(short < 1, TOO_SHORT + SHORTER * (1 - short), 0.0)
        row = np.full(count, np.inf)
        row[: len(cost)] = cost
        result.append(row)
        if length > 1 and not np.isfinite(row).any() and (width > room).all():
            break
    return result


def _lines(
    shorter: list[list[Costs]], one: Costs, syntax: Costs, length: int, most: int
) -> list[Costs]:
    """Return the cheapest way to set cues of so many words in 1, 2, … ``most`` lines.

    ``shorter`` has the same for cues of fewer words, ``one`` what a single line costs.
    """
    result = [one]
    for number in range(1, min(most, length)):
        best = np.full(len(one), np.inf)
        for head in range(number, length):
            tail = shorter[length - head - 1][0]
            begins = np.arange(len(one)) + head
            option = shorter[head - 1][number - 1][: len(one)] + syntax[begins] + tail[begins]
            np.minimum(best, option, out=best)
        result.append(best)
    while len(result) < most:
        result.append(np.full(len(one), np.inf))
    return result

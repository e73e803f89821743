"""Reconcile edits with word times: the heart of editing.

The new text of a cue is matched with its old words, in order and by likeness, as in the
alignment of sequences by Needleman and Wunsch (1970). Matched words keep their time; the words
of a changed run share the time of the words that they replace; words put in where nothing was
share the room between their neighbours. No word ever has a negative or zero length.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from difflib import SequenceMatcher
from itertools import accumulate, pairwise, takewhile

from tamarind.transcript.anchors import blocks
from tamarind.transcript.bounds import clean_text
from tamarind.transcript.model import Cue, Word, text_of
from tamarind.transcript.tokens import Glued, spans_of, tokens_of
from tamarind.transcript.unspaced import adjoins, is_unspaced

MS_A_LETTER = 65
"""About how long a spoken letter lasts, for words that get their time by estimate."""

SHORTEST_MS = 20
MOST_COMPARED = 60
"""Letters of two words by which it is told how like they are."""

_GAP_COST = 0.6
_LARGEST_TABLE = 4_000


def retext(cue: Cue, text: str) -> Cue:
    """Return the cue with another text; line breaks in ``text`` become the cue's own."""
    lines = [
        tokens_after(cue.words, line) if "\n" not in text else tokens_of(line)
        for line in clean_text(text).split("\n")
    ]
    tokens = [token for line in lines for token in line]
    words = reconcile(cue.words, tokens, cue.start, cue.end)
    end = max(cue.end, words[-1].end) if words else cue.end
    breaks = line_starts(lines) if "\n" in text else carried_breaks(cue, words)
    return replace(cue, end=end, words=words, breaks=breaks, locked=cue.locked or "\n" in text)


def reconcile(old: Sequence[Word], tokens: Sequence[str], start: int, end: int) -> tuple[Word, ...]:
    """Return words for ``tokens`` with times, confidence and alternatives of the words they
    replace.

    ``start`` and ``end`` (ms) are the cue's and bound new words at its edges.
    """
    first, last = common_ends(old, tokens)
    result = list(old[:first])
    middle_old = old[first : len(old) - last]
    middle_new = tokens[first : len(tokens) - last]
    tail = list(old[len(old) - last :])
    for old_run, new_run in runs(middle_old, middle_new):
        if len(old_run) == len(new_run):
            result.extend(map(_reworded, old_run, new_run))
        elif new_run and old_run:
            times = old_run[0].start, old_run[-1].end
            result.extend(spread(new_run, *times, shared_spans(old_run)))
        elif new_run:
            upcoming = _first_kept_after(middle_old, result, tail)
            _insert(result, new_run, upcoming, start, end)
    result.extend(tail)
    return in_order(list(map(_glued_as, result, tokens)))


def tokens_after(old: Sequence[Word], text: str) -> list[str]:
    """Return the tokens of an edited text. In scripts without spaces, where phrases depend on their
    surroundings, unchanged words stay tokens as they are."""
    if not is_unspaced(text) or not old:
        return tokens_of(text)
    before = text_of(old)
    first = _alike(before, text)
    shorter = min(len(before), len(text)) - first
    last = min(_alike(before[::-1], text[::-1]), shorter)
    spans = spans_of(before, [word.text for word in old])
    # A phrase that ends where letters were put in or taken out may have grown or shrunk.
    head = [word for word, (_, end) in zip(old, spans, strict=True) if end < first]
    behind = len(before) - last
    tail = [word for word, (start, _) in zip(old, spans, strict=True) if start > behind]
    tail = tail[max(len(head) + len(tail) - len(old), 0) :]
    begun = spans[len(head) - 1][1] if head else 0
    stop = len(text) - (len(before) - spans[len(old) - len(tail)][0]) if tail else len(text)
    middle = tokens_of(text[begun:stop])
    if middle and head and not text[begun:stop][:1].isspace():
        middle[0] = Glued(middle[0])
    return [*(word.token for word in head), *middle, *(word.token for word in tail)]


def _alike(one: str, other: str) -> int:
    """Count the letters that two texts have in common from their start."""
    pairs = enumerate(zip(one, other, strict=False))
    shorter = min(len(one), len(other))
    return next((place for place, (a, b) in pairs if a != b), shorter)


def _glued_as(word: Word, token: str) -> Word:
    glued = isinstance(token, Glued)
    return word if word.glued == glued else replace(word, glued=glued)


def spread(tokens: Sequence[str], start: int, end: int, spans: tuple[str, ...] = ()) -> list[Word]:
    """Return words over a time span in proportion to their length."""
    times = shares(tokens, start, end, SHORTEST_MS)
    return [
        Word(str(token), begun, until, None, (), spans, isinstance(token, Glued))
        for token, (begun, until) in zip(tokens, times, strict=True)
    ]


def shared_spans(words: Sequence[Word]) -> tuple[str, ...]:
    """Return the spans that all of some words are in, outermost first."""
    if not all(word.spans for word in words):
        return ()
    alike = takewhile(
        lambda of_all: len(set(of_all)) == 1, zip(*(word.spans for word in words), strict=False)
    )
    return tuple(first for first, *_ in alike)


def shares(tokens: Sequence[str], start: int, end: int, shortest: int) -> list[tuple[int, int]]:
    """Divide a time span (ms) by the length of words, at least ``shortest`` for each, even if that
    ends later."""
    edges = [0, *accumulate(len(token) + 1 for token in tokens)]
    spare = max(end - start - shortest * len(tokens), 0)
    times = [
        start + shortest * place + spare * edge // max(edges[-1], 1)
        for place, edge in enumerate(edges)
    ]
    return list(pairwise(times))


def common_ends(old: Sequence[Word], tokens: Sequence[str]) -> tuple[int, int]:
    """Count the identical words at the start and at the end."""
    shorter = min(len(old), len(tokens))
    first = 0
    while first < shorter and old[first].text == tokens[first]:
        first += 1
    last = 0
    while last < shorter - first and old[-1 - last].text == tokens[-1 - last]:
        last += 1
    return first, last


def runs(old: Sequence[Word], tokens: Sequence[str]) -> list[tuple[Sequence[Word], Sequence[str]]]:
    """Yield old words and tokens in order, as pairs that correspond; matches stand alone."""
    if not old or not tokens:
        return [(old, tokens)] if old or tokens else []
    if len(old) * len(tokens) > _LARGEST_TABLE:
        return _runs_between_anchors(old, tokens)
    if len(old) == 1 or len(tokens) == 1:
        return _runs_from(
            old, tokens, _matches(old, tokens) if len(old) != len(tokens) else [(0, 0)]
        )
    return _runs_from(old, tokens, _matches(old, tokens))


def _runs_between_anchors(
    old: Sequence[Word], tokens: Sequence[str]
) -> list[tuple[Sequence[Word], Sequence[str]]]:
    """Split a long text where both certainly agree, and align only what lies between."""
    found: list[tuple[Sequence[Word], Sequence[str]]] = []
    at_old = at_new = 0
    sure = blocks([letters_of(word.text) for word in old], list(map(letters_of, tokens)))
    for first, second, count in [*sure, (len(old), len(tokens), 0)]:
        between = old[at_old:first], tokens[at_new:second]
        if len(between[0]) * len(between[1]) <= _LARGEST_TABLE or (sure and all(between)):
            found.extend(runs(*between))
        elif any(between):
            found.append(between)
        found.extend(
            (old[first + n : first + n + 1], tokens[second + n : second + n + 1])
            for n in range(count)
        )
        at_old, at_new = first + count, second + count
    return found


def _matches(old: Sequence[Word], tokens: Sequence[str]) -> list[tuple[int, int]]:
    """Return the cheapest alignment as pairs of indices."""
    rows, columns = len(old) + 1, len(tokens) + 1
    cost = [[_GAP_COST * (i + j) for j in range(columns)] for i in range(rows)]
    likeness = [[_unlike(word.text, token) for token in tokens] for word in old]
    for i in range(1, rows):
        for j in range(1, columns):
            cost[i][j] = min(
                cost[i - 1][j - 1] + likeness[i - 1][j - 1],
                cost[i - 1][j] + _GAP_COST,
                cost[i][j - 1] + _GAP_COST,
            )
    pairs: list[tuple[int, int]] = []
    i, j = rows - 1, columns - 1
    while i and j:
        if cost[i][j] == cost[i - 1][j - 1] + likeness[i - 1][j - 1]:
            i, j = i - 1, j - 1
            pairs.append((i, j))
        elif cost[i][j] == cost[i - 1][j] + _GAP_COST:
            i -= 1
        else:
            j -= 1
    return pairs[::-1]


def _runs_from(
    old: Sequence[Word], tokens: Sequence[str], pairs: list[tuple[int, int]]
) -> list[tuple[Sequence[Word], Sequence[str]]]:
    found: list[tuple[Sequence[Word], Sequence[str]]] = []
    at_old = at_new = 0
    for i, j in [*pairs, (len(old), len(tokens))]:
        if i > at_old or j > at_new:
            found.append((old[at_old:i], tokens[at_new:j]))
        if i < len(old):
            found.append((old[i : i + 1], tokens[j : j + 1]))
        at_old, at_new = i + 1, j + 1
    return found


def _unlike(a: str, b: str) -> float:
    """Return 0 for the same word, less than two gaps for similar words, else a little more."""
    if a == b:
        return 0.0
    a, b = letters_of(a[:MOST_COMPARED]), letters_of(b[:MOST_COMPARED])
    if a == b:
        return 0.05
    return 1.3 * (1 - SequenceMatcher(None, a, b, autojunk=False).ratio())


def letters_of(text: str) -> str:
    """Return a word without punctuation and capitals: what is spoken rather than how it is
    written."""
    return "".join(letter for letter in text.casefold() if letter.isalnum())


def _reworded(word: Word, token: str) -> Word:
    """Return a word with new text: new letters make it a person's; new punctuation or capitals do
    not."""
    if word.text == token:
        return word
    if letters_of(word.text) == letters_of(token):
        return replace(word, text=str(token))
    return replace(word, text=str(token), confidence=None, alternatives=())


def _first_kept_after(
    middle_old: Sequence[Word], result: Sequence[Word], tail: Sequence[Word]
) -> Word | None:
    reached = result[-1].start if result else -1
    later = (word for word in middle_old if word.start > reached)
    return next(later, tail[0] if tail else None)


def _insert(
    result: list[Word], tokens: Sequence[str], upcoming: Word | None, start: int, end: int
) -> None:
    """Append words in the room before ``upcoming``; if there is none, take some of the word
    before."""
    low = result[-1].end if result else start
    high = max(upcoming.start if upcoming is not None else end, low)
    needed = sum(len(token) + 1 for token in tokens) * MS_A_LETTER
    least = SHORTEST_MS * len(tokens)
    if high - low < min(needed, 2 * least) and result:
        previous = result[-1]
        length = previous.end - previous.start
        taken = min(length // 2, needed - (high - low))
        if taken > 0:
            low -= taken
            result[-1] = replace(previous, end=low)
    if upcoming is None or result:
        high = min(high, low + needed)
    else:
        low = max(low, high - needed)
    around = [result[-1], upcoming] if result and upcoming is not None else []
    result.extend(spread(tokens, low, high, shared_spans(around)))


def adjoining(before: Sequence[Word], words: Sequence[Word]) -> tuple[Word, ...]:
    """Return words that follow others: glued in scripts without spaces."""
    first, *rest = words or (None,)
    if first is None or not before or first.glued or not adjoins(before[-1].text, first.text):
        return tuple(words)
    return replace(first, glued=True), *rest


def in_order(words: Sequence[Word]) -> tuple[Word, ...]:
    """Push overlapping words apart, so that times never run backwards."""
    result: list[Word] = []
    for word in words:
        low = result[-1].end if result else word.start
        if word.start < low or word.end <= word.start:
            begin = max(word.start, low)
            word = replace(word, start=begin, end=max(word.end, begin + 1))
        result.append(word)
    return tuple(result)


def held(words: Sequence[Word], start: int, end: int) -> tuple[Word, ...]:
    """Move words outside a cue's new times inside, in order, at least 1 ms long.

    Where there is less than that for each, they run on beyond the end.
    """
    result: list[Word] = []
    low = start
    for number, word in enumerate(words):
        left = len(words) - number - 1
        begin = max(min(word.start, end - 1 - left), low)
        stop = max(min(word.end, end - left), begin + 1)
        kept = (begin, stop) == (word.start, word.end)
        result.append(word if kept else replace(word, start=begin, end=stop))
        low = stop
    return tuple(result)


def line_starts(lines: Sequence[Sequence[str]]) -> tuple[int, ...]:
    """Return the indices of the words that begin each line but the first; empty lines do not
    count."""
    places: list[int] = []
    count = 0
    for line in lines:
        if count and line:
            places.append(count)
        count += len(line)
    return tuple(places)


def carried_breaks(cue: Cue, words: tuple[Word, ...]) -> tuple[int, ...] | None:
    """Return line breaks before the same words as before, as far as these are still there."""
    if cue.breaks is None:
        return None
    begins = {cue.words[place].start for place in cue.breaks}
    return tuple(place for place, word in enumerate(words) if place and word.start in begins)

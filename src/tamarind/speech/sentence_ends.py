"""Add ends of sentences that a recogniser has left out, where they are certain.

A recogniser marks what it hears piece by piece, and likes commas. A sentence ends where another
person begins to speak after a pause or a comma, where a long rest follows a comma that parts no
list, or a word that can be a sentence's last, before what only
a question begins with ("when did you …": verb before subject), at a comma between what are two
sentences (``commas``), and with the recording.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tamarind.speech.commas import ends_after
from tamarind.transcript.languages import base_of
from tamarind.transcript.model import Word
from tamarind.transcript.sentences import CLOSERS, bare, ends_sentence
from tamarind.transcript.unspaced import UNMARKED, is_unspaced

REST_MS = 800
"""So long nobody rests after a comma."""

TURN_MS = 250
"""So long a rest is where another person begins to speak; a change without one is no end: it may
be a mistake, and people finish one another's sentences."""

STOP_MS, STOP_FAR_MS = 900, 2_000
"""So long nobody rests within a sentence after a word that can end it, in English; and in other
languages, where no one knows which words can."""

LIST_WORDS = 4
"""What stands between two commas of a list has at most so many words."""

_SOFT = ",;:"
_ASKING = frozenset("what when where why how who which whose".split())
_VERBS = frozenset(
    "did do does is are was were have has had can could would will should didn't don't doesn't"
    " isn't aren't wasn't".split()
)
_SUBJECTS = frozenset(
    "you he she they we it i the your his her their that this each everyone anybody".split()
)
_JOINING = frozenset("and so but or now".split())
_UNFINISHED = frozenset(
    "a an the this these those my your his its our their and or but nor so because if when"
    " while where which who whose that than as at by for from in into of off on onto over to"
    " toward towards under with without within about after before between during through"
    " until up is are was were be been being am has have had do does did will would can"
    " could shall should may might must not very more most some any each every no i you he"
    " she we they it there what how why just really quite um uh er erm mm hmm like don't"
    " doesn't didn't isn't aren't wasn't weren't can't won't i'm you're he's she's it's"
    " we're they're i've we've they've i'd you'd i'll you'll we'll they'll let's mr mrs ms"
    " dr".split()
)
"""With these a sentence does not end by itself: who rests after one goes on."""

_NEVER_LAST = frozenset("a an the than and or your my their our its".split())
"""A full stop after one of these is a mistake, unless nothing follows."""

_GOING_ON = frozenset("and or but because so which who that than of with for from when if".split())
"""Who begins again with one of these in small letters goes on."""

LONGEST_QUESTION = 30
"""Words."""


def with_ends(
    words: Sequence[Word],
    voices: Sequence[int | None],
    languages: Sequence[str],
    is_last: bool,
    splices: bool = False,
) -> tuple[Word, ...]:
    """Return the words with those ends, and capitals after them.

    ``voices`` and ``languages`` are those of each word; ``is_last`` says that the recording ends
    with them, ``splices`` that the recogniser is one that joins sentences with commas.
    """
    result = list(words)
    for place in range(1, len(result)):
        before, word = result[place - 1], result[place]
        if before.text.endswith(".") and bare(before.text) in _NEVER_LAST:
            before = result[place - 1] = replace(before, text=before.text.rstrip("."))
        if not _takes_marks(before, languages[place - 1]) or ends_sentence(before.text):
            continue
        turns = None not in voices[place - 1 : place + 1] and voices[place - 1] != voices[place]
        rest = word.start - before.end
        is_soft = before.text.rstrip(CLOSERS).endswith(tuple(_SOFT))
        parts = turns and (is_soft or (rest >= TURN_MS and _can_end(before.text)))
        if parts or _rests_at_end(result, place, rest, is_soft, languages[place]):
            _end(result, place)
        elif base_of(languages[place]) == "en" and _asks(result, place):
            _end(result, _before_the_called(result, place))
    for place in ends_after([word.text for word in result]) if splices else ():
        if place + 1 < len(result) and base_of(languages[place]) == "en":
            _end(result, place + 1)
    if is_last and result and _takes_marks(result[-1], languages[-1]):
        result[-1] = _ended(result[-1])
    _mark_questions(result, languages)
    return tuple(result)


def _rests_at_end(
    words: Sequence[Word], place: int, rest: int, is_soft: bool, language: str
) -> bool:
    """Whether the rest (ms) before a word is so long that the sentence before is over."""
    if is_soft:
        return rest >= REST_MS and (rest >= STOP_FAR_MS or not _parts_a_list(words, place))
    if base_of(language) != "en":
        return rest >= STOP_FAR_MS
    goes_on = words[place].text in _GOING_ON
    return rest >= STOP_MS and _can_end(words[place - 1].text) and not goes_on


def _can_end(text: str) -> bool:
    """Whether a sentence may end with a word; in languages other than English any can."""
    return bare(text) not in _UNFINISHED


def _parts_a_list(words: Sequence[Word], place: int) -> bool:
    """Whether a comma before a word is part of a list: short parts on both sides."""
    texts = [word.text for word in words]
    before = texts[max(place - 1 - LIST_WORDS, 0) : place - 1]
    after = texts[place : place + LIST_WORDS]
    goes_on = any(text.endswith(",") or text in ("and", "or") for text in after)
    return goes_on and (any(text.endswith(",") for text in before) or texts[place] in ("and", "or"))


def _mark_questions(words: list[Word], languages: Sequence[str]) -> None:
    """End sentences that begin as only questions do with a question mark."""
    first = 0
    for place, word in enumerate(words):
        if not ends_sentence(word.text):
            continue
        is_short = place - first < LONGEST_QUESTION and word.text.endswith(".")
        if is_short and base_of(languages[first]) == "en" and _inverts(words[first:place]):
            words[place] = replace(word, text=f"{word.text.rstrip('.')}?")
        first = place + 1


def _takes_marks(word: Word, language: str) -> bool:
    """Whether this language and script end sentences with these marks."""
    return base_of(language) not in UNMARKED and not is_unspaced(word.text)


def _asks(words: Sequence[Word], place: int) -> bool:
    """Whether a sentence that begins with a word must be a question."""
    return _inverts(words[place : place + 4]) and bare(words[place - 1].text) not in _JOINING


def _inverts(words: Sequence[Word]) -> bool:
    """Whether words begin with a question word, a verb and its subject."""
    texts = [word.text.casefold() for word in words[:4]]
    if texts and texts[0] in _JOINING:
        texts = texts[1:]
    return (
        len(texts) >= 3
        and texts[0] in _ASKING
        and texts[1] in _VERBS
        and bare(texts[2]) in _SUBJECTS
    )


def _before_the_called(words: Sequence[Word], place: int) -> int:
    """Return where a sentence begins that addresses somebody first: "…, Martin, what did you …"."""
    called = words[place - 1]
    soft = called.text.endswith(",") and called.text[:1].isupper()
    if place >= 2 and soft and words[place - 2].text.endswith(","):
        return place - 1
    return place


def _end(words: list[Word], place: int) -> None:
    """End a sentence before the word at an index."""
    words[place - 1] = _ended(words[place - 1])
    following = words[place]
    text = following.text[:1].upper() + following.text[1:]
    if text != following.text and not following.glued:
        words[place] = replace(following, text=text)


def _ended(word: Word) -> Word:
    """Return a word with a full stop in place of a weaker mark, inside closing quotes."""
    if ends_sentence(word.text):
        return word
    inner = word.text.rstrip(CLOSERS)
    closing = word.text[len(inner) :]
    return replace(word, text=f"{inner.rstrip(_SOFT + '–—-')}.{closing}")

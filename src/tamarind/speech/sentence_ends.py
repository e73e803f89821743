"""Ends of sentences that a recogniser has left out, where there is no doubt that one belongs there.

A recogniser marks what it hears piece by piece, and likes commas. A sentence ends where another
person begins to speak after a pause or a comma, where a long rest follows a comma, before what only
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

TURN_MS = 200
"""So long nobody pauses in the middle of a word that is taken for another's."""

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
LONGEST_QUESTION = 30
"""Words."""


def with_ends(
    words: Sequence[Word],
    voices: Sequence[int | None],
    languages: Sequence[str],
    is_last: bool,
    splices: bool = False,
) -> tuple[Word, ...]:
    """The words with those ends, and capitals after them.

    ``voices`` and ``languages`` are those of each word; ``is_last`` says that the recording ends
    with them, ``splices`` that the recogniser is one that joins sentences with commas.
    """
    result = list(words)
    for place in range(1, len(result)):
        before, word = result[place - 1], result[place]
        if not _takes_marks(before, languages[place - 1]) or ends_sentence(before.text):
            continue
        turns = None not in voices[place - 1 : place + 1] and voices[place - 1] != voices[place]
        rest = word.start - before.end
        is_soft = before.text.rstrip(CLOSERS).endswith(tuple(_SOFT))
        if (turns and (is_soft or rest >= TURN_MS or word.text[:1].isupper())) or (
            is_soft and rest >= REST_MS
        ):
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


def _mark_questions(words: list[Word], languages: Sequence[str]) -> None:
    """A sentence that begins as only a question does ends with its mark."""
    first = 0
    for place, word in enumerate(words):
        if not ends_sentence(word.text):
            continue
        is_short = place - first < LONGEST_QUESTION and word.text.endswith(".")
        if is_short and base_of(languages[first]) == "en" and _inverts(words[first:place]):
            words[place] = replace(word, text=f"{word.text.rstrip('.')}?")
        first = place + 1


def _takes_marks(word: Word, language: str) -> bool:
    """Whether the end of a sentence is written so in this language and script."""
    return base_of(language) not in UNMARKED and not is_unspaced(word.text)


def _asks(words: Sequence[Word], place: int) -> bool:
    """Whether a question begins with a word, as only a question does."""
    return _inverts(words[place : place + 4]) and bare(words[place - 1].text) not in _JOINING


def _inverts(words: Sequence[Word]) -> bool:
    """Whether words begin with one that asks, a verb and its subject."""
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
    """Where a sentence begins that calls somebody first: "…, Martin, what did you …"."""
    called = words[place - 1]
    soft = called.text.endswith(",") and called.text[:1].isupper()
    if place >= 2 and soft and words[place - 2].text.endswith(","):
        return place - 1
    return place


def _end(words: list[Word], place: int) -> None:
    """A sentence ends before the word at a place."""
    words[place - 1] = _ended(words[place - 1])
    following = words[place]
    text = following.text[:1].upper() + following.text[1:]
    if text != following.text and not following.glued:
        words[place] = replace(following, text=text)


def _ended(word: Word) -> Word:
    """A word with a full stop, in place of a softer mark, within what closes behind it."""
    if ends_sentence(word.text):
        return word
    inner = word.text.rstrip(CLOSERS)
    closing = word.text[len(inner) :]
    return replace(word, text=f"{inner.rstrip(_SOFT + '–—-')}.{closing}")

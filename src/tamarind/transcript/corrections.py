"""Find which words a person corrected, and the same mistakes in other places."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from tamarind.transcript.bounds import clean_text
from tamarind.transcript.edits import replace_cues
from tamarind.transcript.model import Transcript, Word, text_of
from tamarind.transcript.reconcile import (
    carried_breaks,
    common_ends,
    in_order,
    letters_of,
    runs,
    spread,
)
from tamarind.transcript.tokens import tokens_of

MOST_WORDS = 4
MOST_CHANGED = 12
"""A cue of which more words than this were changed has been written anew, not corrected."""
_MARKS = re.compile(r"^(\W*)(.*?)(\W*)$", re.DOTALL)


@dataclass(frozen=True, slots=True)
class Correction:
    """The words without punctuation around them, and what a person wrote instead."""

    wrong: str
    right: str


@dataclass(frozen=True, slots=True)
class Occurrence:
    """The words [``first``, ``last``) of a cue of a recording; ``unlike`` is 0 if they are written
    just as the mistake, more the less alike they sound."""

    recording: int
    place: int
    first: int
    last: int
    text: str
    unlike: float


def corrections(before: Sequence[Word], after: Sequence[Word]) -> list[Correction]:
    """Return the words of a cue that were replaced; changes of punctuation or capitals alone are
    none."""
    tokens = [word.text for word in after]
    head, tail = common_ends(before, tokens)
    before, tokens = before[head : len(before) - tail], tokens[head : len(tokens) - tail]
    if len(before) > MOST_CHANGED or len(tokens) > MOST_CHANGED:
        return []
    found: list[Correction] = []
    old: list[str] = []
    new: list[str] = []
    for old_run, new_run in [*runs(before, tokens), ((), ())]:
        if [word.text for word in old_run] != list(new_run):
            old += [word.text for word in old_run]
            new += new_run
            continue
        wrong, right = bare(" ".join(old)), bare(" ".join(new))
        few = len(old) <= MOST_WORDS and len(new) <= MOST_WORDS
        if (
            few
            and letters_of(wrong)
            and letters_of(right)
            and letters_of(wrong) != letters_of(right)
        ):
            found.append(Correction(wrong, right))
        old, new = [], []
    return found


def same_mistake(
    transcript: Transcript, recording: int, correction: Correction
) -> list[Occurrence]:
    """Return every place written just as the mistake."""
    wrong = [letters_of(token) for token in tokens_of(correction.wrong)]
    found: list[Occurrence] = []
    for place, cue in enumerate(transcript.cues):
        letters = [letters_of(word.text) for word in cue.words]
        first = 0
        while first + len(wrong) <= len(letters):
            if letters[first : first + len(wrong)] == wrong:
                last = first + len(wrong)
                text = text_of(cue.words[first:last])
                found.append(Occurrence(recording, place, first, last=last, text=text, unlike=0.0))
                first = last
            else:
                first += 1
    return found


def put(transcript: Transcript, spot: Occurrence, right: str) -> Transcript:
    """Return the text with ``right`` in one place, keeping punctuation and first capital.

    The words' times stay; to put several into one cue, begin with the last.
    """
    cue = transcript.cues[spot.place]
    old = cue.words[spot.first : spot.last]
    head, tail = marks_around(old[0].text)[0], marks_around(old[-1].text)[1]
    if bare(old[0].text)[:1].isupper() and starts_sentence(cue.words, spot.first):
        right = right[:1].upper() + right[1:]
    tokens = tokens_of(clean_text(f"{head}{right}{tail}"))
    words = in_order(
        (
            *cue.words[: spot.first],
            *_glued_like(old[0], spread(tokens, old[0].start, old[-1].end)),
            *cue.words[spot.last :],
        )
    )
    new = replace(
        cue,
        words=words,
        end=max(cue.end, words[-1].end),
        breaks=carried_breaks(cue, words),
    )
    return replace_cues(transcript, spot.place, spot.place + 1, new)


def _glued_like(old: Word, words: Sequence[Word]) -> list[Word]:
    return [replace(word, glued=old.glued or word.glued) for word in words[:1]] + list(words[1:])


def starts_sentence(words: Sequence[Word], place: int) -> bool:
    """Whether a word is the first of its cue or follows the end of a sentence."""
    return place == 0 or words[place - 1].text.rstrip("\"'”’)]»").endswith((".", "?", "!", "…"))


def marks_around(text: str) -> tuple[str, str]:
    """Return the punctuation before and after a text."""
    match = _MARKS.match(text)
    return (match[1], match[3]) if match else ("", "")


def bare(text: str) -> str:
    """Return a text without the punctuation around it."""
    match = _MARKS.match(text)
    return match[2] if match else text

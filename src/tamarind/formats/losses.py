"""What of a text's styling a format cannot hold, told before it is lost."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Mapping
from enum import StrEnum

from tamarind.formats.colours import colour_of
from tamarind.formats.documents import WRITTEN
from tamarind.formats.format import Holds
from tamarind.formats.placing import is_exact
from tamarind.formats.spans import LOOKS, READING, head_of
from tamarind.transcript.model import Cue, Transcript


class Kept(StrEnum):
    """What becomes of a field in every format, whatever that can hold."""

    SAID = "said in every format"
    LAYOUT = "paragraphs of documents, lines of captions"
    WORK = "the job's own, which is no part of any document"


FIELDS: Mapping[str, Holds | Kept] = {
    "start": Kept.SAID,
    "end": Kept.SAID,
    "words": Kept.SAID,
    "breaks": Kept.LAYOUT,
    "opens_paragraph": Kept.LAYOUT,
    "speaker": Holds.SPEAKER,
    "placement": Holds.PLACE,
    "note": Holds.NOTE,
    "language": Holds.LANGUAGE,
    "heading": Holds.HEADING,
    "look": Holds.OWN_LOOK,
    "id": Kept.WORK,
    "settled": Kept.WORK,
    "locked": Kept.WORK,
    "paragraph_set": Kept.WORK,
}
"""Every field of a cue: what must be among the losses of a format that does not keep it."""

WORD_FIELDS: Mapping[str, Holds | Kept] = {
    "text": Kept.SAID,
    "start": Kept.SAID,
    "end": Kept.SAID,
    "spans": Holds.LOOK,
    "glued": Kept.SAID,
    "confidence": Kept.WORK,
    "alternatives": Kept.WORK,
}
"""Every field of a word; spans are of several kinds."""


def losses(transcript: Transcript, suffix: str) -> Counter[str]:
    """How often which kind of styling is in a text that this format cannot hold."""
    found: Counter[str] = Counter()
    for cue in transcript.cues:
        if cue.words:
            found.update(_kinds_in(cue))
    if transcript.preamble:
        found[Holds.BLOCKS] += 1
    held = WRITTEN[suffix].holds
    if Holds.PLACE not in held:
        found.pop(Holds.FINE_PLACE, None)
    return Counter({kind: count for kind, count in found.items() if kind not in held})


def in_words(dropped: Mapping[str, int]) -> str:
    """A list of what is dropped, the most frequent first: "colours (12), notes"."""
    ordered = sorted(dropped.items(), key=lambda entry: (-entry[1], entry[0]))
    return ", ".join(f"{kind} ({count})" if count > 1 else kind for kind, count in ordered)


def _kinds_in(cue: Cue) -> Iterable[str]:
    """A kind for every word or cue that has it."""
    if cue.placement:
        yield Holds.PLACE
        if not is_exact(cue.placement):
            yield Holds.FINE_PLACE
    if cue.note:
        yield Holds.NOTE
    if cue.speaker is not None:
        yield Holds.SPEAKER
    if cue.language:
        yield Holds.LANGUAGE
    if cue.heading:
        yield Holds.HEADING
    if cue.look:
        yield Holds.OWN_LOOK
    for word in cue.words:
        yield from dict.fromkeys(map(_kind_of, word.spans))


def _kind_of(span: str) -> str:
    tests: tuple[tuple[str, Callable[[str], object]], ...] = (
        (Holds.RUBY, lambda one: one.startswith(READING)),
        (Holds.COLOUR, colour_of),
        (Holds.LOOK, lambda one: head_of(one) in LOOKS),
        (Holds.LANGUAGE, lambda one: head_of(one) == "lang"),
    )
    return next((kind for kind, test in tests if test(span)), Holds.CLASS)

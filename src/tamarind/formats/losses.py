"""What of a text's styling a format cannot hold, told before it is lost."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Mapping

from tamarind.formats.colours import colour_of
from tamarind.formats.placing import is_exact
from tamarind.formats.spans import LOOKS, READING, head_of
from tamarind.transcript.model import Cue, Transcript

LOOK, COLOUR, CLASS, LANGUAGE, RUBY = (
    "italics, bold and underlined", "colours", "classes", "languages of words", "readings (ruby)",
)  # fmt: skip
PLACE, FINE_PLACE, NOTE, BLOCKS, SPEAKER = (
    "places on the picture", "exact places (the nearest of nine is written)", "notes",
    "style and region blocks", "who speaks",
)  # fmt: skip

_HOLDS: dict[str, frozenset[str]] = {
    "json": frozenset(
        (LOOK, COLOUR, CLASS, LANGUAGE, RUBY, PLACE, FINE_PLACE, NOTE, BLOCKS, SPEAKER)
    ),
    "vtt": frozenset(
        (LOOK, COLOUR, CLASS, LANGUAGE, RUBY, PLACE, FINE_PLACE, NOTE, BLOCKS, SPEAKER)
    ),
    "ttml": frozenset((LOOK, COLOUR, RUBY, PLACE, FINE_PLACE, SPEAKER)),
    "srt": frozenset((LOOK, COLOUR, PLACE)),
    "docx": frozenset((LOOK, SPEAKER)),
    "html": frozenset((LOOK, SPEAKER)),
    "txt": frozenset((SPEAKER,)),
    "csv": frozenset((SPEAKER,)),
}


def losses(transcript: Transcript, suffix: str) -> Counter[str]:
    """How often which kind of styling is in a text that this format cannot hold."""
    found: Counter[str] = Counter()
    for cue in transcript.cues:
        if cue.words:
            found.update(_kinds_in(cue))
    if transcript.preamble:
        found[BLOCKS] += 1
    held = _HOLDS[suffix]
    if PLACE not in held:
        found.pop(FINE_PLACE, None)
    return Counter({kind: count for kind, count in found.items() if kind not in held})


def in_words(dropped: Mapping[str, int]) -> str:
    """A list of what is dropped, the most frequent first: "colours (12), notes"."""
    ordered = sorted(dropped.items(), key=lambda entry: (-entry[1], entry[0]))
    return ", ".join(f"{kind} ({count})" if count > 1 else kind for kind, count in ordered)


def _kinds_in(cue: Cue) -> Iterable[str]:
    """A kind for every word or cue that has it."""
    if cue.placement:
        yield PLACE
        if not is_exact(cue.placement):
            yield FINE_PLACE
    if cue.note:
        yield NOTE
    if cue.speaker is not None:
        yield SPEAKER
    for word in cue.words:
        yield from dict.fromkeys(map(_kind_of, word.spans))


def _kind_of(span: str) -> str:
    tests: tuple[tuple[str, Callable[[str], object]], ...] = (
        (RUBY, lambda one: one.startswith(READING)),
        (COLOUR, colour_of),
        (LOOK, lambda one: head_of(one) in LOOKS),
        (LANGUAGE, lambda one: head_of(one) == "lang"),
    )
    return next((kind for kind, test in tests if test(span)), CLASS)

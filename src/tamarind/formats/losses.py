"""What styling of a text a format cannot hold, told before it is lost."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Mapping

from tamarind.formats.colours import colour_of
from tamarind.formats.documents import WRITTEN
from tamarind.formats.placing import is_exact
from tamarind.formats.spans import LOOKS, READING, head_of
from tamarind.transcript.fields import OF_A_CUE, Holds
from tamarind.transcript.model import Cue, Transcript

_STYLED = tuple((one.name, one.fate) for one in OF_A_CUE if isinstance(one.fate, Holds))


def losses(transcript: Transcript, suffix: str) -> Counter[str]:
    """Count each kind of styling in a text that this format cannot hold."""
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
    """Return a list of what is dropped, most frequent first: "colours (12), notes"."""
    ordered = sorted(dropped.items(), key=lambda entry: (-entry[1], entry[0]))
    return ", ".join(f"{kind} ({count})" if count > 1 else kind for kind, count in ordered)


def _kinds_in(cue: Cue) -> Iterable[str]:
    """Yield a kind for every word or cue that has it."""
    for name, kind in _STYLED:
        if getattr(cue, name) not in (None, ""):
            yield kind
    if cue.placement and not is_exact(cue.placement):
        yield Holds.FINE_PLACE
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

"""What a check is: one class with its words, its condition and its fixes."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from itertools import pairwise
from typing import ClassVar

from tamarind.captions.limits import Limits
from tamarind.captions.lines import break_lines
from tamarind.checks.finding import Finding, Fix, Reword
from tamarind.formats.documents import USUAL
from tamarind.formats.format import Options
from tamarind.language.clean import Disfluency, disfluencies
from tamarind.language.housestyle import HouseStyle, Level, Verbatim
from tamarind.transcript.model import DOUBTFUL_BELOW, Cue, Transcript
from tamarind.transcript.reconcile import letters_of
from tamarind.transcript.tokens import joined
from tamarind.translation.tracks import Track

Span = tuple[int, int]

CAPTIONS, SOUND, WORDING, OUTPUT = "Captions", "Sound", "Wording", "Other languages and files"
"""The groups in which checks are listed."""


@dataclass(frozen=True)
class CheckContext:
    """What a text is checked with: its style, translations, the terms that are always right, and
    where somebody speaks (None if that is not known; ``unheard`` is what the transcription told
    then)."""

    style: HouseStyle
    tracks: tuple[Track, ...] = ()
    terms: tuple[str, ...] = ()
    speech: tuple[Span, ...] | None = None
    unheard: tuple[Span, ...] = ()
    threshold: float = DOUBTFUL_BELOW
    encoding: str = "utf-8"
    files: tuple[str, ...] = ()
    """Suffixes of the files that will be written, with ``file_options``."""

    file_options: Options = USUAL
    track_limits: Mapping[str, Limits] = field(default_factory=dict)
    """Of translations by their languages; where there are none they are the style's."""

    at_once: tuple[Span, ...] = ()
    """Where two speak at the same time, as far as hearing could tell."""

    contrasts: tuple[tuple[int, float], ...] = ()
    """How well captions stand out on their pictures (1 to 21), by when they begin (ms);
    ``readable`` is the key of a look that does."""

    readable: str = ""
    captions: bool = True
    """Whether the text will be shown as captions; else rules of lines and times do not count."""

    @property
    def languages(self) -> tuple[str, ...]:
        """The languages of the translations."""
        return tuple(track.language for track in self.tracks)

    @cached_property
    def right(self) -> frozenset[str]:
        """The words of terms, letters only, which are never reported."""
        return frozenset(letters_of(word) for term in self.terms for word in term.split())


@dataclass
class Around:
    """A cue with words, its neighbours, and facts that several checks need."""

    before: Cue | None
    cue: Cue
    following: Cue | None
    language: str
    """That of the cue."""

    context: CheckContext

    @property
    def limits(self) -> Limits:
        """The limits of captions."""
        return self.context.style.captions

    @cached_property
    def text(self) -> str:
        """The words of the cue on one line."""
        return self.cue.text

    @cached_property
    def texts(self) -> list[str]:
        """The text of each word."""
        return [word.text for word in self.cue.words]

    @cached_property
    def ruled(self) -> tuple[int, ...]:
        """The line breaks that layout would give the cue."""
        return break_lines([word.token for word in self.cue.words], self.limits, self.language)

    @cached_property
    def ruled_lines(self) -> tuple[str, ...]:
        """The lines that layout would give the cue."""
        if not self.ruled:
            return (self.text,)
        tokens = [word.token for word in self.cue.words]
        edges = [0, *self.ruled, len(tokens)]
        return tuple(joined(tokens[a:b]) for a, b in pairwise(edges))

    @cached_property
    def lines(self) -> tuple[str, ...]:
        """The lines of the cue as they are shown."""
        return self.cue.lines if self.cue.breaks is not None else self.ruled_lines

    @property
    def asks_for_clean(self) -> bool:
        """Whether the style leaves out fillers and false starts."""
        return self.context.style.wording.verbatim is not Verbatim.FULL

    @cached_property
    def disfluencies(self) -> Sequence[Disfluency]:
        """Fillers, false starts and repeated words."""
        return disfluencies(self.texts, self.context.style.wording.fillers)


@dataclass
class CheckMemory:
    """What a check keeps from one run to the next, and how it asks whether to stop."""

    stopped: Callable[[], bool]
    kept: dict[object, tuple[object, tuple[Finding, ...]]]

    def findings(
        self, key: object, about: object, find: Callable[[], Iterable[Finding]]
    ) -> tuple[Finding, ...]:
        """Return the findings under a key; they are computed again if their subject has changed."""
        known = self.kept.get(key)
        if known is None or known[0] != about:
            known = self.kept[key] = about, tuple(find())
        return known[1]


class Check:
    """One check. A subclass with a ``key`` is listed, in the order of declaration in its group.

    Findings ``in_cue`` are kept as long as the cue, its neighbours and its translations are the
    same, and all that it ``uses`` of the context; those ``in_text`` are found each time.

    Where the fix is ``certain`` it follows from the rule alone: marks, times, lines, figures by the
    style. Others are guesses, which a person takes one by one.
    """

    key: ClassVar[str] = ""
    title: ClassVar[str]
    group: ClassVar[str]
    level: ClassVar[Level] = Level.HINT
    certain: ClassVar[bool] = False
    uses: ClassVar[tuple[str, ...]] = ()
    """Attributes of the context, such as "style.captions"."""

    all: ClassVar[dict[str, Check]] = {}
    """Every check by its key."""

    def __init_subclass__(cls) -> None:
        if cls.key:
            Check.all[cls.key] = cls()

    def in_cue(self, around: Around) -> Iterable[Finding]:
        """Find what is wrong in a cue with words."""
        return ()

    def in_text(
        self, text: Transcript, context: CheckContext, memory: CheckMemory
    ) -> Iterable[Finding]:
        """Find what is wrong in a whole text."""
        return ()

    def found(self, cue: Cue, reason: str, *fixes: Fix) -> Finding:
        """A finding about a cue as a whole."""
        return Finding(self.key, cue.id, cue.start, reason, cue.text, fixes=fixes)

    def at(self, cue: Cue, first: int, last: int, reason: str, *fixes: Fix) -> Finding:
        """A finding about the words [first, last) of a cue."""
        text = " ".join(word.text for word in cue.words[first:last])
        start = cue.words[first].start
        return Finding(
            self.key,
            cue.id,
            start,
            reason=reason,
            excerpt=text,
            first=first,
            last=last,
            fixes=fixes,
        )

    def reword(self, cue: Cue, first: int, last: int, reason: str, new: str) -> Finding:
        """A finding whose fix puts ``new`` in place of the words [first, last)."""
        old = tuple(word.text for word in cue.words[first:last])
        return self.at(cue, first, last, reason, Reword(cue.id, first, old, new))


class CaptionCheck(Check):
    """A check of captions; it counts only where the text is shown as captions."""

    group = CAPTIONS
    level = Level.MUST
    certain = True
    uses: ClassVar[tuple[str, ...]] = ("style.captions",)

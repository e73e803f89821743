"""What a document format is: its names, its abilities, its reader and writer.

Each module of a format declares its own as ``FORMATS``; ``documents`` finds them.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum

from tamarind.formats.broadcast.smpte import PLAIN_TIMECODES, Timecodes
from tamarind.formats.captionfile import Repairs
from tamarind.formats.encoding import UTF8, Bytes
from tamarind.formats.reading.paragraphs import PLAIN, TextOptions
from tamarind.formats.reading.template import Template
from tamarind.picture.looks import Look
from tamarind.transcript.descriptions import Description
from tamarind.transcript.fields import Holds
from tamarind.transcript.model import Transcript


class DocumentKind(StrEnum):
    """What a document is for."""

    CAPTIONS = "captions"
    BROADCAST = "broadcast"
    """Captions in files of broadcasters."""

    READING = "reading"
    DATA = "data"


class FormatOption(StrEnum):
    """A choice about how a format is written."""

    DETAILS = "details"
    """Voices, times of words, what a file had that it came from."""

    TIMECODES = "timecodes"
    """Where timecodes begin, and how they count."""

    ROLLS = "rolls"
    """Captions that roll up or are painted, by the format's own codes."""

    LOOK = "look"
    """The look of captions, as far as the format has words for it."""

    SIDE_BY_SIDE = "side by side"
    """Translations beside the text."""

    LINES = "lines"
    """Numbers at the lines, and wide margins."""

    TEMPLATE = "template"
    """A file of the client's as the base."""


@dataclass(frozen=True, slots=True)
class Details:
    """What captions have besides their text, where the format has room for it: voices, word times,
    and what their file had (style and region blocks, notes, other spans)."""

    voices: bool = True
    word_times: bool = False
    kept: bool = True


PLAIN_DETAILS = Details()


@dataclass(frozen=True, slots=True)
class Origin:
    """What a document is made from besides its text: ``duration`` in ms, ``translations`` one text
    a cue for each language, ``part`` the section that was transcribed, ``descriptions`` the audio
    descriptions."""

    name: str
    duration: int
    translations: Mapping[str, Sequence[str | None]] = field(default_factory=dict)
    part: tuple[int, int] | None = None
    descriptions: tuple[Description, ...] = ()

    @property
    def length(self) -> int:
        """The length of what was transcribed (ms)."""
        return self.duration if self.part is None else max(self.part[1] - self.part[0], 0)


@dataclass(frozen=True, slots=True)
class Options:
    """How documents are written; ``language_names`` for column heads, ``client`` and ``date`` for
    page heads.

    ``timecodes`` are those of broadcasters' files; in such ``rows`` lines roll up (None: captions
    pop on), or captions are ``painted`` as they are said. Formats with styling say a ``look``.
    Documents for reading may have ``numbered`` lines and wide margins, and be made within
    ``templates``; they have a ``title`` ("": the file's name), ``fields`` at their head (name and
    value), a ``closing`` note, and an ``author`` in their properties. ``spelling`` is the region
    whose English they are in.
    """

    text: TextOptions = PLAIN
    details: Details = PLAIN_DETAILS
    bytes: Bytes = UTF8
    side_by_side: bool = False
    language_names: Mapping[str, str] = field(default_factory=dict)
    client: str = ""
    date: str = ""
    timecodes: Timecodes = PLAIN_TIMECODES
    rows: int | None = None
    painted: bool = False
    look: Look | None = None
    numbered: bool = False
    templates: tuple[Template, ...] = ()
    title: str = ""
    fields: tuple[tuple[str, str], ...] = ()
    closing: str = ""
    author: str = ""
    spelling: str = ""


@dataclass(frozen=True, slots=True)
class Lack:
    """What a format cannot hold of a cue, in a few words; ``time`` (ms) is the cue's start."""

    cue: int
    time: int
    reason: str


Reader = Callable[[str, str, Repairs], Transcript]
"""From a text and the language that it is in unless it says so; raises FormatError."""

DataReader = Callable[[bytes, str, Repairs], Transcript]
"""As a reader, of a format that is no text."""

Writer = Callable[[Transcript, Origin, Options], str | bytes]
"""Line breaks must be set in the cues."""


@dataclass(frozen=True, slots=True)
class Format:
    """A format; the first of the ``suffixes`` is the one that is written, ``label`` its name.

    ``sign`` matches the start of a text that is of this format; a ``loose`` sign is tried after
    those of all others. A format that ``is_utf8`` says its encoding itself, or has only that one.
    ``origin_of`` finds in a text what it was made from.
    """

    suffixes: tuple[str, ...]
    label: str
    kind: DocumentKind
    read: Reader | None = None
    write: Writer | None = None
    holds: frozenset[Holds] = frozenset()
    choices: frozenset[FormatOption] = frozenset()
    is_utf8: bool = False
    read_data: DataReader | None = None
    data_sign: re.Pattern[bytes] | None = None
    """As ``sign``, of a format that is no text."""

    may_mark: bool = True
    """Whether a byte-order mark may stand before it, where it is UTF-8 anyway."""

    sign: re.Pattern[str] | None = None
    loose: bool = False
    origin_of: Callable[[str], Origin] | None = None
    timecodes_of: Callable[[bytes], Timecodes] | None = None
    """Finds the timecodes of a file."""

    columns: int = 0
    """Letters that a row of the picture has, in formats of rows and columns."""

    lacks: Callable[[Transcript, Options], Iterable[Lack]] | None = None
    """What of single cues it cannot hold, with line breaks set."""

    rank: int = 50
    """Its place among those of its kind, where they are offered."""

    for_excerpts: bool = False
    """Whether the captions of an excerpt are written in it."""

    for_exchange: bool = False
    """Whether translations are handed out and taken back in it."""

    @property
    def suffix(self) -> str:
        """The suffix that is written."""
        return self.suffixes[0]

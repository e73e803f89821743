"""The registry of formats: read and write documents by kind and suffix."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator
from dataclasses import dataclass
from importlib import import_module
from pathlib import Path
from pkgutil import iter_modules

from tamarind.formats.broadcast.smpte import PLAIN_TIMECODES, Timecodes
from tamarind.formats.captionfile import FormatError, Repairs
from tamarind.formats.decoding import DecodedText, decode, told_of
from tamarind.formats.encoding import Bytes, encoded
from tamarind.formats.format import DocumentKind, Format, FormatOption, Options, Origin
from tamarind.formats.textlanguage import by_script, likely_language
from tamarind.system.files import read_file, shown
from tamarind.system.garbage import without_collecting
from tamarind.system.log import note_failure
from tamarind.transcript.languages import UNDETERMINED
from tamarind.transcript.model import Transcript

_KINDS = (
    DocumentKind.READING,
    DocumentKind.CAPTIONS,
    DocumentKind.BROADCAST,
    DocumentKind.DATA,
)


def _declared() -> Iterator[Format]:
    """Yield the formats that modules declare."""
    for floor in ("reading", "captions", "data", "broadcast"):
        package = import_module(f"tamarind.formats.{floor}")
        for found in iter_modules(package.__path__):
            module = import_module(f"{package.__name__}.{found.name}")
            yield from getattr(module, "FORMATS", ())


FORMATS = tuple(sorted(_declared(), key=lambda one: (_KINDS.index(one.kind), one.rank)))
"""All formats, in the order in which they are offered."""

WRITTEN = {one.suffix: one for one in FORMATS if one.write is not None}
"""Those that are written, by the suffix of what is written."""

READ = {
    suffix: one
    for one in FORMATS
    if one.read is not None or one.read_data is not None
    for suffix in one.suffixes
}
"""Those that are read, by every suffix that they may have."""

MOST_CUES = 400
"""Of a text whose language is asked."""

LARGEST_FILE = 256 * 1024 * 1024
USUAL = Options()


@dataclass(frozen=True, slots=True)
class Read:
    """The contents of a file, and what was repaired in it."""

    transcript: Transcript
    source: Origin
    repairs: Repairs
    decoded: DecodedText
    timecodes: Timecodes = PLAIN_TIMECODES
    """Those that its times were told in; times count from their start on."""


def is_captions(suffix: str) -> bool:
    """Whether a suffix is that of a caption format."""
    return _is(suffix, DocumentKind.CAPTIONS) or _is(suffix, DocumentKind.BROADCAST)


def is_for_reading(suffix: str) -> bool:
    """Whether a suffix is that of a transcript to be read."""
    return _is(suffix, DocumentKind.READING)


def is_data(path: Path) -> bool:
    """Whether a file is of a binary format."""
    found = READ.get(path.suffix.lower().lstrip("."))
    return found is not None and found.read_data is not None


def is_script(path: Path) -> bool:
    """Whether a file is a text without times to speak of, which can be matched with a sound."""
    suffix = path.suffix.lower().lstrip(".")
    return suffix in READ and READ[suffix].kind is DocumentKind.READING


def rolls(suffix: str) -> bool:
    """Whether a format has codes of its own for roll-up captions."""
    return suffix in WRITTEN and FormatOption.ROLLS in WRITTEN[suffix].choices


def _is(suffix: str, kind: DocumentKind) -> bool:
    found = WRITTEN.get(suffix) or READ.get(suffix)
    return found is not None and found.kind is kind


def offer(suffixes: Collection[str], choice: FormatOption) -> bool:
    """Whether any of the chosen formats has this option."""
    return any(choice in WRITTEN[suffix].choices for suffix in suffixes)


def suffix_of(path: Path, known: Collection[str] = tuple(WRITTEN)) -> str:
    """Return the format that a file name asks for. Raises FormatError for an unknown one."""
    name = path.name.lower()
    fitting = (one for one in sorted(known, key=len, reverse=True) if name.endswith(f".{one}"))
    suffix = next(fitting, "")
    if not suffix:
        listed = ", ".join(f".{key}" for key in known)
        raise FormatError(f"“{path.name}” does not end in one of {listed}.")
    return suffix


def write(suffix: str, transcript: Transcript, source: Origin, options: Options = USUAL) -> bytes:
    """Return the bytes of a document; line breaks must be set in the cues."""
    chosen = WRITTEN.get(suffix)
    if chosen is None or chosen.write is None:
        raise FormatError(f"There is no document format “{suffix}”.")
    made = chosen.write(transcript, source, options)
    return made if isinstance(made, bytes) else encoded(made, how_written(suffix, options.bytes))


def how_written(suffix: str, wished: Bytes) -> Bytes:
    """Return the text encoding that a format allows: formats that declare their encoding themselves
    are UTF-8."""
    chosen = WRITTEN[suffix]
    if chosen.is_utf8:
        return Bytes("utf-8", wished.mark and chosen.may_mark, wished.crlf)
    return wished


def read(path: Path, language: str | None, encoding: str | None = None) -> Read:
    """Read a document; ``language`` counts where the file does not say (None: detect it by script),
    ``encoding`` if it is known.

    Raises FormatError when it cannot be read or makes no sense.
    """
    suffix = suffix_of(path, tuple(READ))
    try:
        data = read_file(path, LARGEST_FILE)
    except OSError as error:
        raise FormatError(f"“{shown(path.name)}” cannot be read: {error.strerror}.") from None
    except ValueError:
        raise FormatError("The file is larger than 256 MB: that is no caption file.") from None
    return read_bytes(data, suffix, path.name, language, encoding)


def read_bytes(
    data: bytes,
    suffix: str | None,
    name: str,
    language: str | None = None,
    encoding: str | None = None,
) -> Read:
    """Read bytes from anywhere; without a ``suffix`` their first characters tell the format."""
    repairs = Repairs()
    suffix = suffix or _kind_of_data(data)
    reader = READ[suffix].read_data if suffix else None
    if suffix and reader is not None:
        transcript = _sensible(
            lambda: reader(data, language or UNDETERMINED, repairs), name, READ[suffix]
        )
        counted = _timecodes(data, READ[suffix])
        return Read(
            transcript, _origin(transcript, name), repairs, DecodedText("", "utf-8"), counted
        )
    decoded = decode(data, language or "", encoding)
    text = decoded.text
    suffix = suffix or kind_of(text)
    said = language or by_script(text)
    chosen = READ[suffix]
    assert chosen.read is not None
    if not decoded.encoding.startswith("utf") and encoding is None:
        repairs.note(f"The text was taken to be in {told_of(decoded)}.")
    read_text = chosen.read
    transcript = _sensible(lambda: read_text(text, said, repairs), name, chosen)
    if language is None and transcript.language == said:
        likely = likely_language(" ".join(cue.text for cue in transcript.cues[:MOST_CUES]))
        if likely != said:
            again = Repairs()
            again += repairs[: not decoded.encoding.startswith("utf") and encoding is None]
            transcript = _sensible(lambda: read_text(text, likely, again), name, chosen)
            repairs = again
    if chosen.origin_of is not None:
        return Read(transcript, chosen.origin_of(text), repairs, decoded)
    counted = _timecodes(data, chosen)
    return Read(transcript, _origin(transcript, name), repairs, decoded, counted)


def _timecodes(data: bytes, chosen: Format) -> Timecodes:
    return PLAIN_TIMECODES if chosen.timecodes_of is None else chosen.timecodes_of(data)


def _sensible(reading: Callable[[], Transcript], name: str, chosen: Format) -> Transcript:
    """Read, turning any error of a reader on a strange file into a sentence."""
    try:
        with without_collecting():
            return reading()
    except FormatError:
        raise
    except Exception as error:
        note_failure(f"reading .{chosen.suffix}", error)
        raise FormatError(
            f"“{shown(name)}” is no {chosen.label} that makes sense ({type(error).__name__})."
        ) from None


def _origin(transcript: Transcript, name: str) -> Origin:
    return Origin(Path(name).stem, max((cue.end for cue in transcript.cues), default=0))


def _kind_of_data(data: bytes) -> str | None:
    """Detect a binary format by its signature; None if it is text."""
    for one in FORMATS:
        if one.data_sign is not None and one.data_sign.match(data):
            return one.suffix
    return None


def kind_of(text: str) -> str:
    """Detect the format of a text by its first characters; plain text if nothing fits."""
    for one in sorted(FORMATS, key=lambda one: one.loose):
        if one.sign is not None and one.sign.match(text):
            return one.suffix
    return "txt"

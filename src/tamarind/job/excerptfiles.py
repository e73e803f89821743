"""Write the files of excerpts: sound, videos, captions, edit lists, the quotation sheet."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

from tamarind.audio.media import MediaError
from tamarind.audio.soundfile import write_sound
from tamarind.audio.sourcetime import SourceTime, source_time
from tamarind.audio.splice import Cutting
from tamarind.captions.limits import Limits
from tamarind.captions.onpicture import captions_of
from tamarind.captions.splicing import Piece, spliced
from tamarind.formats import documents
from tamarind.formats.broadcast.smpte import NTSC, Frames
from tamarind.formats.data.editlists import EditEvent, as_edl, as_otio, reels
from tamarind.formats.encoding import UTF8, encoded
from tamarind.formats.filenames import free, lawful
from tamarind.formats.format import Origin
from tamarind.formats.reading.quotations import WRITERS, Quotation
from tamarind.formats.timecode import clock
from tamarind.job.dressing import Dressing
from tamarind.job.excerptkinds import CAPTIONS, EDIT_LISTS, QUOTATIONS, SOUNDS, USUAL_START, VIDEOS
from tamarind.job.excerpts import Chosen
from tamarind.job.looks import looks_for
from tamarind.language.publishing import published
from tamarind.picture.containers import whole_or_nothing
from tamarind.picture.frames import Stage
from tamarind.picture.splice import splice_video
from tamarind.picture.video import Quality
from tamarind.system.files import NotAFileError, write_whole

USUAL_RATE = Fraction(25)
LONGEST_FILE_NAME = 60
MOST_PROBLEMS = 3


@dataclass(frozen=True, slots=True)
class ExcerptOptions:
    """``kinds`` are suffixes of ``KINDS``. Media and captions are one file for each excerpt, or
    ``joined`` in one; ``burnt`` captions are drawn on videos. ``rate`` is that of edit lists, None
    for the picture's; their record times count from ``begun``."""

    kinds: tuple[str, ...]
    joined: bool = False
    burnt: bool = False
    quality: Quality = Quality.GOOD
    title: str = "Excerpts"
    rate: Fraction | None = None
    begun: str = USUAL_START


@dataclass(frozen=True, slots=True)
class ExcerptFile:
    """A file to write, with its excerpts."""

    name: str
    kind: str
    chosen: tuple[Chosen, ...]


@dataclass(frozen=True, slots=True)
class ExcerptsOrder:
    """Files to make, with everything needed, for another process."""

    files: tuple[ExcerptFile, ...]
    folder: Path
    options: ExcerptOptions
    dressings: Mapping[int, Dressing]

    @property
    def targets(self) -> list[Path]:
        """The files that will be written."""
        return [self.folder / file.name for file in self.files]

    def fill(self, told: Callable[[float], None] = lambda _share: None) -> None:
        """Write the files; a failure does not stop the others. Raises MediaError with what was
        wrong."""
        problems: list[str] = []
        for number, file in enumerate(self.files):
            begun = number / len(self.files)
            try:
                write(
                    file, self.folder, self.options, self.dressings.__getitem__,
                    lambda share, begun=begun: told(begun + share / len(self.files)),  # type: ignore[misc]
                )  # fmt: skip
            except MediaError as error:
                problems.append(f"{file.name}: {error}")
            except NotAFileError:
                problems.append(f"{file.name}: there is a folder or a device of that name.")
            except OSError as error:
                problems.append(f"{file.name}: {error.strerror or error}.")
        if problems:
            raise MediaError(" ".join(problems[:MOST_PROBLEMS]))


def planned(chosen: Sequence[Chosen], options: ExcerptOptions) -> list[ExcerptFile]:
    """Return the files with their names, no two alike. Videos are left out for excerpts of
    recordings without a picture."""
    taken: set[str] = set()
    files: list[ExcerptFile] = []
    for kind in options.kinds:
        single = kind in (*SOUNDS, *VIDEOS, *CAPTIONS) and not options.joined
        if not single:
            group = tuple(chosen)
            if group and (kind not in VIDEOS or any(map(has_picture, group))):
                title = options.title
                stem = f"{title}, quotations" if kind in QUOTATIONS else title
                files.append(ExcerptFile(free(lawful(stem), kind, taken), kind, group))
            continue
        for number, one in enumerate(chosen, 1):
            if kind not in VIDEOS or has_picture(one):
                width = max(len(str(len(chosen))), 2)
                stem = f"{number:0{width}} {one.name[:LONGEST_FILE_NAME].strip()}"
                files.append(ExcerptFile(free(lawful(stem), kind, taken), kind, (one,)))
    return files


def has_picture(one: Chosen) -> bool:
    """Whether an excerpt's recording is known to have a moving picture."""
    info = one.recording.info
    return info is not None and info.picture is not None


def write(
    file: ExcerptFile,
    folder: Path,
    options: ExcerptOptions,
    dressed: Callable[[int], Dressing],
    told: Callable[[float], None] = lambda _share: None,
) -> None:
    """Write one file; ``dressed`` has the caption styles of a recording. ``told`` is called with
    the share (0 to 1) that is done; what it raises stops the work.

    Raises MediaError with a sentence, and OSError; nothing is there then that was not before.
    """
    target = folder / file.name
    if any(_same(target, one.recording.path) for one in file.chosen):
        raise MediaError("That is the recording itself: write to another folder.")
    if file.kind in SOUNDS:
        with whole_or_nothing(target) as beside:
            write_sound(beside, target, cuttings_of(file.chosen), told)
    elif file.kind in VIDEOS:
        with whole_or_nothing(target) as beside:
            stage = _stage(file.chosen, dressed) if options.burnt else None
            splice_video(beside, target, cuttings_of(file.chosen), stage, options.quality, told)
    else:
        write_whole(target, data_of(file, options, dressed))
    told(1.0)


def data_of(
    file: ExcerptFile, options: ExcerptOptions, dressed: Callable[[int], Dressing]
) -> bytes:
    """Return the bytes of a file that is no sound or video. Raises MediaError."""
    if file.kind in CAPTIONS:
        style = dressed(file.chosen[0].recording.id).style
        text = spliced(pieces_of(file.chosen), style.captions)
        length = sum(one.excerpt.length for one in file.chosen)
        origin = Origin(file.name, length)
        return documents.write(file.kind, published(text, file.kind, style), origin)
    if file.kind in EDIT_LISTS:
        events, frames = _events(file.chosen, options)
        listed = as_edl if file.kind == "edl" else as_otio
        return listed(options.title, events, frames).encode()
    made = WRITERS[file.kind](options.title, [quotation_of(one) for one in file.chosen])
    return made if isinstance(made, bytes) else encoded(made, UTF8)


def cuttings_of(chosen: Sequence[Chosen]) -> list[Cutting]:
    """Return which stretches to cut out of which files."""
    return [
        Cutting(one.recording.path, one.excerpt.spans, one.recording.how.source.track)
        for one in chosen
    ]


def pieces_of(chosen: Sequence[Chosen]) -> list[Piece]:
    """Return which stretches to keep of which texts."""
    return [Piece(one.document.transcript, one.excerpt.spans) for one in chosen]


def quotation_of(one: Chosen) -> Quotation:
    """Return an excerpt as a quotation."""
    excerpt = one.excerpt
    return Quotation(
        one.quote or excerpt.quote, one.speakers, one.recording.name,
        begins=clock(excerpt.start, 0),
        ends=clock(excerpt.end, 0), name=excerpt.name, note=excerpt.note, tags=excerpt.tags,
        language=one.document.transcript.language,
    )  # fmt: skip


def _stage(chosen: Sequence[Chosen], dressed: Callable[[int], Dressing]) -> Stage:
    """Return the captions of joined excerpts, in the style of the first one's recording."""
    dressing = dressed(chosen[0].recording.id)
    limits: Limits = dressing.style.captions
    captions = captions_of(spliced(pieces_of(chosen), limits), limits, dressing.look)
    looks = looks_for(captions, dressing.look, dressing.own_looks)
    return Stage(captions, lambda place: looks[place] if len(looks) > 1 else looks[0])


def _events(chosen: Sequence[Chosen], options: ExcerptOptions) -> tuple[list[EditEvent], Frames]:
    """Return an edit for every stretch that is kept, and how frames are counted."""
    paths = list(dict.fromkeys(one.recording.path for one in chosen))
    known = {path: source_time(path) for path in paths}
    pictures = (time.rate for time in known.values() if time.rate is not None)
    rate = options.rate or next(pictures, USUAL_RATE)
    drops = rate == NTSC and any(";" in time.code for time in known.values())
    frames = Frames(rate, drops)
    names = reels({path: time.reel for path, time in known.items()})
    events = []
    for one in chosen:
        path = one.recording.path
        spans = one.excerpt.spans
        for number, (start, end) in enumerate(spans, 1):
            name = f"{one.name} ({number} of {len(spans)})" if len(spans) > 1 else one.name
            remarks = {"comment": one.quote, "note": one.excerpt.note, "speaker": one.speakers,
                       "tags": ", ".join(one.excerpt.tags)}  # fmt: skip
            events.append(
                EditEvent(
                    name,
                    path,
                    names[path],
                    start=start,
                    end=end,
                    length=one.recording.duration,
                    begun=_begun(known[path], frames),
                    has_picture=known[path].rate is not None,
                    remarks=remarks if number == 1 else {},
                )
            )
    return events, Frames(rate, drops, frames.number(options.begun))


def _begun(time: SourceTime, frames: Frames) -> str:
    """Return the timecode of a recording's first frame, as far as its file says."""
    try:
        return frames.code(frames.number(time.code)) if time.code else _of_day(time, frames)
    except ValueError:
        return frames.code(0)


def _of_day(time: SourceTime, frames: Frames) -> str:
    return frames.code(round((time.since_midnight or 0) * frames.rate))


def _same(one: Path, other: Path) -> bool:
    return one.exists() and other.exists() and one.samefile(other)

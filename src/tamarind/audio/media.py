"""Read what a sound or video file contains, before decoding it."""

from __future__ import annotations

import io
import os
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, BinaryIO

from tamarind.system.errors import ToldError
from tamarind.system.files import NotAFileError, OpenedFile, open_file, shown
from tamarind.system.later import Later

if TYPE_CHECKING:
    import av
else:
    av = Later("av")

SAMPLE_RATE = 16_000
"""Samples a second of all decoded sound, which is mono float32 in -1..1."""


class MediaError(ToldError):
    """A file cannot be used; the message is one sentence for the person, without the path."""


@dataclass(frozen=True, slots=True)
class MediaInfo:
    """What a media file contains; ``duration`` is in milliseconds, 0 if the file does not say.

    ``frame_rate`` is the picture's, in frames a second. ``loud_db`` and ``clipped`` are its level
    (``audio/level``), None if that is not known. ``tags`` are what the file says of itself: title,
    who is in it, remarks. ``sound_starts`` are how much later than the file each of its sounds
    begins (ms).
    """

    name: str
    duration: int
    container: str
    codec: str
    channels: int
    sample_rate: int
    sound_tracks: int
    picture: tuple[int, int] | None
    frame_rate: float | None = None
    loud_db: float | None = None
    clipped: bool = False
    tags: tuple[str, ...] = ()
    sound_starts: tuple[int, ...] = ()


def probe(path: Path) -> MediaInfo:
    """Read a file's headers.

    Raises MediaError when it is missing, empty, no media, or has no sound.
    """
    check_readable(path)
    with open_media(path) as container:
        if not container.streams.audio:
            raise MediaError(_no_sound(container))
        sound = container.streams.audio[0]
        check_decodable(sound)
        picture, rate = _picture_of(container)
        return MediaInfo(
            name=shown(path.name),
            duration=_duration(container, sound),
            container=container.format.name.split(",")[0],
            codec=codec_of(sound),
            channels=sound.codec_context.channels,
            sample_rate=sound.codec_context.sample_rate,
            sound_tracks=len(container.streams.audio),
            picture=picture,
            frame_rate=rate,
            tags=_tags({**container.metadata, **sound.metadata}),
        )


def frame_rate_of(path: Path) -> float | None:
    """Return the frame rate of a recording's picture, or None without one. Raises MediaError."""
    with open_media(path) as container:
        return _picture_of(container)[1]


def _picture_of(
    container: av.container.InputContainer,
) -> tuple[tuple[int, int] | None, float | None]:
    """Return size and frame rate of the moving picture."""
    stream = picture_of(container)
    if stream is None:
        return None, None
    rate = float(stream.average_rate) if stream.average_rate else None
    return (stream.codec_context.width, stream.codec_context.height), rate


def picture_of(read: av.container.InputContainer) -> av.VideoStream | None:
    """Return the video stream of a file, or None; cover art does not count."""
    covers = av.stream.Disposition.attached_pic
    return next((one for one in read.streams.video if not one.disposition & covers), None)


def _tags(metadata: Mapping[str, str]) -> tuple[str, ...]:
    told = {key.casefold(): value for key, value in metadata.items()}
    values = [" ".join(told.get(key, "").split())[:LONGEST_TAG] for key in TAGS]
    return tuple(dict.fromkeys(value for value in values if value.isprintable() and value))


TAGS = tuple("title artist album_artist album composer comment description synopsis".split())
"""What a container says of its contents that may hold names."""

LONGEST_TAG = 300

_LENT: dict[Path, int] = {}
"""Recordings that another process opened for this one, which may open none itself."""

READ_AT_ONCE = 1 << 18

RATES = (1_000, 768_000)
"""Samples a second that a recording may have."""

PLAYLISTS = frozenset("hls concat sdp rtsp rtp dash imf vapoursynth webm_dash_manifest".split())
"""Formats whose files only name others: no recordings."""

_FORMS_OF_PLAYLISTS = (b"#EXTM3U", b"ffconcat", b"v=0\r\n", b"v=0\n", b"[playlist]", b"RTSPtext")


@contextmanager
def lent(path: Path, handle: int) -> Iterator[None]:
    """Within this context, this recording is read through a file that is already open."""
    _LENT[path] = handle
    try:
        yield
    finally:
        del _LENT[path]


def open_recording(path: Path) -> BinaryIO:
    """Open a recording for reading bytes, whatever its name. Raises MediaError with what is
    wrong."""
    try:
        handle = _LENT.get(path)
        file = open_file(path) if handle is None else io.BufferedReader(OpenedFile(handle))
        if os.fstat(file.fileno()).st_size == 0:
            file.close()
            raise MediaError("The file is empty: copy it again from where it came.")
        return file
    except NotAFileError:
        if path.is_dir():
            raise MediaError("This is a folder, not a recording.") from None
        raise MediaError("This is no file that could be read as a recording.") from None
    except FileNotFoundError:
        raise MediaError("The file is no longer there: put it back, then try again.") from None
    except PermissionError:
        raise MediaError(
            "The file may not be read: change its permissions, then try again."
        ) from None
    except OSError as error:
        raise MediaError(f"The file cannot be read: {error.strerror}.") from None


def check_readable(path: Path) -> None:
    """Raise MediaError unless ``path`` is an existing, readable file with something in it."""
    open_recording(path).close()


def names_others(path: Path) -> bool:
    """Whether a file is a playlist of other files or addresses, which players would fetch."""
    try:
        with open_recording(path) as file:
            head = file.read(64)
    except MediaError:
        return False
    return head.lstrip(b"\xef\xbb\xbf \t\r\n").startswith(_FORMS_OF_PLAYLISTS)


@contextmanager
def open_media(path: Path) -> Iterator[av.container.InputContainer]:
    """Open a container for reading. Raises MediaError with the reason.

    FFmpeg is given the opened file and may open nothing by itself: a name that looks like an
    address is a name, and a list of other files or addresses is no recording.
    """
    with open_recording(path) as file:
        try:
            container = av.open(
                file,
                mode="r",
                metadata_errors="replace",
                options={"protocol_whitelist": "none"},
                buffer_size=READ_AT_ONCE,
            )
        except av.error.InvalidDataError:
            raise MediaError(
                "This is no sound or video file, or it is cut off or damaged: copy it again."
            ) from None
        except (av.error.FFmpegError, OSError, ValueError) as error:
            if names_others(path):
                raise MediaError(_NAMES_OTHERS) from None
            raise MediaError(f"The file cannot be opened: {reason_of(error)}.") from None
        with container:
            if PLAYLISTS & set(container.format.name.split(",")):
                raise MediaError(_NAMES_OTHERS)
            yield container


_NAMES_OTHERS = "This is a list of other files, not a recording: bring those in themselves."


def check_decodable(sound: av.AudioStream) -> None:
    """Raise MediaError for a track whose codec is not supported or whose parameters are
    impossible."""
    codec = sound.codec_context
    if codec is None:
        raise MediaError("The sound is in a form that nothing here can decode.")
    if not RATES[0] <= codec.sample_rate <= RATES[1] or codec.channels < 1:
        raise MediaError(
            f"The file is damaged: sound of {codec.channels} channels with {codec.sample_rate}"
            " samples a second cannot be."
        )


def codec_of(stream: av.stream.Stream) -> str:
    """Return a stream's codec by the name of the format, not of the decoder."""
    name = str(stream.codec_context.name)
    return _FORMS.get(name, name)


_FORMS = {
    "mp3float": "mp3",
    "mp2float": "mp2",
    "ac3_fixed": "ac3",
    "libdav1d": "av1",
    "libvpx-vp9": "vp9",
    "libvpx": "vp8",
    "libopus": "opus",
    "libvorbis": "vorbis",
}


def reason_of(error: BaseException) -> str:
    """Return the short reason inside an FFmpeg or system error, to be put into a sentence."""
    text = getattr(error, "strerror", None) or str(error) or type(error).__name__
    return text.rstrip(".")


def _no_sound(container: av.container.InputContainer) -> str:
    """Return why a file has no sound; FFmpeg takes plain text for subtitles or terminal
    pictures."""
    names = container.format.name.split(",")
    if not container.streams.video or "tty" in names:
        return "This is no sound or video file."
    return "The file has no sound track: there is nothing to transcribe."


def _duration(container: av.container.InputContainer, sound: av.AudioStream) -> int:
    """Return the time (ms) from the start of a file to the end of its sound, or to its end."""
    first = container.start_time or 0
    if sound.duration is not None and sound.time_base is not None:
        end = (sound.duration + (sound.start_time or 0)) * sound.time_base * av.time_base
        return round((end - first) / 1000)
    if container.duration is None:
        return 0
    # Matroska counts its length from 0, wherever it begins.
    counted = first if container.format.name.startswith("matroska") else 0
    return round(max(container.duration - counted, 0) / 1000)

"""What is known about a sound or video file before it is decoded."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from pathlib import Path

import av

SAMPLE_RATE = 16_000
"""Samples a second of all decoded sound, which is mono float32 in -1..1."""

FINGERPRINT_BLOCK = 65_536


class MediaError(Exception):
    """A file cannot be used; the message is one sentence for the person, without the path."""


@dataclass(frozen=True, slots=True)
class MediaInfo:
    """A media file's make-up; ``duration`` is in milliseconds, 0 if the container does not say.

    ``frame_rate`` is the picture's, in frames a second. ``loud_db`` and ``clipped`` are its level
    (``audio/level``), None if that is not known.
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


def fingerprint(path: Path) -> str:
    """Identify a file's contents by its size and its first and last 64 KiB (hex, 32 digits)."""
    size = path.stat().st_size
    digest = hashlib.blake2b(str(size).encode(), digest_size=16)
    with path.open("rb") as file:
        digest.update(file.read(FINGERPRINT_BLOCK))
        if size > FINGERPRINT_BLOCK:
            file.seek(max(FINGERPRINT_BLOCK, size - FINGERPRINT_BLOCK))
            digest.update(file.read(FINGERPRINT_BLOCK))
    return digest.hexdigest()


def probe(path: Path) -> MediaInfo:
    """Read a file's headers.

    Raises MediaError when it is missing, empty, no media, or has no sound.
    """
    check_readable(path)
    with open_media(path) as container:
        if not container.streams.audio:
            raise MediaError(_no_sound(container))
        sound = container.streams.audio[0]
        picture = rate = None
        for stream in container.streams.video:
            if not stream.disposition & av.stream.Disposition.attached_pic:
                picture = (stream.codec_context.width, stream.codec_context.height)
                rate = float(stream.average_rate) if stream.average_rate else None
                break
        return MediaInfo(
            name=path.name,
            duration=_duration(container, sound),
            container=container.format.name.split(",")[0],
            codec=sound.codec_context.name,
            channels=sound.codec_context.channels,
            sample_rate=sound.codec_context.sample_rate,
            sound_tracks=len(container.streams.audio),
            picture=picture,
            frame_rate=rate,
        )


def check_readable(path: Path) -> None:
    """Raise MediaError unless ``path`` is an existing, readable file with something in it."""
    try:
        if path.is_dir():
            raise MediaError("This is a folder, not a recording.")
        # A pipe or a device would keep us waiting for ever.
        if path.exists() and not path.is_file():
            raise MediaError("This is no file that could be read as a recording.")
        if path.stat().st_size == 0:
            raise MediaError("The file is empty: copy it again from where it came.")
        with path.open("rb"):
            pass
    except FileNotFoundError:
        raise MediaError("The file is no longer there: put it back, then try again.") from None
    except PermissionError:
        raise MediaError(
            "The file may not be read: change its permissions, then try again."
        ) from None
    except OSError as error:
        raise MediaError(f"The file cannot be read: {error.strerror}.") from None


def open_media(path: Path) -> av.container.InputContainer:
    """Open a container for reading; raises MediaError with the reason when it cannot be."""
    try:
        return av.open(str(path), mode="r", metadata_errors="replace")
    except av.error.InvalidDataError:
        raise MediaError(
            "This is no sound or video file, or it is cut off or damaged: copy it again."
        ) from None
    except (av.error.FFmpegError, OSError, ValueError) as error:
        raise MediaError(f"The file cannot be opened: {reason_of(error)}.") from None


def reason_of(error: BaseException) -> str:
    """The short reason inside an FFmpeg or system error, for use within a sentence."""
    text = getattr(error, "strerror", None) or str(error) or type(error).__name__
    return text.rstrip(".")


def _no_sound(container: av.container.InputContainer) -> str:
    """FFmpeg takes plain text for subtitles or pictures of a terminal."""
    names = container.format.name.split(",")
    if not container.streams.video or "tty" in names:
        return "This is no sound or video file."
    return "The file has no sound track: there is nothing to hear in it."


def _duration(container: av.container.InputContainer, sound: av.AudioStream) -> int:
    if sound.duration is not None and sound.time_base is not None:
        return round(float(sound.duration * sound.time_base) * 1000)
    if container.duration is not None:
        return round(container.duration / av.time_base * 1000)
    return 0

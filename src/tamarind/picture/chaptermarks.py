"""Write chapter marks into a sound or video file, copying its streams."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from contextlib import closing
from fractions import Fraction
from pathlib import Path
from typing import TYPE_CHECKING

import av

from tamarind.audio.clock import origin_of
from tamarind.audio.media import MediaError, codec_of, open_media
from tamarind.picture.containers import DecodingTimes, whole_or_nothing

if TYPE_CHECKING:
    from av.container.core import Chapter

FORMATS = {
    ".mp4": "mp4", ".m4v": "mp4", ".m4a": "ipod", ".mkv": "matroska", ".mka": "matroska",
    ".mp3": "mp3", ".ogg": "ogg", ".oga": "ogg", ".opus": "ogg",
}  # fmt: skip
"""What is written, by the suffix of the file."""

_MS = Fraction(1, 1000)
_TELL_EVERY_S = 10.0

Mark = tuple[int, int, str]
"""From when to when (ms), and the title."""


def add_chapters(
    source: Path,
    target: Path,
    chapters: Sequence[Mark],
    told: Callable[[float], None] = lambda _share: None,
) -> None:
    """Write ``source`` with these chapters in place of its own, beginning at 0.

    Raises MediaError with a sentence, and OSError; nothing is there then that was not before.
    """
    form = FORMATS.get(target.suffix.lower())
    if form is None:
        known = ", ".join(FORMATS)
        raise MediaError(f"Chapters are written into {known}, not into “{target.suffix}”.")
    if target.exists() and source.exists() and target.samefile(source):
        raise MediaError("That is the recording itself: write to another name or folder.")
    origin = origin_of(source)
    with whole_or_nothing(target) as beside, open_media(source) as read:
        # MP3 keeps its chapters in ID3v2 tags.
        options = {"id3v2_version": "4"} if form == "mp3" else {}
        with closing(av.open(str(beside), "w", format=form, options=options)) as out:
            out.metadata.update(read.metadata)
            kept = [one for one in read.streams if one.type in ("video", "audio", "subtitle")]
            places = {}
            for one in kept:
                try:
                    places[one.index] = out.add_stream_from_template(one)
                except ValueError:
                    name = codec_of(one)
                    raise MediaError(
                        f"A {target.suffix} file cannot hold {name} untouched."
                    ) from None
                places[one.index].disposition = one.disposition
            if form == "ogg":
                _add_comments(next(iter(places.values())), chapters)
            else:
                out.set_chapters(list(map(_mark, range(1, len(chapters) + 1), chapters)))
            length = (read.duration or 0) / av.time_base
            last_told = 0.0
            for packet in DecodingTimes(origin).of(read.demux(kept)):
                assert packet.dts is not None
                moment = float(packet.dts * packet.time_base)
                packet.stream = places[packet.stream.index]
                out.mux(packet)
                if length and moment - last_told > _TELL_EVERY_S:
                    last_told = moment
                    told(min(max(moment / length, 0.0), 1.0))


def _mark(number: int, chapter: Mark) -> Chapter:
    start, end, title = chapter
    return {
        "id": number, "start": start, "end": end, "time_base": _MS, "metadata": {"title": title},
    }  # fmt: skip


def _add_comments(stream: av.stream.Stream, chapters: Sequence[Mark]) -> None:
    """Write the comments that mark chapters in Ogg files; FFmpeg, which could write them, rounds
    seconds up and drops the rest."""
    for key in [key for key in stream.metadata if key.upper().startswith("CHAPTER")]:
        del stream.metadata[key]
    for number, (start, _, title) in enumerate(chapters, 1):
        seconds, thousandths = divmod(start, 1000)
        minutes, seconds = divmod(seconds, 60)
        hours, minutes = divmod(minutes, 60)
        time = f"{hours:02}:{minutes:02}:{seconds:02}.{thousandths:03}"
        stream.metadata[f"CHAPTER{number:03}"] = time
        stream.metadata[f"CHAPTER{number:03}NAME"] = title

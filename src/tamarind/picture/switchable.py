"""Add captions to a video as tracks that can be switched; picture and sound are copied.

MP4 has them as timed text (3GPP TS 26.245), Matroska as SubRip, WebM as WebVTT.
"""

from __future__ import annotations

import heapq
import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import closing
from dataclasses import dataclass
from fractions import Fraction
from itertools import chain, pairwise
from pathlib import Path
from typing import Any

import av
from av.subtitles.stream import SubtitleStream

from tamarind.audio.clock import origin_of
from tamarind.audio.media import MediaError, codec_of, open_media
from tamarind.picture.caption import Caption, Line
from tamarind.picture.containers import (
    DecodingTimes,
    Packet,
    Part,
    container_of,
    flags_for,
    whole_or_nothing,
)
from tamarind.transcript.languages import UNDETERMINED

_MS = Fraction(1, 1000)
TELL_EVERY_MS = 2_000
_CODECS = {"mp4": "mov_text", "matroska": "subrip", "webm": "webvtt"}
_HEADER = b"[Script Info]\nScriptType: v4.00+\n"


@dataclass(frozen=True, slots=True)
class CaptionTrack:
    """Captions in one language (a BCP 47 tag), and the track's name."""

    language: str
    name: str
    captions: Sequence[Caption]


def add_tracks(
    source: Path,
    target: Path,
    tracks: Sequence[CaptionTrack],
    part: Part = (0, None),
    told: Callable[[float], None] = lambda _share: None,
) -> None:
    """Write ``source`` with these caption tracks in place of its own; the first is shown by
    default.

    Raises MediaError with a sentence, and OSError; nothing is there then that was not before.
    """
    container = container_of(target)
    origin = origin_of(source) * 1000
    with whole_or_nothing(target) as beside, open_media(source) as read:
        options = flags_for(target)
        with closing(av.open(str(beside), "w", format=container.name, options=options)) as out:
            kept = [*read.streams.video, *read.streams.audio]
            for one in kept:
                if codec_of(one) not in out.supported_codecs:
                    raise MediaError(
                        f"A {target.suffix} file cannot hold {codec_of(one)} untouched:"
                        " choose .mkv, or captions burnt in."
                    )
            places = {one.index: out.add_stream_from_template(one) for one in kept}
            codec = _CODECS[container.name]
            begun = _begin(read, kept, part[0], origin)
            texts = [
                _packets(
                    track, _stream(out, codec, track, first=not place), codec, begun - origin, part
                )
                for place, track in enumerate(tracks)
            ]
            captions = heapq.merge(*texts, key=lambda packet: packet.pts or 0)
            packets = _together(read, kept, places, captions, begun, origin, part, told)
            out.mux(packets)  # type: ignore[arg-type]  # anything that can be gone through will do


def _begin(
    read: av.container.InputContainer, kept: Sequence[Any], start: int, origin: Fraction
) -> Fraction:
    """Seek to the last key frame at or before ``start`` (ms after ``origin``); return its time (ms
    on the file's clock)."""
    begun = origin
    if start <= 0:
        return begun
    read.seek(int((start + origin) * 1000), backward=True)
    for packet in DecodingTimes().of(read.demux(list(kept))):
        assert packet.dts is not None
        begun = packet.dts * packet.time_base * 1000
        break
    read.seek(int((start + origin) * 1000), backward=True)
    return begun


def _together(
    read: av.container.InputContainer,
    kept: Sequence[Any],
    places: Mapping[int, Any],
    captions: Iterator[Packet],
    begun: Fraction,
    origin: Fraction,
    part: Part,
    told: Callable[[float], None],
) -> Iterator[Packet]:
    """Yield the packets of picture and sound with times from ``begun`` (ms) on, and captions
    between them when due."""
    first, zero = float(begun), float(origin)
    end = math.inf if part[1] is None else part[1] + zero
    length = (read.duration or 0) / av.time_base * 1000
    # An hour has a quarter of a million packets: what is the same for all is found before, and what
    # is to be done at a time is looked for by that of each stream's own counting alone.
    steps = {one.index: float(one.time_base * 1000) for one in kept}
    shifts = {one.index: round(begun / 1000 / one.time_base) for one in kept}
    as_is = not any(shifts.values()) and all(place.index == own for own, place in places.items())
    caption = next(captions, None)
    tells = zero + TELL_EVERY_MS if length else math.inf
    due = dict.fromkeys(steps, -math.inf)
    for packet in DecodingTimes().of(read.demux(list(kept))):
        dts = packet.dts
        assert dts is not None
        index = packet.stream_index
        if dts >= due[index]:
            counted = dts * steps[index]
            while caption is not None and (caption.pts or 0) + first <= counted:
                yield caption
                caption = next(captions, None)
            if counted >= end:
                if packet.stream.type == "video":
                    break
                continue
            if counted >= tells:
                told(min(max((counted - zero) / length, 0.0), 1.0))
                tells = counted + TELL_EVERY_MS
            following = math.inf if caption is None else (caption.pts or 0) + first
            moment = min(following, tells, end)
            due = {own: moment / step for own, step in steps.items()}
        if not as_is:
            if shifts[index]:
                packet.pts = None if packet.pts is None else packet.pts - shifts[index]
                packet.dts = dts - shifts[index]
            packet.stream = places[index]
        yield packet
    yield from () if caption is None else chain((caption,), captions)


def _stream(
    out: av.container.OutputContainer, codec: str, track: CaptionTrack, first: bool
) -> SubtitleStream:
    stream = out.add_stream(codec)
    assert isinstance(stream, SubtitleStream)
    stream.codec_context.subtitle_header = _HEADER
    stream.time_base = _MS
    stream.metadata["language"] = three_letters(track.language, codec != "mov_text")
    stream.metadata["title"] = track.name
    stream.metadata["handler_name"] = track.name
    if first:
        stream.disposition = av.stream.Disposition.default
    return stream


def three_letters(tag: str, bibliographic: bool) -> str:
    """Return a language's code for video files (ISO 639-2): the bibliographic one for Matroska and
    WebM; "und" for none."""
    import langcodes  # slow to import

    try:
        variant = "B" if bibliographic else "T"
        return str(langcodes.Language.get(tag).to_alpha3(variant=variant))
    except (LookupError, ValueError):
        return UNDETERMINED


def _packets(
    track: CaptionTrack, stream: SubtitleStream, codec: str, begun: Fraction, part: Part
) -> Iterator[Packet]:
    """Return the caption packets of a section; ``begun`` (ms) is when the file begins."""
    start, end = int(begun), part[1]
    for first, last, lines in _apart(track.captions, codec == "mov_text"):
        if last <= start or (end is not None and first >= end):
            continue
        first, last = max(first, start), last if end is None else min(last, end)
        text = "\n".join(_marked(line, codec) for line in lines).encode()
        if codec == "mov_text":
            text = len(text).to_bytes(2, "big") + text
        packet: Packet = av.Packet(text)
        packet.stream = stream
        packet.time_base = _MS
        packet.pts = packet.dts = first - start
        packet.duration = last - first
        yield packet


def _apart(captions: Sequence[Caption], alone: bool) -> Iterator[tuple[int, int, tuple[Line, ...]]]:
    """Return the time spans (ms) in which lines are shown, sorted by start.

    A track of timed text shows one sample at a time: where captions are ``alone`` in that way,
    those that stand together are written together for as long as they do.
    """
    shown = sorted(
        ((one.start, max(one.end, one.start + 1), one.lines) for one in captions),
        key=lambda one: one[:2],
    )
    if not alone:
        yield from shown
        return
    edges = sorted({edge for start, end, _ in shown for edge in (start, end)})
    standing: list[tuple[int, int, tuple[Line, ...]]] = []
    waiting = 0
    for start, end in pairwise(edges):
        standing = [one for one in standing if one[1] > start]
        while waiting < len(shown) and shown[waiting][0] <= start:
            standing.append(shown[waiting])
            waiting += 1
        if standing:
            yield start, end, tuple(line for _, _, lines in standing for line in lines)


def _marked(line: Line, codec: str) -> str:
    """Return a line's text, with italics where the format has them."""
    parts: list[str] = []
    for word in line:
        text = word.text
        if codec == "webvtt":
            text = text.replace("&", "&amp;").replace("<", "&lt;")
        if word.italic and codec != "mov_text":
            text = f"<i>{text}</i>"
        parts.append(text if word.glued or not parts else f" {text}")
    return "".join(parts).replace("</i> <i>", " ")

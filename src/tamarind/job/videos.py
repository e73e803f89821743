"""Turn a person's choices for a video into an order."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from tamarind.captions.limits import Limits
from tamarind.captions.onpicture import captions_of
from tamarind.job.document import Document
from tamarind.job.looks import looks_for
from tamarind.job.recording import Recording
from tamarind.picture.containers import Part
from tamarind.picture.looks import Look
from tamarind.picture.order import VideoOrder
from tamarind.picture.shapes import AS_IS, Shape, ShapeKind
from tamarind.picture.soundvideo import Scene
from tamarind.picture.switchable import CaptionTrack
from tamarind.picture.video import Quality
from tamarind.transcript.languages import name_of
from tamarind.transcript.model import Transcript
from tamarind.translation.tracks import as_transcript

SOUND_SIZES = {ShapeKind.SQUARE: (1080, 1080), ShapeKind.UPRIGHT: (1080, 1920)}
"""Of videos that are made of sound; others are 1280 by 720."""

BITS_A_PIXEL = {Quality.SMALL: 0.035, Quality.GOOD: 0.075, Quality.BEST: 0.14}
"""What a pixel of a usual frame takes."""

SOUND_BITS = 128_000


@dataclass(frozen=True, slots=True)
class VideoOptions:
    """``suffix`` is the kind of file; ``switchable`` ones have captions as tracks. ``second`` is a
    language beside the first, "" for none."""

    suffix: str = ".mp4"
    switchable: bool = False
    quality: Quality = Quality.GOOD
    shape: Shape = AS_IS
    second: str = ""
    part: Part = (0, None)
    scene: Scene = field(default_factory=Scene)


def order_for(
    recording: Recording,
    document: Document,
    limits: Limits,
    look: Look,
    folder: Path,
    options: VideoOptions,
    own_looks: Mapping[str, Look] | None = None,
) -> VideoOrder:
    """Return the order for one recording, with its current captions; ``own_looks`` are the job's
    caption styles by key, which single cues may use."""
    source = document.transcript
    tracks = {track.language: track for track in document.tracks}
    target = folder / f"{recording.name}{options.suffix}"
    if target == recording.path:
        target = folder / f"{recording.name}, with captions{options.suffix}"
    if options.switchable:
        texts = [source, *(as_transcript(track, source) for track in tracks.values())]
        return VideoOrder(
            recording.path, target, tracks=tracks_of(texts, limits, look), part=options.part
        )
    second = as_transcript(tracks[options.second], source) if options.second in tracks else None
    captions = captions_of(source, limits, look, second)
    return VideoOrder(
        recording.path,
        target,
        captions,
        looks=looks_for(captions, look, own_looks or {}),
        tracks=(),
        quality=options.quality,
        shape=options.shape,
        part=options.part,
        scene=options.scene,
    )


def tracks_of(texts: Sequence[Transcript], limits: Limits, look: Look) -> list[CaptionTrack]:
    """Return texts as caption tracks."""
    return [
        CaptionTrack(text.language, name_of(text.language), captions_of(text, limits, look))
        for text in texts
    ]


def estimated_size(recording: Recording, options: VideoOptions) -> int:
    """Estimate the size of a video in bytes."""
    start, end = options.part
    seconds = ((end if end is not None else recording.duration) - start) / 1000
    picture = recording.info.picture if recording.info is not None else None
    rate = (recording.info.frame_rate if recording.info is not None else None) or 25.0
    width, height = picture or options.scene.size
    if picture is None:
        rate = 25.0
    # Pictures that stand still take a share of what moves.
    moving = 1.0 if picture is not None else 0.25
    bits = BITS_A_PIXEL.get(options.quality, 0.5) * width * height * rate * moving + SOUND_BITS
    return int(bits * seconds / 8)

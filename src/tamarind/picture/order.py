"""An order for one video, with everything needed to make it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from PIL import Image, UnidentifiedImageError

from tamarind.audio.media import MediaError, open_media
from tamarind.picture.caption import Caption
from tamarind.picture.containers import Part
from tamarind.picture.faces import missing
from tamarind.picture.frames import Stage
from tamarind.picture.looks import Look
from tamarind.picture.shapes import AS_IS, Filling, Shape, ShapeKind
from tamarind.picture.soundvideo import Scene, make_video
from tamarind.picture.switchable import CaptionTrack, add_tracks
from tamarind.picture.video import Quality, burn, has_picture


@dataclass(frozen=True, slots=True)
class VideoOrder:
    """``captions`` are drawn in ``looks``, one for each or one for all; with ``tracks`` they are
    added instead. ``scene`` is for a source without a picture."""

    source: Path
    target: Path
    captions: Sequence[Caption] = ()
    looks: Sequence[Look] = ()
    tracks: Sequence[CaptionTrack] = ()
    quality: Quality = Quality.GOOD
    shape: Shape = AS_IS
    part: Part = (0, None)
    scene: Scene = field(default_factory=Scene)

    @property
    def targets(self) -> list[Path]:
        """The file that will be written."""
        return [self.target]

    def fill(self, told: Callable[[float], None] = lambda _share: None) -> None:
        """Make the video; see ``fill``."""
        fill(self, told)

    def stage(self) -> Stage | None:
        """Return the captions to draw; None where none are drawn."""
        if not self.captions or not self.looks:
            return None
        looks = self.looks
        return Stage(self.captions, lambda place: looks[place] if len(looks) > 1 else looks[0])


def missing_letters(order: VideoOrder) -> str:
    """Return the characters of its captions that no font here can draw, each once."""
    found: dict[str, None] = {}
    for look in dict.fromkeys(order.looks):
        letters = sorted({
            letter
            for caption in order.captions
            for line in (*caption.lines, *caption.second)
            for word in line
            for letter in word.text
        })  # fmt: skip
        lacking = missing(" ".join(letters), look.letters.face, look.letters.weight)
        found.update(dict.fromkeys(lacking))
    return "".join(found)


def _check_picture(shape: Shape) -> None:
    """Raise MediaError if the picture beside the video cannot be read."""
    if (
        shape.filling is not Filling.PICTURE
        or shape.kind is ShapeKind.AS_IS
        or shape.picture is None
    ):
        return
    try:
        with Image.open(shape.picture) as opened:
            opened.verify()
    except (OSError, SyntaxError, UnidentifiedImageError, Image.DecompressionBombError) as error:
        raise MediaError(f"“{shape.picture.name}” is no picture that can be read.") from error


def fill(order: VideoOrder, told: Callable[[float], None] = lambda _share: None) -> None:
    """Make the video. ``told`` is called with the share (0 to 1) that is done; what it raises stops
    the work and leaves nothing. Raises MediaError with a sentence, and OSError."""
    if order.target.exists() and order.source.exists() and order.target.samefile(order.source):
        raise MediaError("That is the recording itself: write to another name or folder.")
    if order.tracks:
        add_tracks(order.source, order.target, order.tracks, order.part, told)
        return
    _check_picture(order.shape)
    with open_media(order.source) as read:
        pictured = has_picture(read)
    rest = order.quality, order.part, told
    if pictured:
        burn(order.source, order.target, order.stage(), rest[0], order.shape, *rest[1:])
    else:
        make_video(order.source, order.target, order.stage(), order.scene, *rest)

"""``tamarind video``: draw captions on videos, or add them as tracks."""

from __future__ import annotations

import argparse
import sys
import time
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from pathlib import Path

from tamarind.audio.media import MediaError, open_media
from tamarind.batch.timeleft import human
from tamarind.captions.onpicture import captions_of
from tamarind.cli.jobs import open_job
from tamarind.cli.output import summary, tell, told
from tamarind.cli.statuses import DONE, SOME_FAILED, WRONG_USE, UseError
from tamarind.formats import documents
from tamarind.formats.captionfile import FormatError
from tamarind.job.dressing import dressing_of
from tamarind.job.looks import looks_for
from tamarind.job.settings import JOB_LOOKS
from tamarind.job.videos import SOUND_SIZES, tracks_of
from tamarind.language.housestyle import HouseStyle
from tamarind.language.stylebook import STYLES
from tamarind.picture.containers import CONTAINERS
from tamarind.picture.lookbook import LOOKS, USUAL_LOOK
from tamarind.picture.looks import Look
from tamarind.picture.order import VideoOrder, fill, missing_letters
from tamarind.picture.shapes import Filling, Shape, ShapeKind
from tamarind.picture.soundvideo import Backdrop, Scene
from tamarind.picture.video import Quality, has_picture
from tamarind.system.errors import ToldError
from tamarind.transcript.model import Transcript
from tamarind.translation.tracks import as_transcript

JOB = ".tamarind"
TELL_EVERY_S = 0.5
MOST_LETTERS = 12
LARGEST = documents.LARGEST_FILE


def video(options: argparse.Namespace) -> int:
    """Make each video; a failure is told and skipped. Return the exit status."""
    if options.list_caption_styles:
        for key, look in {**LOOKS.shipped, **LOOKS.own()}.items():
            print(f"{key}  {look.name}")
        return DONE
    if options.media is None or options.output is None:
        return told("Which file, and -o with what to write?", WRONG_USE)
    problems: list[str] = []
    try:
        orders = list(_orders(options, problems))
    except ToldError as error:
        return told(error, WRONG_USE)
    status = DONE
    for problem in problems:
        status = told(problem, SOME_FAILED)
    written: list[Path] = []
    for order in orders:
        if order.target.exists() and not options.overwrite:
            status = told(f"{order.target}: already exists; --overwrite replaces it.", SOME_FAILED)
            continue
        lacking = missing_letters(order)
        if lacking:
            tell(f"{order.target}: no font here has {' '.join(lacking[:MOST_LETTERS])}")
        try:
            fill(order, _meter(order.target))
        except MediaError as error:
            status = told(f"{order.source}: {error}", SOME_FAILED)
        except OSError as error:
            status = told(f"{order.target}: {error.strerror or error}.", SOME_FAILED)
        else:
            tell(str(order.target))
            written.append(order.target)
    if len(orders) + len(problems) > 1:
        tell(summary(written, len(orders) + len(problems) - len(written)))
    return status


def _meter(target: Path) -> Callable[[float], None]:
    """Return a function that shows on a terminal the progress of a video and the time left."""
    begun = time.monotonic()
    last = 0.0

    def show(share: float) -> None:
        nonlocal last
        now = time.monotonic()
        if not sys.stderr.isatty() or now - last < TELL_EVERY_S or share <= 0:
            return
        last = now
        left = human((now - begun) / share * (1 - share))
        print(f"\r{target.name}: {share:.0%}, {left} left   ", end="", file=sys.stderr, flush=True)

    return show


def _orders(options: argparse.Namespace, problems: list[str]) -> Iterator[VideoOrder]:
    style = STYLES.find(options.style)
    if options.media.suffix == JOB:
        if options.captions:
            raise UseError("A job has its own captions: leave out --captions.")
        yield from _of_job(options, problems)
        return
    texts = [_read(path, options.language) for path in options.captions]
    if not texts:
        raise UseError("Which captions? --captions FILE; several for several languages.")
    if options.output.suffix.lower() not in CONTAINERS:
        raise UseError(f"-o ends in one of {', '.join(CONTAINERS)}.")
    look = LOOKS.find(options.caption_style or USUAL_LOOK)
    yield _order(options, options.media, options.output, texts, style, look)


def _of_job(options: argparse.Namespace, problems: list[str]) -> Iterator[VideoOrder]:
    """Make a video of every recording of a job that has a text; failures are told."""
    opened = open_job(options.media)
    try:
        store = opened.store
        options.output.mkdir(parents=True, exist_ok=True)
        suffix = options.container
        kept = store.settings()
        for recording in store.recordings():
            document = store.document(recording.id)
            if not any(cue.words for cue in document.transcript.cues):
                continue
            texts = [document.transcript]
            texts += [as_transcript(track, document.transcript) for track in document.tracks]
            target = options.output / f"{recording.name}{suffix}"
            own_looks = JOB_LOOKS.of(kept.get(JOB_LOOKS.key)).items()
            named = LOOKS.find(options.caption_style, own_looks) if options.caption_style else None
            dressing = dressing_of(recording, kept, named)
            look = dressing.look
            try:
                order = _order(options, recording.path, target, texts, dressing.style, look)
                looks = looks_for(order.captions, look, dressing.own_looks)
                order = order if named else replace(order, looks=looks)
            except UseError as error:
                problems.append(str(error))
            else:
                yield order
    finally:
        opened.store.close()


def _order(
    options: argparse.Namespace,
    source: Path,
    target: Path,
    texts: Sequence[Transcript],
    style: HouseStyle,
    look: Look,
) -> VideoOrder:
    try:
        with open_media(source) as read:
            pictured = has_picture(read)
    except MediaError as error:
        raise UseError(f"{source}: {error}") from None
    order = VideoOrder(
        source,
        target,
        quality=Quality(options.quality),
        shape=Shape(ShapeKind(options.shape), Filling(options.filling), picture=options.picture),
        part=(options.start or 0, options.end),
    )
    if options.switchable:
        if not pictured:
            raise UseError(f"{source}: has no picture to add tracks to.")
        tracks = tracks_of(texts, style.captions, look)
        return replace(order, tracks=tracks)
    below = texts[1] if len(texts) > 1 and not options.alone else None
    captions = captions_of(texts[0], style.captions, look, below)
    title = source.stem if options.title is None else options.title
    size = SOUND_SIZES.get(ShapeKind(options.shape), (1280, 720))
    scene = Scene(
        Backdrop.PICTURE if options.picture else Backdrop(options.backdrop),
        title=title,
        picture=options.picture,
        size=size,
    )
    return replace(order, captions=captions, looks=(look,), scene=scene)


def _read(path: Path, language: str) -> Transcript:
    try:
        return documents.read(path, language).transcript
    except OSError as error:
        raise UseError(f"{path}: {error.strerror}.") from None
    except FormatError as error:
        raise UseError(f"{path}: {error}") from None

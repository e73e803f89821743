"""Tasks that need no recogniser: headers, loudness, decoded sound."""

from __future__ import annotations

from collections.abc import Generator, Iterator
from dataclasses import replace
from pathlib import Path

from tamarind.audio import soundcache
from tamarind.audio.clock import sound_starts
from tamarind.audio.fingerprint import fingerprint
from tamarind.audio.level import level_of
from tamarind.audio.media import probe
from tamarind.audio.soundcache import ALL, Part, Sound
from tamarind.audio.source import WHOLE, Source
from tamarind.batch.messages import Drawn, Event, Identified, Known, Probe, SoundReady


def look(task: Probe) -> Iterator[Known | Identified]:
    """Yield a file's headers and its loudness, then its fingerprint."""
    info = replace(probe(task.path), sound_starts=sound_starts(task.path))
    level = level_of(task.path)
    if level is not None:
        info = replace(info, loud_db=level.loud_db, clipped=level.clipped)
    yield Known(task.key, info)
    yield Identified(task.key, fingerprint(task.path))


def decoded(
    key: int, path: Path, source: Source = WHOLE, part: Part = ALL
) -> Generator[Event, None, Sound]:
    """Yield the peaks of a file's sound while it is decoded, then that it is ready."""
    coming = soundcache.coming(path, source, part)
    while True:
        try:
            yield Drawn(key, next(coming))
        except StopIteration as end:
            sound: Sound = end.value
            made = sound.decoded
            yield SoundReady(key, made.duration, made.damage, sound.mark, sound.is_whole)
            return sound

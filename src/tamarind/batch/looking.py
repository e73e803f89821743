"""What a file is, how loud, and its sound: all that needs no recogniser."""

from __future__ import annotations

from collections.abc import Generator
from dataclasses import replace
from pathlib import Path

from tamarind.audio import soundcache
from tamarind.audio.level import level_of
from tamarind.audio.media import fingerprint, probe
from tamarind.audio.soundcache import Sound
from tamarind.audio.source import WHOLE, Source
from tamarind.batch.messages import Drawn, Event, Known, Look


def look(task: Look) -> Known:
    """What a file's headers say, and how loud it is in a few places."""
    info = probe(task.path)
    level = level_of(task.path)
    if level is not None:
        info = replace(info, loud_db=level.loud_db, clipped=level.clipped)
    return Known(task.key, info, fingerprint(task.path))


def decoded(key: int, path: Path, source: Source = WHOLE) -> Generator[Event, None, Sound]:
    """A file's sound, with news of its peaks while it is being decoded."""
    coming = soundcache.coming(path, source)
    while True:
        try:
            yield Drawn(key, next(coming))
        except StopIteration as end:
            sound: Sound = end.value
            return sound

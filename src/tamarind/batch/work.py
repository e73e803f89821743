"""What a worker does for one task: plain generators of events, without processes."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from functools import cache

from tamarind.audio import soundcache
from tamarind.audio.media import MediaError, fingerprint, probe
from tamarind.batch.messages import (
    Done,
    Event,
    Failed,
    Hear,
    HearAgain,
    Heard,
    HeardAgain,
    Known,
    Look,
    Prepare,
    Prepared,
    SoundReady,
    Started,
    Task,
)
from tamarind.captions.layout import lay_out
from tamarind.captions.limits import ORDINARY
from tamarind.speech.alignment import Aligner
from tamarind.speech.hearing import Tools, hear
from tamarind.speech.howtohear import BUILTIN, Voices
from tamarind.speech.recognisers.catalogue import load
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.voices import PackageDiariser
from tamarind.transcript.model import Word


@cache
def tools(recogniser: str = BUILTIN) -> Tools:
    """A recogniser with all that goes with it, loaded at the first use in this process."""
    aligner = Aligner()
    return Tools(load(recogniser, aligner), aligner, PackageDiariser())


def do(task: Task) -> Iterator[Event]:
    """Do a task; the last event says how it ended."""
    name = type(task).__name__
    try:
        match task:
            case Look():
                yield from look(task)
            case Hear():
                yield from hear_recording(task, tools)
            case HearAgain():
                yield hear_again(task, tools)
            case Prepare():
                sound = soundcache.fetch(task.path, task.source)
                yield Prepared(task.key, task.source, sound.playable())
    except (MediaError, RecogniserError) as error:
        yield Failed(task.key, name, str(error))
    except MemoryError:
        yield Failed(task.key, name, "There is not enough memory for this recording.")
    except OSError as error:
        yield Failed(task.key, name, f"The system refused: {error.strerror or error}.")
    else:
        yield Done(task.key, name)


def look(task: Look) -> Iterator[Event]:
    """Headers first, within a moment; then the sound, which is kept for hearing and drawing."""
    info = probe(task.path)
    yield Known(task.key, info, fingerprint(task.path))
    sound = soundcache.fetch(task.path)
    yield SoundReady(task.key, sound.decoded.duration, sound.decoded.damage)


def hear_recording(task: Hear, tools_for: Callable[[str], Tools]) -> Iterator[Event]:
    """From a file to cues, stretch by stretch.

    The last cue of a stretch waits for the next one, since its sentence may go on there.
    """
    began = time.monotonic()
    yield Started(task.key)
    with ThreadPoolExecutor(1) as loader:
        coming = loader.submit(tools_for, task.how.recogniser)
        sound = soundcache.fetch(task.path, task.how.source)
    yield SoundReady(task.key, sound.decoded.duration, sound.decoded.damage)
    start = task.part[0]
    end = min(task.part[1] or sound.decoded.duration, sound.decoded.duration)
    if start >= end:
        raise MediaError("The part to hear lies beyond the end of the recording.")
    waiting: list[tuple[Word, int | None]] = []
    next_id, after = task.first_id, task.after
    stretches = hear(
        sound.samples(),
        coming.result(),
        task.how,
        (start, end),
        sound.levels(),
        task.before,
    )
    for stretch in stretches:
        waiting += zip(stretch.words, stretch.voices, strict=True)
        words, voices = zip(*waiting, strict=True) if waiting else ((), ())
        cues = lay_out(words, ORDINARY, next_id, after, voices)
        ready = cues if stretch.is_last else cues[:-1]
        waiting = waiting[sum(len(cue.words) for cue in ready) :]
        if ready:
            next_id, after = ready[-1].id + 1, ready[-1].end
        go_on_at = waiting[0][0].start if waiting else stretch.heard_until
        seconds = time.monotonic() - began
        yield Heard(
            task.key, tuple(ready), go_on_at, stretch.heard_until, end, seconds, stretch.unheard
        )


def hear_again(task: HearAgain, tools_for: Callable[[str], Tools]) -> HeardAgain:
    """The words of a passage, all at once; voices stay as they are."""
    how = replace(task.how, voices=Voices())
    sound = soundcache.fetch(task.path, how.source)
    stretches = hear(sound.samples(), tools_for(how.recogniser), how, task.part)
    return HeardAgain(task.key, tuple(word for stretch in stretches for word in stretch.words))

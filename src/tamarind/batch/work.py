"""Do one task of a worker: a generator of events, without processes.

What hearing needs is imported for the first task that needs it: a file is looked at in a moment.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from tamarind.audio import soundcache
from tamarind.audio.media import MediaError
from tamarind.batch.messages import (
    Decode,
    Done,
    Event,
    Failed,
    FindShots,
    FindSpeech,
    FindStills,
    Hear,
    HearAgain,
    HearOnDemand,
    Prepare,
    Prepared,
    Probe,
    ShotsFound,
    StillFound,
    Task,
    TellSpeakers,
)
from tamarind.batch.probing import decoded, look
from tamarind.picture.shots import kept_shots
from tamarind.picture.stills import stills
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.system.log import log_file, note_failure
from tamarind.transcript.bounds import clean_text


def do(task: Task) -> Iterator[Event]:
    """Do a task; the last event says how it ended."""
    name = type(task).__name__
    try:
        yield from _events_of(task)
    except (MediaError, RecogniserError) as error:
        yield Failed(task.key, name, clean_text(str(error)))
    except MemoryError:
        yield Failed(task.key, name, "There is not enough memory for this recording.")
    except OSError as error:
        yield Failed(task.key, name, f"The system refused: {error.strerror or error}.")
    except Exception as error:
        # A mistake of ours, which trying again would only repeat.
        note_failure(name, error)
        yield Failed(task.key, name, _unforeseen(error))
    else:
        yield Done(task.key, name)


def _unforeseen(error: Exception) -> str:
    return (
        f"Something went wrong in Tamarind itself ({type(error).__name__}); the log says where:"
        f" {log_file()}"
    )


def _events_of(task: Task) -> Iterator[Event]:
    match task:
        case Probe():
            yield from look(task)
        case Decode():
            yield from decoded(task.key, task.path)
        case Prepare():
            sound = soundcache.fetch(task.path, task.source)
            yield Prepared(task.key, task.source, sound.playable())
        case FindShots():
            yield ShotsFound(task.key, kept_shots(task.path))
        case FindStills():
            for time, frame in zip(task.times, stills(task.path, task.times), strict=False):
                yield StillFound(
                    task.key,
                    time,
                    np.asarray(frame.to_ndarray(), np.uint8),
                    int(frame.colorspace),
                    int(frame.color_range),
                )
        case Hear() | HearAgain() | HearOnDemand() | TellSpeakers() | FindSpeech():
            yield from _heard(task)


def _heard(
    task: Hear | HearAgain | HearOnDemand | TellSpeakers | FindSpeech,
) -> Iterator[Event]:
    from tamarind.batch import transcribing

    match task:
        case Hear():
            yield from transcribing.hear_recording(task, transcribing.tools)
        case HearAgain():
            yield transcribing.hear_again(task, transcribing.tools)
        case HearOnDemand():
            yield from transcribing.hear_on_demand(task, transcribing.tools)
        case TellSpeakers():
            yield from transcribing.tell_speakers(task)
        case FindSpeech():
            yield transcribing.find_speech(task)

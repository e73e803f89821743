"""Transcribe in a worker: plain generators of events, without processes."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from functools import cache

from tamarind.audio import soundcache
from tamarind.audio.media import SAMPLE_RATE, MediaError, frame_rate_of
from tamarind.batch import bookmarks
from tamarind.batch.bookmarks import HearingState, Waiting
from tamarind.batch.messages import (
    Event,
    FindSpeech,
    Hear,
    HearAgain,
    Heard,
    HeardAgain,
    HeardOnDemand,
    HearOnDemand,
    ListenedOnDemand,
    SpeakersTold,
    SpeechFound,
    Started,
    TellSpeakers,
    VoicesKnown,
    VoicesSought,
)
from tamarind.batch.probing import decoded
from tamarind.batch.spokenlanguage import SpokenLanguage
from tamarind.batch.timeleft import Outlook, Stopwatch
from tamarind.captions.layout import lay_out_so_far
from tamarind.captions.limits import Limits
from tamarind.picture.shots import ShotsMeanwhile
from tamarind.speech.activity import ActivityMeter
from tamarind.speech.alignment import Aligner
from tamarind.speech.diarisation.again import by_example, so_many
from tamarind.speech.diarisation.encoder import VoiceEncoder
from tamarind.speech.diarisation.keptpoints import points_through
from tamarind.speech.diarisation.windows import NO_POINTS, EmbeddedSpans
from tamarind.speech.hearing import Stretch, Tools, finder_for, hear
from tamarind.speech.hearingoptions import BUILTIN, Care, HearingOptions, Voices
from tamarind.speech.recognisers.base import Recogniser
from tamarind.speech.recognisers.catalogue import best_for, load, more_for, other_than, second_for
from tamarind.speech.script import timed_script
from tamarind.speech.secondopinion import SecondListener
from tamarind.transcript.model import Cue, Word

MOST_WAITING = 12
"""So many cues wait at most for what follows; without pauses and marks it might be hundreds."""


@cache
def tools(recogniser: str = BUILTIN) -> Tools:
    """Load a recogniser with all that goes with it, once in this process."""
    aligner = Aligner()

    def other(how: HearingOptions) -> Recogniser | None:
        name = other_than(recogniser, how)
        return tools(name).recogniser if name else None

    def second(how: HearingOptions) -> SecondListener | None:
        name = second_for(how)
        if not name:
            return None
        # The same one hears otherwise only with more work.
        care = Care.THOROUGH if name == recogniser else Care.QUICK
        return SecondListener(tools(name).recogniser, care)

    def more(how: HearingOptions) -> list[Recogniser]:
        return [tools(name).recogniser for name in more_for(how)]

    return Tools(
        load(recogniser, aligner), aligner, VoiceEncoder(), other=other, second=second, more=more
    )


def _other_languages(stretch: Stretch, how: HearingOptions) -> list[str]:
    """Return for each word its language if that is not the recording's, else ""."""
    if how.into_english or not stretch.languages:
        return [""] * len(stretch.words)
    return [tag if tag != how.language else "" for tag in stretch.languages]


def _moved_on(
    place: HearingState, stretch: Stretch, waiting: Sequence[Waiting], ready: Sequence[Cue]
) -> HearingState:
    """Return where the transcription continues after a stretch, of which some cues are ready and
    other words wait."""
    rest = tuple(waiting[sum(len(cue.words) for cue in ready) :])
    if not ready:
        return replace(place, sound=stretch.bookmark, waiting=rest)
    last = ready[-1]
    return HearingState(
        stretch.bookmark, rest, last.id + 1, last.end, (last.words[-1], last.speaker)
    )


def _section(task: Hear, duration: int) -> tuple[int, int]:
    """Return the section to transcribe (from, to, in ms). Raises MediaError if it holds nothing."""
    start, end = task.part[0], min(task.part[1] or duration, duration)
    if start >= end:
        raise MediaError("The section is beyond the end of the recording.")
    return start, end


def _laid_out(
    place: HearingState,
    waiting: Sequence[Waiting],
    limits: Limits,
    language: str,
    shots: Sequence[int],
) -> tuple[Sequence[Cue], int]:
    """Lay out waiting words behind the cues before; return the cues and how many are final."""
    words, voices, languages = zip(*waiting, strict=True) if waiting else ((), (), ())
    return lay_out_so_far(
        words, limits, place.next_id, place.after, voices, language,
        before=place.last, languages=languages, shots=shots,
    )  # fmt: skip


def hear_recording(task: Hear, tools_for: Callable[[str], Tools]) -> Iterator[Event]:
    """Transcribe a file into cues, stretch by stretch.

    Cues at the end of a stretch wait for the next one as long as what follows could change how they
    are best cut.
    """
    yield Started(task.key)
    with ThreadPoolExecutor(1) as loader:
        coming = loader.submit(tools_for, best_for(task.how))
        sound = yield from decoded(task.key, task.path, task.how.source, task.part)
    start, end = _section(task, sound.decoded.duration)
    outlook = Outlook(sound.peaks(), (start, end))
    place = bookmarks.read(task.bookmark)
    spoken = SpokenLanguage(task.key, task.how, sound.samples(), (start, end), tools_for)
    yield from spoken.find()
    how = spoken.how
    loaded = tools_for(best_for(how)) if how is not task.how else coming.result()
    yield from spoken.check(loaded)
    what = sound.samples(), loaded, how, (start, end), sound.levels(), place.sound
    finder = finder_for(*what, sound.folder)
    if finder is not None:
        for share in finder.look():
            yield VoicesSought(task.key, share)
    watch = Stopwatch(outlook, _time_of(place, start))
    limits = task.limits.on_picture(frame_rate_of(task.path) if task.limits.own_frames else None)
    shots = ShotsMeanwhile(task.path) if task.limits.to_shots else None
    stretches = hear(*what, finder)
    for stretch in stretches:
        yield from spoken.check_words(stretch.words, loaded, stretch.is_last)
        tags = _other_languages(stretch, how)
        waiting = [*place.waiting, *zip(stretch.words, stretch.voices, tags, strict=True)]
        seen = shots.until(stretch.heard_until) if shots is not None else ()
        cues, final = _laid_out(place, waiting, limits, how.written, seen)
        ready = cues if stretch.is_last else cues[: max(final, len(cues) - MOST_WAITING)]
        place = _moved_on(place, stretch, waiting, ready)
        work = watch.work(stretch.heard_until, _following(stretch), stretch.is_last)
        yield Heard(
            task.key,
            tuple(ready),
            stretch.heard_until,
            end=end,
            work=work,
            unheard=stretch.unheard,
            bookmark=bookmarks.written(place),
            at_once=stretch.at_once,
        )
    if shots is not None:
        shots.close()
    if finder is not None:
        yield VoicesKnown(task.key, tuple(finder.voiceprints()), finder.perhaps)


def _following(stretch: Stretch) -> int:
    """Return where the next stretch ends, about (ms)."""
    if stretch.bookmark is None:
        return stretch.heard_until
    return stretch.bookmark.border * 1000 // SAMPLE_RATE + stretch.bookmark.block_ms


def _time_of(place: HearingState, start: int) -> int:
    """Return the time up to which a recording is transcribed (ms)."""
    return start if place.sound is None else place.sound.origin * 1000 // SAMPLE_RATE


def hear_again(task: HearAgain, tools_for: Callable[[str], Tools]) -> HeardAgain:
    """Transcribe a passage again, all at once; voices stay as they are."""
    sound = soundcache.fetch(task.path, task.how.source, task.part)
    spoken = SpokenLanguage(task.key, task.how, sound.samples(), task.part, tools_for)
    for _ in spoken.find():
        pass
    how = replace(spoken.how, voices=Voices())
    stretches = hear(sound.samples(), tools_for(best_for(how)), how, task.part)
    return HeardAgain(task.key, tuple(word for stretch in stretches for word in stretch.words))


def hear_on_demand(
    task: HearOnDemand, tools_for: Callable[[str], Tools]
) -> Iterator[ListenedOnDemand | HeardOnDemand]:
    """Transcribe a part beside its text, with progress after each stretch; or match a script with
    it."""
    sound = soundcache.fetch(task.path, task.how.source, task.part)
    start = task.part[0]
    end = min(task.part[1] or sound.decoded.duration, sound.decoded.duration)
    spoken = SpokenLanguage(task.key, task.how, sound.samples(), (start, end), tools_for)
    for _ in spoken.find():
        pass
    how = replace(spoken.how, voices=Voices())
    tools = tools_for(best_for(how))
    words: list[Word] = []
    for stretch in hear(sound.samples(), tools, how, (start, end)):
        words += stretch.words
        yield ListenedOnDemand(task.key, stretch.heard_until, end)
    if task.script:
        part = sound.samples()[: end * SAMPLE_RATE // 1000]
        words = timed_script(task.script, words, part, tools.aligner, start)
    yield HeardOnDemand(task.key, tuple(words))


def tell_speakers(task: TellSpeakers) -> Iterator[ListenedOnDemand | SpeakersTold]:
    """Find the speaker of each word, from embeddings that are kept or made now."""
    sound = soundcache.fetch(task.path, task.source, task.part)
    end = min(task.part[1] or sound.decoded.duration, sound.decoded.duration)
    through = points_through(sound.samples(), (task.part[0], end), VoiceEncoder(), sound.folder)
    while True:
        try:
            share = next(through)
        except StopIteration as done:
            points: EmbeddedSpans = done.value
            break
        yield ListenedOnDemand(task.key, round(share * end), end)
    points = points.within(task.words[0].start, task.words[-1].end) if task.words else NO_POINTS
    if task.speakers:
        told = by_example(task.words, points, task.speakers, task.certain)
    else:
        told = so_many(task.words, points, task.count or None)
    yield SpeakersTold(task.key, told.speakers, told.voices)


def find_speech(task: FindSpeech) -> SpeechFound:
    """Measure the probability of speech in all of a recording."""
    sound = soundcache.fetch(task.path, task.source)
    return SpeechFound(task.key, task.source, ActivityMeter().measure(sound.samples()))

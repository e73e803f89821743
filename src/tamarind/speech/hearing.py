"""Transcribe a recording from start to end: find speech, cut segments, recognise, align.

The sound is taken in blocks, so that finished stretches come out while the rest is still to be
heard, memory stays flat however long a recording is, and stopped work can go on where it was.
"""

from __future__ import annotations

from bisect import bisect_right
from collections import deque
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.audio.source import Channel
from tamarind.memory import forget, trim
from tamarind.speech.activity import FRAME_MS, NO_ACTIVITY, Activity, ActivityMeter, find_speech
from tamarind.speech.alignment import SHORTEST_WORD_MS, Aligner, TimedWord
from tamarind.speech.bookmark import Bookmark
from tamarind.speech.confidence import Sounding, with_sound
from tamarind.speech.cores import on_one_core_each
from tamarind.speech.coverage import Align, Ears, PlacedText, covered
from tamarind.speech.detector import FRAME, Memory
from tamarind.speech.diarisation.channels import at_once, one_voice_a_channel, sides_of
from tamarind.speech.diarisation.encoder import VoiceEncoder
from tamarind.speech.diarisation.finder import VoiceFinder
from tamarind.speech.edges import snapped
from tamarind.speech.hearingoptions import Care, HearingOptions
from tamarind.speech.identification import LanguageIdentifier, languages_in
from tamarind.speech.inventions import INVENTED_CONFIDENCE, invented
from tamarind.speech.overlaps import merged
from tamarind.speech.pronouncer import ENGLISH, SILENT, Pronouncer, pronouncer_for
from tamarind.speech.recognisers.base import HeardWord, Hypothesis, Recogniser
from tamarind.speech.secondopinion import SecondListener, SecondOpinion
from tamarind.speech.segments import OVERLAP, QUIET_MS, TURN_MS, Segment, cut, grouped, settled
from tamarind.speech.sentence_ends import with_ends
from tamarind.speech.unheard import unheard
from tamarind.transcript.bounds import clean_text
from tamarind.transcript.model import Word
from tamarind.transcript.tokens import Glued

Span = tuple[int, int]
Levels = NDArray[np.float16]
NO_LEVELS: Levels = np.zeros((0, 0), np.float16)

FIRST_BLOCK_MS = 40_000
LONGEST_BLOCK_MS = 300_000
"""The first block is short so that text appears soon; later ones fill whole batches."""


@dataclass(frozen=True, slots=True)
class Stretch:
    """A finished stretch: its words in order, and the time (ms) up to which the sound is done.

    ``voices`` has the number of each word's voice, from 1, or None if they were not told apart,
    ``languages`` the tag of each word's language, or nothing where all are in the same.
    ``unheard`` is where somebody speaks (from, to, in ms) and no text came, ``at_once`` where two
    do. ``bookmark`` is where to go on if hearing is stopped now.
    """

    words: tuple[Word, ...]
    voices: tuple[int | None, ...]
    heard_until: int
    is_last: bool
    unheard: tuple[Span, ...] = ()
    bookmark: Bookmark | None = None
    languages: tuple[str, ...] = ()
    at_once: tuple[Span, ...] = ()


@dataclass(frozen=True, slots=True)
class Tools:
    """The models for transcribing; loaded once, used for many recordings."""

    recogniser: Recogniser
    aligner: Aligner
    encoder: VoiceEncoder
    other: Callable[[HearingOptions], Recogniser | None] = lambda _how: None
    """Another recogniser, which is asked where this one may have left something out."""
    second: Callable[[HearingOptions], SecondListener | None] = lambda _how: None
    """Who hears again what is not sure, if anybody does with such options."""
    more: Callable[[HearingOptions], Sequence[Recogniser]] = lambda _how: ()
    """Who is asked besides, where these two differ."""


def hear(
    samples: Samples,
    tools: Tools,
    how: HearingOptions,
    part: tuple[int, int],
    levels: Levels = NO_LEVELS,
    bookmark: Bookmark | None = None,
    finder: VoiceFinder | None = None,
) -> Iterator[Stretch]:
    """Yield the words of ``part`` (from, to, in ms) of a recording, stretch by stretch.

    ``levels`` are those of its channels for every 10 ms. From a ``bookmark`` of an earlier hearing
    of the same part it goes on with what that one would have said next. ``finder`` is what
    ``finder_for`` gave for the same, if it has looked already. Word times are in ms from the
    recording's start. Raises RecogniserError when the recogniser does not hear the language.
    """
    on_one_core_each()
    finder = finder or finder_for(samples, tools, how, part, levels, bookmark)
    voices = _voices(how, levels, finder)
    start = min(part[0] * SAMPLE_RATE // 1000, len(samples))
    end = min(part[1] * SAMPLE_RATE // 1000, len(samples))
    blocks = _blocks(samples, start, end, how, tools.recogniser, bookmark)
    # The one that knows English alone was seen not to; commas of its own would be lost.
    joins_sentences = tuple(tools.recogniser.languages) != ("en",)
    by_channel = how.voices.wanted and finder is None
    heard_from = part[0] if bookmark is None else bookmark.origin * 1000 // SAMPLE_RATE
    for block, hypotheses in _recognised(blocks, tools, how):
        words, speech, doubted = _words_of(block, hypotheses, tools, how)
        missed = _in_one([*unheard(speech, words), *doubted])
        spoken_by = tuple(voices(words))
        known = finder.mark(block.heard_until) if finder else None
        mark = replace(block.bookmark, voices=known)
        languages = _languages_of(words, block) if how.others else ()
        said_in = languages or [how.written] * len(words)
        ends_here = block.is_last and end + SAMPLE_RATE // 100 >= len(samples)
        words = with_ends(words, spoken_by, said_in, ends_here, joins_sentences)
        both = tuple(at_once(levels, heard_from, block.heard_until)) if by_channel else ()
        heard_from = block.heard_until
        yield Stretch(
            words,
            spoken_by,
            block.heard_until,
            is_last=block.is_last,
            unheard=missed,
            bookmark=mark,
            languages=languages,
            at_once=both,
        )
        forget(samples)
        trim()


@dataclass(frozen=True, slots=True)
class _Block:
    """A piece of sound that is processed at once.

    ``origin`` is the sample at which ``activity`` starts, in which the segments have their frames;
    ``languages`` are those that are spoken in them.
    """

    activity: Activity
    origin: int
    segments: Sequence[Segment]
    languages: Sequence[str]
    sounds: Sequence[Samples]
    heard_until: int
    is_last: bool
    bookmark: Bookmark


def _blocks(
    samples: Samples,
    start: int,
    end: int,
    how: HearingOptions,
    recogniser: Recogniser,
    bookmark: Bookmark | None,
) -> Iterator[_Block]:
    """Yield the sound in pieces that end where no word is cut."""
    waiting, origin = (bookmark.waiting, bookmark.origin) if bookmark else (NO_ACTIVITY, start)
    for activity, is_last, measured in _activities(samples, start, end, bookmark):
        waiting = waiting.joined(activity)
        segments = cut(waiting, how.sensitivity, TURN_MS if how.others else QUIET_MS)
        done = len(waiting)
        if not is_last:
            segments, done = _settled(segments, done)
        languages = [how.language] * len(segments)
        if how.others and isinstance(recogniser, LanguageIdentifier):
            # Told apart in short pieces, heard in long ones.
            parts = [_sound(samples, origin, segment) for segment in segments]
            languages = languages_in(parts, how.languages, recogniser)
            segments, languages = grouped(segments, languages)
        sounds = [_sound(samples, origin, segment) for segment in segments]
        following = min(origin + done * FRAME, end)
        heard_until = round(following * 1000 / SAMPLE_RATE)
        rest = waiting.since(done)
        mark = Bookmark(measured.border, measured.memory, following, rest, measured.block_ms)
        yield _Block(
            waiting,
            origin,
            segments,
            languages=languages,
            sounds=sounds,
            heard_until=heard_until,
            is_last=is_last,
            bookmark=mark,
        )
        waiting, origin = rest, following


def _sound(samples: Samples, origin: int, segment: Segment) -> Samples:
    return samples[origin + segment.first * FRAME : origin + segment.last * FRAME]


def _recognised(
    blocks: Iterator[_Block], tools: Tools, how: HearingOptions
) -> Iterator[tuple[_Block, list[Hypothesis]]]:
    """Yield each block with its best hypotheses; the next one is recognised meanwhile."""

    def recognise(block: _Block) -> list[Hypothesis]:
        results: list[Hypothesis] = [Hypothesis((), 0.0)] * len(block.sounds)
        for language in dict.fromkeys(block.languages):
            own = [place for place, tag in enumerate(block.languages) if tag == language]
            alone = replace(how, language=language, others=(), care=Care.QUICK)
            heard = tools.recogniser.hear([block.sounds[place] for place in own], alone)
            for place, (best, *_others) in zip(own, heard, strict=True):
                results[place] = best
        return results

    with ThreadPoolExecutor(1) as ahead:
        waiting: deque[tuple[_Block, Future[list[Hypothesis]]]] = deque()
        for block in blocks:
            waiting.append((block, ahead.submit(recognise, block)))
            if len(waiting) == 2:
                earlier, hypotheses = waiting.popleft()
                yield earlier, hypotheses.result()
        for block, hypotheses in waiting:
            yield block, hypotheses.result()


@dataclass(frozen=True, slots=True)
class _Measured:
    """The detector's state after a block: a sample, its memory, and the next block's length
    (ms)."""

    border: int
    memory: Memory
    block_ms: int


def _activities(
    samples: Samples, start: int, end: int, bookmark: Bookmark | None
) -> Iterator[tuple[Activity, bool, _Measured]]:
    """Yield the activity of each block, measured while the one before is recognised."""
    meter = ActivityMeter(bookmark.memory if bookmark else None)
    first = bookmark.border if bookmark else start
    block_ms = bookmark.block_ms if bookmark else FIRST_BLOCK_MS
    blocks: list[tuple[slice, int]] = []
    while first < end:
        last = min(first + block_ms * SAMPLE_RATE // 1000 // FRAME * FRAME, end)
        block_ms = min(block_ms * 2, LONGEST_BLOCK_MS)
        blocks.append((slice(first, last), block_ms))
        first = last

    def measure(block: tuple[slice, int]) -> tuple[Activity, _Measured]:
        place, next_ms = block
        activity = meter.measure(samples[place])
        return activity, _Measured(place.stop, meter.memory, next_ms)

    with ThreadPoolExecutor(1) as ahead:
        coming = [ahead.submit(measure, blocks[0])] if blocks else []
        for following in [*blocks[1:], None]:
            if not coming:
                return
            activity, measured = coming.pop().result()
            if following is not None:
                coming.append(ahead.submit(measure, following))
            yield activity, following is None, measured


def _settled(segments: list[Segment], length: int) -> tuple[list[Segment], int]:
    """Return the segments that more sound will not change, and the frame from which there may be
    others.

    Speech without any pause over a whole block is cut off hard.
    """
    count = settled(segments)
    if count or length * FRAME_MS < LONGEST_BLOCK_MS or len(segments) < 2:
        return segments[:count], segments[count].first if segments else length
    border = segments[-1].first + OVERLAP
    return [*segments[:-2], replace(segments[-2], last=border)], border


def finder_for(
    samples: Samples,
    tools: Tools,
    how: HearingOptions,
    part: tuple[int, int],
    levels: Levels,
    bookmark: Bookmark | None,
    folder: Path | None = None,
) -> VoiceFinder | None:
    """Return what tells the voices of this recording apart; None if that is not wanted or not
    needed. ``folder`` is where its points are kept, if anywhere."""
    by_channel = how.source.channel is Channel.MIX and one_voice_a_channel(levels)
    if not how.voices.wanted or by_channel:
        return None
    mark = bookmark.voices if bookmark else None
    at = bookmark.origin * 1000 // SAMPLE_RATE if bookmark else None
    return VoiceFinder(
        samples, part, how.voices, encoder=tools.encoder, mark=mark, at=at, folder=folder
    )


def _voices(
    how: HearingOptions, levels: Levels, finder: VoiceFinder | None
) -> Callable[[Sequence[Word]], list[int | None]]:
    """Return the function that gives words their voices in this recording."""
    if not how.voices.wanted:
        return lambda words: [None] * len(words)
    if finder is None:
        return lambda words: sides_of(words, levels)
    return finder.voices_of


def _words_of(
    block: _Block, hypotheses: Sequence[Hypothesis], tools: Tools, how: HearingOptions
) -> tuple[tuple[Word, ...], list[Span], list[Span]]:
    """Return the words with times, where somebody speaks, and where something may be missing, all
    in the recording's time."""
    sounds = block.sounds
    speech = [_speech_within(block.activity, segment, how) for segment in block.segments]
    spoken_in = block.languages
    hypotheses = list(hypotheses)
    aligned: list[Sequence[TimedWord]] = [[] for _ in sounds]
    doubted: list[Sequence[Span]] = [() for _ in sounds]
    for language in dict.fromkeys(spoken_in):
        own = [place for place, tag in enumerate(spoken_in) if tag == language]
        placed, told = _placed(
            [sounds[place] for place in own],
            [hypotheses[place] for place in own],
            [speech[place] for place in own],
            replace(how, language=language, others=()),
            tools,
        )
        for place, text, missing in zip(own, placed, told, strict=True):
            hypotheses[place] = replace(hypotheses[place], words=text.words)
            aligned[place], doubted[place] = text.times, missing
    words: list[Word] = []
    spoken: list[Span] = []
    missed: list[Span] = []
    heard_to = 0
    for place, segment in enumerate(block.segments):
        offset = (block.origin + segment.first * FRAME) * 1000 // SAMPLE_RATE
        times = snapped(aligned[place], sounds[place])
        is_english = not how.into_english and pronouncer_for(spoken_in[place]) is ENGLISH
        new = _certain(hypotheses[place], times, speech[place], offset, is_english)
        words = merged(words, new, (offset, heard_to)) if offset < heard_to else [*words, *new]
        spoken += [(start + offset, end + offset) for start, end in speech[place]]
        missed += [(start + offset, end + offset) for start, end in doubted[place]]
        heard_to = offset + len(sounds[place]) * 1000 // SAMPLE_RATE
    return tuple(_in_order(words)), spoken, missed


def _placed(
    sounds: Sequence[Samples],
    hypotheses: Sequence[Hypothesis],
    speech: Sequence[Sequence[Span]],
    how: HearingOptions,
    tools: Tools,
) -> tuple[list[PlacedText], list[list[Span]]]:
    """Return the words of segments in one language with times, including what a second try found
    where they did not cover the speech; and where something may still be missing."""
    said_by = SILENT if how.into_english else pronouncer_for(how.language)
    second = tools.second(how)
    opinion = (
        SecondOpinion(second, tools.aligner, how, tools.more(how)) if second is not None else None
    )
    if opinion is not None and how.care is Care.DOUBLE:
        hypotheses = opinion.of_all(sounds, hypotheses)

    def align(
        parts: Sequence[Samples],
        texts: Sequence[Hypothesis],
        spoken: Sequence[Sequence[Span]] | None = None,
    ) -> list[list[TimedWord]]:
        times = tools.aligner.align(
            parts,
            [[word.text for word in text.words] for text in texts],
            spoken or [()] * len(parts),
            said_by or ENGLISH,
        )
        pairs = zip(times, texts, strict=True)
        return [_with_own_times(one, text, said_by is not None) for one, text in pairs]

    aligned = align(sounds, hypotheses, speech)
    texts = [
        PlacedText(text.words, tuple(times))
        for text, times in zip(hypotheses, aligned, strict=True)
    ]
    if opinion is not None and how.care is Care.THOROUGH:
        is_english = said_by is ENGLISH
        sure = [
            _sure(text.words, text.times, spoken, is_english)
            for text, spoken in zip(texts, speech, strict=True)
        ]
        texts = opinion.where_unsure(sounds, texts, sure)
    if said_by is None or said_by is SILENT:
        # Nobody knows how long the words can be.
        return texts, [[] for _ in texts]

    return covered(texts, sounds, speech, _ears(how, tools, align, said_by))


def _ears(how: HearingOptions, tools: Tools, align: Align, said_by: Pronouncer) -> Ears:
    """Return what transcribes again where text may be missing: the recogniser itself, then
    another."""

    def hear(recogniser: Recogniser, parts: Sequence[Samples]) -> list[Hypothesis]:
        return [best for best, *_ in recogniser.hear(parts, replace(how, care=Care.QUICK))]

    def hear_otherwise(parts: Sequence[Samples]) -> list[Hypothesis]:
        other = tools.other(how)
        return [Hypothesis((), 0.0)] * len(parts) if other is None else hear(other, parts)

    def fits(sound: Samples, words: Sequence[Sequence[str]]) -> list[float]:
        return tools.aligner.fits(sound, words, said_by)

    return Ears((partial(hear, tools.recogniser), hear_otherwise), align, fits)


def _in_one(spans: Sequence[Span]) -> tuple[Span, ...]:
    """Merge spans that meet."""
    found: list[Span] = []
    for start, end in sorted(spans):
        if found and start <= found[-1][1]:
            found[-1] = found[-1][0], max(found[-1][1], end)
        else:
            found.append((start, end))
    return tuple(found)


def _languages_of(words: Sequence[Word], block: _Block) -> tuple[str, ...]:
    """Return the language of each word, by its segment."""
    starts = [
        (block.origin + segment.first * FRAME) * 1000 // SAMPLE_RATE for segment in block.segments
    ]
    return tuple(block.languages[max(bisect_right(starts, word.start) - 1, 0)] for word in words)


def _certain(
    reading: Hypothesis,
    times: Sequence[TimedWord],
    speech: Sequence[Span],
    offset: int,
    is_english: bool,
) -> list[Word]:
    """Return the words of a segment in the recording's time, with their final confidences."""
    sure = _sure(reading.words, times, speech, is_english)
    marks = invented([word.text for word in reading.words], times, speech)
    return [
        Word(
            str(word.text),
            time.start + offset,
            time.end + offset,
            round(min(confidence, INVENTED_CONFIDENCE) if is_invented else confidence, 3),
            word.others,
            glued=isinstance(word.text, Glued),
        )
        for word, time, confidence, is_invented in zip(
            reading.words, times, sure, marks, strict=True
        )
    ]


def _sure(
    words: Sequence[HeardWord], times: Sequence[TimedWord], speech: Sequence[Span], is_english: bool
) -> list[float]:
    """Return the confidence of each word of a segment, by how it lies in the sound."""
    sure = [word.confidence for word in words]
    if is_english:
        # The acoustic model's phones are English: how others fit says nothing, as was measured.
        sure = with_sound(sure, soundings([word.text for word in words], times, speech))
    return [min(confidence, word.at_most) for word, confidence in zip(words, sure, strict=True)]


def soundings(
    texts: Sequence[str], times: Sequence[TimedWord], speech: Sequence[Span]
) -> list[Sounding]:
    """Return how the words of a segment lie in its sound; times and ``speech`` are from its start,
    in ms."""
    edges = [0, *(time.end for time in times)]
    starts = [*(time.start for time in times), max([edges[-1], *(end for _, end in speech)])]
    silent = [_overlap(before, after, speech) for before, after in zip(edges, starts, strict=True)]
    return [
        Sounding(
            time.fit,
            (time.end - time.start) / max(sum(map(str.isalnum, text)), 1),
            silent[place],
            silent[place + 1],
        )
        for place, (text, time) in enumerate(zip(texts, times, strict=True))
    ]


def _overlap(start: int, end: int, spans: Sequence[Span]) -> int:
    return sum(max(min(end, last) - max(start, first), 0) for first, last in spans)


def _in_order(words: Sequence[Word]) -> Iterator[Word]:
    """Push words apart that overlap a little at a border of segments, and drop words without valid
    characters, which a network may write."""
    end = 0
    for word in words:
        text = clean_text(word.text)
        if not text:
            continue
        start = max(word.start, end)
        end = max(word.end, start + 1)
        yield replace(word, text=text, start=start, end=end)


def _with_own_times(
    times: Sequence[TimedWord], reading: Hypothesis, is_pronounced: bool
) -> list[TimedWord]:
    """Return the recogniser's own times where it has any and the alignment is no better.

    Without pronunciations of the language the alignment is a makeshift.
    """
    result: list[TimedWord] = []
    for time, word in zip(times, reading.words, strict=True):
        if word.time is not None and not (is_pronounced and time.aligned):
            low = result[-1].end if result else 0
            start = max(word.time[0], low)
            time = TimedWord(start, max(word.time[1], start + SHORTEST_WORD_MS), None)
        result.append(time)
    return result


def _speech_within(activity: Activity, segment: Segment, how: HearingOptions) -> list[Span]:
    part = Activity(
        activity.probability[segment.first : segment.last],
        activity.level[segment.first : segment.last],
    )
    ms = FRAME * 1000 // SAMPLE_RATE
    return [(first * ms, last * ms) for first, last in find_speech(part, how.sensitivity)]

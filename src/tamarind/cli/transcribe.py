"""``tamarind transcribe``: hear recordings one after the other and write their texts."""

from __future__ import annotations

import argparse
import queue
import sys
from dataclasses import dataclass, field
from pathlib import Path
from typing import TextIO

from tamarind.audio.source import Channel, Source
from tamarind.batch.crew import Crew
from tamarind.batch.messages import Done, Event, Failed, Hear, Heard, SoundReady, Started
from tamarind.batch.timeleft import human, seconds_left
from tamarind.captions.limits import ORDINARY
from tamarind.captions.lines import with_breaks
from tamarind.cli.main import DONE, SOME_FAILED, WRONG_USE
from tamarind.formats import documents
from tamarind.formats.captionfile import decoded
from tamarind.formats.safefile import write_whole
from tamarind.formats.timecode import clock
from tamarind.speech.glossary import NO_TERMS, GlossaryError, read_glossary
from tamarind.speech.howtohear import Care, HowToHear, Sensitivity, Voices
from tamarind.speech.recognisers.catalogue import check
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.transcript.edits import with_voices
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.survey import Survey


@dataclass
class _Work:
    path: Path
    stem: str
    cues: list[Cue] = field(default_factory=list)
    unheard: list[tuple[int, int]] = field(default_factory=list)
    duration: int = 0
    failed: bool = False


def transcribe(options: argparse.Namespace) -> int:
    """Hear every file; a bad one is told and passed over. Returns the exit status."""
    if options.end is not None and options.end <= options.start:
        print("tamarind: --to must lie after --from.", file=sys.stderr)
        return WRONG_USE
    try:
        options.output.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        print(f"tamarind: {options.output}: {error.strerror}.", file=sys.stderr)
        return WRONG_USE
    try:
        how = _how(options)
        check(how)
    except (ValueError, GlossaryError, RecogniserError) as error:
        print(f"tamarind: {error}", file=sys.stderr)
        return WRONG_USE
    formats = list(dict.fromkeys(options.formats or ["srt"]))
    work = [
        _Work(path, stem) for path, stem in zip(options.files, _stems(options.files), strict=True)
    ]
    events: queue.SimpleQueue[Event] = queue.SimpleQueue()
    crew = Crew(events.put)
    meter = _Meter(sys.stderr)
    try:
        for key, item in enumerate(work):
            part = (options.start, options.end)
            crew.add(Hear(key, item.path, how, part))
        for _ in work:
            _follow(events, work, meter)
            item = work[meter.key]
            if not item.failed:
                _write(item, options.output, formats, options.language, meter)
    except KeyboardInterrupt:
        meter.line("stopped")
        return SOME_FAILED
    finally:
        crew.close()
    return SOME_FAILED if any(item.failed for item in work) else DONE


def _how(options: argparse.Namespace) -> HowToHear:
    """What the options say; raises GlossaryError or ValueError with a sentence."""
    if options.track < 1:
        raise ValueError("Sound tracks are counted from 1.")
    glossary = NO_TERMS
    if options.glossary is not None:
        try:
            glossary = read_glossary(decoded(options.glossary.read_bytes()))
        except OSError as error:
            raise ValueError(f"{options.glossary}: {error.strerror}.") from None
    return HowToHear(
        options.language,
        Care(options.care),
        Voices.read(options.speakers),
        glossary,
        Source(options.track - 1, Channel(options.channel), options.clean),
        options.recogniser,
        Sensitivity(options.sensitivity),
    )


def _follow(events: queue.SimpleQueue[Event], work: list[_Work], meter: _Meter) -> None:
    """Take events until one recording has ended, well or not."""
    while True:
        event = events.get()
        item = work[event.key]
        meter.key = event.key
        if isinstance(event, Started):
            meter.begin(item.path.name)
        elif isinstance(event, SoundReady):
            item.duration = event.duration
            if event.damage:
                meter.line(f"{item.path}: {event.damage}")
        elif isinstance(event, Heard):
            item.cues.extend(event.cues)
            item.unheard.extend(event.unheard)
            meter.show(item.path.name, event)
        elif isinstance(event, Failed):
            item.failed = True
            meter.line(f"{item.path}: {event.reason}")
            return
        elif isinstance(event, Done):
            return


def _write(item: _Work, folder: Path, formats: list[str], language: str, meter: _Meter) -> None:
    text = with_breaks(with_voices(Transcript(language, tuple(item.cues))), ORDINARY)
    source = documents.Source(item.path.name, item.duration)
    for suffix in formats:
        target = folder / f"{item.stem}.{suffix}"
        try:
            write_whole(target, documents.write(suffix, text, source).encode())
        except OSError as error:
            item.failed = True
            meter.line(f"{target}: could not be written: {error.strerror}.")
            return
    words = Survey().follow(text).words()
    meter.line(
        f"{item.path.name}: {words} words" if words else f"{item.path.name}: no speech found"
    )
    for start, end in item.unheard:
        times = f"{clock(start, 1, hours=False)} to {clock(end, 1, hours=False)}"
        meter.line(f"{item.path.name}: speech without text from {times}")


def _stems(files: list[Path]) -> list[str]:
    """A name for each file's texts; files of the same name keep their suffix or get a number."""
    stems: list[str] = []
    for path in files:
        options = [path.stem, path.name, *(f"{path.stem}-{n}" for n in range(2, len(files) + 2))]
        stems.append(next(name for name in options if name not in stems))
    return stems


class _Meter:
    """Progress on a terminal: one line that is written over; elsewhere only what lasts."""

    def __init__(self, stream: TextIO) -> None:
        self._stream = stream
        self._live = stream.isatty()
        self.key = 0

    def begin(self, name: str) -> None:
        """A recording's turn has come; nothing is known of it yet."""
        if self._live:
            self._stream.write(f"\r\x1b[K{name}: finding speech…")
            self._stream.flush()

    def show(self, name: str, event: Heard) -> None:
        """How far the current recording is, and how long it may still take."""
        if not self._live:
            return
        share, left = seconds_left(event)
        self._stream.write(f"\r\x1b[K{name}: {share:4.0%}, {human(left)} left")
        self._stream.flush()

    def line(self, text: str) -> None:
        """Something to keep on the screen."""
        self._stream.write(f"\r\x1b[K{text}\n" if self._live else f"{text}\n")
        self._stream.flush()

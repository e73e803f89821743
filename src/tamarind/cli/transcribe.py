"""``tamarind transcribe``: hear recordings, side by side, and write their texts."""

from __future__ import annotations

import argparse
import glob
import queue
import sys
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from tamarind.audio.source import Channel, Source
from tamarind.batch.cluster import ClusterError, hear_all
from tamarind.batch.crew import Crew
from tamarind.batch.messages import (
    Done,
    Event,
    Failed,
    FindSpeech,
    Hear,
    Heard,
    SoundReady,
    SpeechFound,
    Started,
    Task,
)
from tamarind.batch.pace import Pace, pace_file
from tamarind.captions.lines import with_breaks
from tamarind.cli.main import DONE, SOME_FAILED, WRONG_USE
from tamarind.cli.progress import Meter, meter_for
from tamarind.formats import documents
from tamarind.formats.captionfile import decoded
from tamarind.formats.timecode import clock
from tamarind.job.bringing import found
from tamarind.language.housestyle import HouseStyle, StyleError
from tamarind.language.stylebook import find
from tamarind.language.styled import for_document
from tamarind.speech.glossary import NO_TERMS, GlossaryError, read_glossary
from tamarind.speech.howtohear import Care, HowToHear, Sensitivity, Voices
from tamarind.speech.recognisers.catalogue import check
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.stretches import stretches
from tamarind.system.files import write_whole
from tamarind.transcript.edits import with_empty_cues, with_voices
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.survey import Survey

BEGINS_AT = {Sensitivity.CLEAR: 0.75, Sensitivity.ORDINARY: 0.5, Sensitivity.FAINT: 0.2}


@dataclass
class _Work:
    """A recording, and where its texts go: a path below the output folder without a suffix."""

    path: Path
    stem: Path
    cues: list[Cue] = field(default_factory=list)
    unheard: list[tuple[int, int]] = field(default_factory=list)
    duration: int = 0

    @property
    def name(self) -> str:
        return self.path.name


def transcribe(options: argparse.Namespace) -> int:
    """Hear every file; a bad one is told and passed over. Returns the exit status."""
    try:
        how = _how(options)
        style = find(options.style)
        if options.empty_cues is None:
            check(how)
        work = _work(options.files)
        options.output.mkdir(parents=True, exist_ok=True)
    except (StyleError, ValueError, GlossaryError, RecogniserError) as error:
        return _wrong(str(error))
    except OSError as error:
        return _wrong(f"{options.output}: {error.strerror}.")
    usual = "srt" if options.empty_cues is None else "json"
    formats = list(dict.fromkeys(options.formats or [usual]))
    meter = meter_for(options.progress, sys.stdout if options.progress == "json" else sys.stderr)
    left = [item for item in work if options.again or not _is_done(item, options.output, formats)]
    for item in work:
        if item not in left:
            meter.ended(item.name, f"{item.path}: is done already", event="skipped")
    run = _Run(left, options, how, formats, meter, style)
    try:
        run.follow()
    except KeyboardInterrupt:
        meter.line("stopped")
        return SOME_FAILED
    except ClusterError as error:
        return _wrong(str(error))
    return SOME_FAILED if run.failed else DONE


class _Run:
    """A batch on its way: tasks out, events in, texts written as recordings end."""

    def __init__(
        self,
        work: Sequence[_Work],
        options: argparse.Namespace,
        how: HowToHear,
        formats: Sequence[str],
        meter: Meter,
        style: HouseStyle,
    ) -> None:
        self._work, self._options, self._how = work, options, how
        self._formats, self._meter, self._style = formats, meter, style
        self.failed = 0

    def follow(self) -> None:
        """Until all have ended, well or not."""
        for event in self._events():
            item = self._work[event.key]
            if isinstance(event, Started):
                self._meter.begun(item.name)
            elif isinstance(event, SoundReady):
                item.duration = event.duration
                if event.damage:
                    self._meter.line(f"{item.path}: {event.damage}")
            elif isinstance(event, Heard):
                item.cues.extend(event.cues)
                item.unheard.extend(event.unheard)
                self._meter.heard(item.name, event)
            elif isinstance(event, SpeechFound):
                self._make_cues(item, event)
            elif isinstance(event, Failed):
                self._give_up(item, f"{item.path}: {event.reason}")
            elif isinstance(event, Done):
                self._write(item)

    def _events(self) -> Iterator[Event]:
        options = self._options
        tasks = [self._task(key, item) for key, item in enumerate(self._work)]
        if options.dask is not None:
            yield from hear_all([task for task in tasks if isinstance(task, Hear)], options.dask)
            return
        events: queue.SimpleQueue[Event] = queue.SimpleQueue()
        pace = Pace.fixed(options.jobs) if options.jobs else Pace(file=pace_file())
        crew = Crew(events.put, pace)
        try:
            crew.add(*tasks)
            ended = 0
            while ended < len(tasks):
                event = events.get()
                ended += isinstance(event, Done | Failed)
                yield event
        finally:
            crew.close()

    def _task(self, key: int, item: _Work) -> Task:
        options = self._options
        if options.empty_cues is not None:
            return FindSpeech(key, item.path, self._how.source)
        return Hear(key, item.path, self._how, (options.start, options.end), self._style.captions)

    def _make_cues(self, item: _Work, event: SpeechFound) -> None:
        options = self._options
        begins_at = BEGINS_AT[self._how.sensitivity]
        longest = round(options.empty_cues * 1000)
        spans = stretches(event.activity, begins_at, longest, options.start)
        item.duration = round(len(event.activity) * 32)
        spans = [span for span in spans if options.end is None or span[0] < options.end]
        empty = Transcript(options.language, ())
        item.cues = list(with_empty_cues(empty, spans, 0, keep=True).cues)

    def _write(self, item: _Work) -> None:
        options = self._options
        text = Transcript(options.language, tuple(item.cues))
        text = with_breaks(with_voices(text), self._style.captions)
        source = documents.Source(item.name, item.duration)
        ways = documents.Options(self._style.transcript)
        written = []
        for suffix in self._formats:
            target = _target(options.output, item, suffix)
            try:
                target.parent.mkdir(parents=True, exist_ok=True)
                wanted = for_document(suffix, text, self._style.wording)
                write_whole(target, documents.write(suffix, wanted, source, ways))
            except OSError as error:
                self._give_up(item, f"{target}: could not be written: {error.strerror}.")
                return
            written.append(str(target))
        survey = Survey().follow(text)
        words, doubts = survey.words(), len(survey.doubts())
        said = f"{words} words" if words else "no speech found"
        if options.empty_cues is not None:
            said = f"{len(item.cues)} empty cues"
        self._meter.ended(
            item.name,
            f"{item.name}: {said}",
            event="done",
            words=words,
            doubts=doubts,
            cues=len(item.cues),
            written=written,
            unheard=[[start / 1000, end / 1000] for start, end in item.unheard],
        )
        for start, end in item.unheard:
            times = f"{clock(start, 1, hours=False)} to {clock(end, 1, hours=False)}"
            self._meter.line(f"{item.name}: speech without text from {times}")

    def _give_up(self, item: _Work, text: str) -> None:
        self.failed += 1
        self._meter.ended(item.name, text, event="failed")


def _how(options: argparse.Namespace) -> HowToHear:
    """What the options say; raises GlossaryError or ValueError with a sentence."""
    if options.end is not None and options.end <= options.start:
        raise ValueError("--to must lie after --from.")
    if options.track < 1:
        raise ValueError("Sound tracks are counted from 1.")
    if options.jobs is not None and options.jobs < 1:
        raise ValueError("--jobs is at least 1.")
    if options.empty_cues is not None:
        if options.dask is not None:
            raise ValueError("Empty cues are made here, not on a cluster.")
        if set(options.formats or ["json"]) != {"json"}:
            raise ValueError("Cues without text can be kept in JSON only: --format json.")
        if options.empty_cues < 1:
            raise ValueError("--empty-cues is at least 1 second.")
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


def _work(named: Sequence[Path]) -> list[_Work]:
    """Files, those in folders, and those that patterns fit; what lies in a folder keeps its way.

    Raises ValueError for a pattern or folder that has nothing.
    """
    work: list[_Work] = []
    stems: set[Path] = set()
    for path in named:
        folder = path.parent
        if path.is_dir():
            folder, files = path, found([path]).media
        elif not path.exists() and glob.has_magic(str(path)):
            matches = sorted(map(Path, glob.glob(str(path), recursive=True)))
            files = found([match for match in matches if match.is_file()]).media
            folder = _fixed_part(path)
        else:
            files = [path]
        if not files:
            raise ValueError(f"{path}: no sound or video there.")
        work += [_Work(file, _free_stem(file, folder, stems)) for file in files]
    return work


def _fixed_part(pattern: Path) -> Path:
    """The folder that a pattern looks in."""
    parts = []
    for part in pattern.parts:
        if glob.has_magic(part):
            break
        parts.append(part)
    return Path(*parts)


def _free_stem(file: Path, folder: Path, taken: set[Path]) -> Path:
    """A name for a file's texts; files of the same name keep their suffix or get a number."""
    inside = file.relative_to(folder).parent if file.is_relative_to(folder) else Path()
    names = [file.stem, file.name, *(f"{file.stem}-{n}" for n in range(2, len(taken) + 3))]
    stem = next(inside / name for name in names if inside / name not in taken)
    taken.add(stem)
    return stem


def _target(folder: Path, item: _Work, suffix: str) -> Path:
    return folder / item.stem.with_name(f"{item.stem.name}.{suffix}")


def _is_done(item: _Work, folder: Path, formats: Sequence[str]) -> bool:
    """Whether all its texts are there and no older than the recording."""
    try:
        made = item.path.stat().st_mtime
        return all(_target(folder, item, suffix).stat().st_mtime >= made for suffix in formats)
    except OSError:
        return False


def _wrong(message: str) -> int:
    print(f"tamarind: {message}", file=sys.stderr)
    return WRONG_USE

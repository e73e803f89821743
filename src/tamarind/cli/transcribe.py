"""``tamarind transcribe``: transcribe recordings in parallel and write their texts."""

from __future__ import annotations

import argparse
import itertools
import queue
import sys
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from pathlib import Path

from tamarind import __version__
from tamarind.audio.fingerprint import fingerprint
from tamarind.audio.media import MediaError
from tamarind.audio.source import Channel, Source
from tamarind.batch.cluster import ClusterError, hear_all
from tamarind.batch.messages import (
    Done,
    Event,
    Failed,
    FindSpeech,
    Hear,
    Heard,
    LanguageHeard,
    SoundReady,
    SpeechFound,
    Started,
    Task,
    VoicesKnown,
    VoicesSought,
)
from tamarind.batch.pace import Pace, pace_file
from tamarind.batch.pool import WorkerPool
from tamarind.cli.clients import about_for, client_of, name_for, style_for, templates_of
from tamarind.cli.files import Below, expanded, inside, with_folder
from tamarind.cli.intojob import IntoJob
from tamarind.cli.made import Ledger, digest
from tamarind.cli.names import names_in, with_names
from tamarind.cli.options import DETECTIONS, QUALITIES
from tamarind.cli.output import Output, summary, told
from tamarind.cli.progress import Meter, meter_for
from tamarind.cli.statuses import DONE, SOME_FAILED, WRONG_USE
from tamarind.formats import documents
from tamarind.formats.captionfile import FormatError
from tamarind.formats.decoding import decode
from tamarind.formats.filenames import fitting
from tamarind.formats.format import Options, Origin
from tamarind.formats.reading.template import Template
from tamarind.formats.timecode import clock
from tamarind.job.bringing import found
from tamarind.job.jobfile import JobError
from tamarind.language.finishing import finished
from tamarind.language.housestyle import HouseStyle, StyleError
from tamarind.language.publishing import published
from tamarind.language.stylebook import ORDINARY_STYLE, STYLES
from tamarind.speech.glossary import NO_TERMS, GlossaryError, read_glossary, terms_of, together
from tamarind.speech.hearingoptions import AS_USUAL, HearingOptions, Sensitivity, Voices
from tamarind.speech.languageguess import is_sure
from tamarind.speech.recognisers.catalogue import check, choice, with_only_language
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.stretches import stretches
from tamarind.system.files import read_file, write_whole
from tamarind.transcript.edits import with_empty_cues, with_voices
from tamarind.transcript.languages import UNDETERMINED, base_of, name_of
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.survey import Survey
from tamarind.translation.draft import translated
from tamarind.translation.engines.base import TranslationError
from tamarind.translation.engines.catalogue import local_router

FIND = "detect"
"""In place of a language: it is to be found out."""

BEGINS_AT = {Sensitivity.CLEAR: 0.75, Sensitivity.ORDINARY: 0.5, Sensitivity.FAINT: 0.2}


@dataclass
class _Work:
    """A recording, and where its texts go: a path in the output folder without a suffix; ``plain``
    is the path it would have if no other had the same name."""

    path: Path
    stem: Path
    plain: Path
    cues: list[Cue] = field(default_factory=list)
    unheard: list[tuple[int, int]] = field(default_factory=list)
    duration: int = 0
    mark: str = ""
    language: str = ""
    how: HearingOptions = AS_USUAL
    again: HearingOptions | None = None
    """How it is to be heard again, where it was begun in a wrong language."""

    @property
    def name(self) -> str:
        return self.path.name


def transcribe(options: argparse.Namespace) -> int:
    """Transcribe every file; a failure is told and skipped. Return the exit status."""
    try:
        how = _how(options)
        style = style_for(options) or STYLES.find(ORDINARY_STYLE)
        how = replace(how, glossary=together(how.glossary, terms_of(style.wording.terms)))
        if options.empty_cues is None:
            check(how)
            how = with_only_language(replace(how, recogniser=choice(how.recogniser).name))
        templates = templates_of(options)
        work = _work(options.files)
        if options.job is not None and options.translate:
            raise ValueError("A job's translations are made in the job: leave out --translate.")
        if options.job is None or options.formats:
            options.output.mkdir(parents=True, exist_ok=True)
        job = None if options.job is None else IntoJob(options.job, style, client_of(options))
    except JobError as error:
        return told(error, SOME_FAILED)
    except (StyleError, ValueError, GlossaryError, RecogniserError, FormatError) as error:
        return told(error, WRONG_USE)
    except OSError as error:
        return told(f"{options.output}: {error.strerror}.", WRONG_USE)
    usual = "srt" if options.empty_cues is None else "json"
    usually = [usual] if job is None else []
    formats = list(dict.fromkeys(options.formats or usually))
    out = Output(sys.stdout if options.progress == "json" else sys.stderr)
    meter = meter_for(options.progress, out)
    run = _Run(options, how, formats, meter=meter, style=style, templates=templates, job=job)
    try:
        run.begin(work)
        run.follow()
        run.tell_made()
    except ClusterError as error:
        return told(error, WRONG_USE)
    finally:
        if job is not None:
            job.close()
    if out.failed and options.progress == "json":
        return told(f"the progress could not all be written: {out.failed}.", SOME_FAILED)
    return SOME_FAILED if run.failed else DONE


class _Run:
    """A running batch: sends tasks, receives events, and writes texts as recordings end."""

    def __init__(
        self,
        options: argparse.Namespace,
        how: HearingOptions,
        formats: Sequence[str],
        *,
        meter: Meter,
        style: HouseStyle,
        templates: tuple[Template, ...],
        job: IntoJob | None,
    ) -> None:
        self._job = job
        self._options, self._how = options, how
        self._formats, self._meter, self._style = formats, meter, style
        self._templates = templates
        self._names = names_in(options.names)
        self._into: tuple[str, ...] = tuple(dict.fromkeys(options.translate or ()))
        self._work: list[_Work] = []
        self._ledger = Ledger.of(options.output)
        self.failed = 0
        self._written: list[Path] = []

    def tell_made(self) -> None:
        """Say how many files were written, and where."""
        if self._written or self.failed:
            self._meter.line(summary(self._written, self.failed))

    def begin(self, work: Sequence[_Work]) -> None:
        """Tell which are done, and whose texts must not be overwritten; send the others.

        A name that another recording's text has already gets that of the folder too.
        """
        for item in work:
            item.language, item.how = self._how.written, self._how
            if self._job is not None and self._job.has_text(item.path):
                text = f"{item.path}: has a text in the job already, which stays"
                self._meter.ended(item.name, text, event="skipped")
                continue
            names = [item.plain, item.stem, with_folder(item.stem, item.path)]
            mark = ""
            if any(target.exists() for name in names for target in self._targets(name)):
                mark = _mark_of(item.path)
                item.stem = self._name_for(item, mark, names)
            there = [target for target in self._targets(item.stem) if target.exists()]
            settings = self._settings()
            done = (
                self._job is None
                and len(there) == len(self._targets(item.stem))
                and all(self._ledger.is_done(target, mark, settings) for target in there)
            )
            strange = [target for target in there if not self._ledger.is_ours(target)]
            if done and not self._options.again:
                text = f"{item.path}: is done already"
                self._meter.ended(item.name, text, event="skipped")
            elif strange and not self._options.overwrite:
                self._give_up(
                    item,
                    f"{strange[0]}: already exists, and Tamarind did not write it, or it was"
                    " changed since; --overwrite replaces it",
                )
            else:
                self._work.append(item)

    def _name_for(self, item: _Work, mark: str, names: Sequence[Path]) -> Path:
        """Return the name of this recording's existing texts, or one that no other's have."""
        for name in names:
            if any(self._ledger.is_of(target, mark, item.path) for target in self._targets(name)):
                return name
        free = names[1:]
        return next(
            (
                name
                for name in free
                if not any(
                    self._ledger.is_of_another(target, mark, item.path)
                    for target in self._targets(name)
                )
            ),
            free[-1],
        )

    def _targets(self, stem: Path) -> list[Path]:
        return [
            _target(self._options.output, stem, suffix, language)
            for language in ("", *self._into)
            for suffix in self._formats
        ]

    def _settings(self) -> str:
        """Return a digest of the settings that change the texts."""
        options = self._options
        part = (options.start, options.end, options.empty_cues)
        style = self._style.packed()
        how = self._how
        said = (how.data(), how.glossary, part, style, self._names, self._into, __version__)
        return digest(repr(said).encode())

    def follow(self) -> None:
        """Handle events until all recordings have ended."""
        for event in self._events():
            item = self._work[event.key]
            if isinstance(event, Started):
                self._meter.begun(item.name)
            elif isinstance(event, VoicesSought):
                self._meter.voices(item.name, event.share)
            elif isinstance(event, LanguageHeard):
                self._take_language(item, event)
            elif isinstance(event, VoicesKnown) and event.perhaps:
                noun = "1 speaker" if event.perhaps == 1 else f"{event.perhaps} speakers"
                self._meter.line(
                    f"{item.name}: perhaps {noun}; --speakers {event.perhaps}, or “tamarind"
                    " speakers” afterwards, tells them apart so"
                )
            elif isinstance(event, SoundReady):
                item.duration, item.mark = event.duration, event.fingerprint
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
            elif isinstance(event, Done) and item.again is None:
                self._write(item)

    def _take_language(self, item: _Work, event: LanguageHeard) -> None:
        """Start a recording again in its right language, where the detected one differs."""
        if not event.guesses:
            return
        likely, chosen = event.guesses[0], item.how.language
        how = replace(item.how, language=likely.language, others=())
        item.language = how.written
        if chosen == UNDETERMINED:
            doubt = "" if is_sure(event.guesses) else ", which is not certain"
            self._meter.line(f"{item.name}: {likely}{doubt}")
            return
        self._meter.line(
            f"{item.name}: sounds like {likely}, not {name_of(chosen)}: transcribed as"
            f" {name_of(likely.language)}"
        )
        item.again = how

    def _task_again(self, item: _Work) -> Task:
        """Start again, under another number, a recording that was begun in a wrong language."""
        assert item.again is not None
        item.how, item.again = item.again, None
        item.cues.clear()
        item.unheard.clear()
        self._work.append(item)
        return self._task(len(self._work) - 1, item)

    def _events(self) -> Iterator[Event]:
        options = self._options
        tasks = [self._task(key, item) for key, item in enumerate(self._work)]
        if options.dask is not None:
            while tasks:
                yield from hear_all(
                    [task for task in tasks if isinstance(task, Hear)], options.dask
                )
                tasks = [self._task_again(item) for item in self._work if item.again is not None]
            return
        events: queue.SimpleQueue[Event] = queue.SimpleQueue()
        pace = Pace.fixed(options.workers) if options.workers else Pace(file=pace_file())
        pool = WorkerPool(events.put, pace)
        try:
            pool.add(*tasks)
            ended = 0
            given_up: set[int] = set()
            while ended < len(tasks):
                event = events.get()
                if event.key in given_up:
                    continue
                ended += isinstance(event, Done | Failed)
                yield event
                if self._work[event.key].again is not None:
                    pool.cancel(event.key)
                    given_up.add(event.key)
                    pool.add(self._task_again(self._work[event.key]))
        finally:
            pool.close()

    def _task(self, key: int, item: _Work) -> Task:
        options = self._options
        if options.empty_cues is not None:
            return FindSpeech(key, item.path, self._how.source)
        return Hear(key, item.path, item.how, (options.start, options.end), self._style.captions)

    def _make_cues(self, item: _Work, event: SpeechFound) -> None:
        options = self._options
        begins_at = BEGINS_AT[self._how.sensitivity]
        longest = round(options.empty_cues * 1000)
        spans = stretches(event.activity, begins_at, longest, options.start)
        item.duration = round(len(event.activity) * 32)
        spans = [span for span in spans if options.end is None or span[0] < options.end]
        empty = Transcript(item.language, ())
        item.cues = list(with_empty_cues(empty, spans, 0, keep=True).cues)

    def _write(self, item: _Work) -> None:
        options = self._options
        text = Transcript(item.language, tuple(item.cues))
        text = with_names(with_voices(text), self._names)
        text = finished(text, self._style, [term.text for term in self._how.glossary.terms])
        end = min(options.end or item.duration, item.duration)
        part = (options.start, end) if options.start or options.end is not None else None
        source = Origin(item.name, item.duration, part=part)
        ways = self._ways()
        if not self._put_into_job(item, text):
            return
        written = [str(options.job)] if self._job is not None else []
        texts = {"": text}
        for language in self._into:
            if text.cues and base_of(language) != base_of(text.language):
                try:
                    texts[language] = translated(text, language, self._style, local_router())
                except TranslationError as error:
                    self._give_up(item, f"{item.path}: {error}")
        for language, suffix in itertools.product(texts, self._formats):
            target = _target(options.output, item.stem, suffix, language)
            try:
                wanted = published(texts[language], suffix, self._style)
                data = documents.write(suffix, wanted, source, ways)
                target.parent.mkdir(parents=True, exist_ok=True)
                is_ours = options.overwrite or self._ledger.is_ours(target)
                write_whole(target, data, new=not is_ours)
                mark = item.mark or _mark_of(item.path)
                self._ledger.note(target, data, mark, item.path, self._settings())
                self._ledger.save()
            except FileExistsError:
                self._give_up(item, f"{target}: has come there meanwhile; --overwrite replaces it")
                return
            except OSError as error:
                self._give_up(item, f"{target}: could not be written: {error.strerror}.")
                return
            written.append(str(target))
            self._written.append(target)
        self._tell(item, text, written)

    def _ways(self) -> Options:
        """Return how documents are written."""
        options, said = self._options, about_for(self._options)
        return Options(
            self._style.transcript,
            title=said.title,
            fields=said.fields,
            closing=said.closing,
            author=said.author,
            spelling=self._style.wording.spelling,
            client=name_for(options),
            date=date.today().isoformat() if self._templates or options.client else "",
            numbered=options.line_numbers,
            templates=self._templates,
        )

    def _put_into_job(self, item: _Work, text: Transcript) -> bool:
        """Add a recording to the job, if one is named; return whether it is in the job."""
        if self._job is None:
            return True
        how = item.how
        if how.language == UNDETERMINED:
            how = replace(how, language=item.language, others=())
        section = self._options.start, self._options.end
        try:
            self._job.take(
                item.path, text, how, section=section, duration=item.duration,
                mark=item.mark or _mark_of(item.path), unheard=item.unheard,
            )  # fmt: skip
        except JobError as error:
            self._give_up(item, f"{item.path}: {error}")
            return False
        return True

    def _tell(self, item: _Work, text: Transcript, written: list[str]) -> None:
        """Say what became of a recording."""
        survey = Survey().follow(text)
        words, doubts = survey.words(), survey.doubt_count()
        said = f"{words} words" if words else "no speech found"
        if self._options.empty_cues is not None:
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
        voices = {cue.speaker for cue in item.cues} - {None}
        if voices and len(voices) < (self._how.voices.count or 0):
            told = f"{len(voices)} of {self._how.voices.count} speakers"
            self._meter.line(f"{item.name}: {told} could be told apart")
        for start, end in item.unheard:
            times = f"{clock(start, 1, hours=False)} to {clock(end, 1, hours=False)}"
            self._meter.line(f"{item.name}: speech without text from {times}")

    def _give_up(self, item: _Work, text: str) -> None:
        self.failed += 1
        self._meter.ended(item.name, text, event="failed")


def _how(options: argparse.Namespace) -> HearingOptions:
    """Return the transcription settings from the options. Raises GlossaryError or ValueError with a
    sentence."""
    if options.end is not None and options.end <= options.start:
        raise ValueError("--until must be after --from.")
    if options.empty_cues is not None:
        if options.dask is not None:
            raise ValueError("Empty cues are made here, not on a cluster.")
        if set(options.formats or ["json"]) != {"json"}:
            raise ValueError("Cues without text can be kept in JSON only: --format json.")
    glossary = NO_TERMS
    if options.glossary is not None:
        try:
            data = read_file(options.glossary, documents.LARGEST_FILE)
            glossary = read_glossary(decode(data).text)
        except OSError as error:
            raise ValueError(f"{options.glossary}: {error.strerror}.") from None
        except FormatError as error:
            raise ValueError(f"{options.glossary}: {error}") from None
    language, *others = dict.fromkeys(one.strip() for one in options.language.split(","))
    if not all((language, *others)) or (others and FIND in (language, *others)):
        raise ValueError("--language is a language, some with commas between, or detect.")
    return HearingOptions(
        UNDETERMINED if language == FIND else language,
        QUALITIES[options.quality],
        Voices.read(options.speakers),
        glossary=glossary,
        source=Source(options.track - 1, Channel(options.channel), options.reduce_noise),
        recogniser=options.recogniser,
        sensitivity=DETECTIONS[options.voice_detection],
        others=tuple(others),
        into_english=options.to_english,
    )


def _work(named: Sequence[Path]) -> list[_Work]:
    """Return the recordings that are named, in folders, or match patterns. Raises ValueError."""
    files = expanded(named, lambda paths: found(list(paths)).media, "sound or video")
    return _named(files)


def _named(files: Sequence[Below]) -> list[_Work]:
    """Return where the texts of files go: files in a folder keep their relative path; equal names
    keep their suffix, get their folder's name, or at last a number."""
    stems = [inside(file, folder) / file.stem for file, folder in files]
    counts = Counter(stems)
    work: list[_Work] = []
    taken: set[Path] = set()
    for (file, folder), stem in zip(files, stems, strict=True):
        way = inside(file, folder)
        names = [way / file.name, with_folder(stem, file)]
        alike = [other for other, own in zip(files, stems, strict=True) if own == stem]
        if len({other.name for other, _ in alike}) < len(alike):
            names.reverse()
        wanted = names if counts[stem] > 1 else [stem, *names]
        numbered = (stem.with_name(f"{stem.name}-{n}") for n in itertools.count(2))
        chosen = next(name for name in itertools.chain(wanted, numbered) if name not in taken)
        taken.add(chosen)
        work.append(_Work(file, chosen, stem))
    return work


def _target(folder: Path, stem: Path, suffix: str, language: str = "") -> Path:
    name = f"{stem.name}.{language}" if language else stem.name
    return folder / stem.with_name(fitting(name, suffix))


def _mark_of(path: Path) -> str:
    """Return a recording's fingerprint, or "" if it cannot be read."""
    try:
        return fingerprint(path)
    except MediaError:
        return ""

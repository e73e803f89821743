"""``tamarind check``: what in a text, or in the texts of a job, breaks a house style."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from tamarind.audio import soundcache
from tamarind.audio.source import WHOLE, Source
from tamarind.checks.check import CheckContext
from tamarind.checks.checker import Checker
from tamarind.checks.finding import PlacedFinding
from tamarind.checks.report import finding_lines
from tamarind.cli.clients import style_for
from tamarind.cli.files import STREAM
from tamarind.cli.fixes import fixed_by_kinds, kinds_in, listed, write_back
from tamarind.cli.jobs import open_job
from tamarind.cli.output import Output, harmless, tell, told
from tamarind.cli.statuses import BREACHES, DONE, SOME_FAILED, WRONG_USE, UseError
from tamarind.cli.textfiles import read_text, readable, timecodes_in
from tamarind.formats import documents
from tamarind.formats.broadcast.smpte import PLAIN_TIMECODES
from tamarind.formats.captionfile import Fault, FormatError
from tamarind.formats.decoding import decode
from tamarind.formats.format import Options
from tamarind.formats.timecode import clock
from tamarind.job.jobfile import SUFFIX, JobError
from tamarind.job.settings import GLOSSARY, JOB_STYLES, TRACK_STYLES
from tamarind.job.store import JobStore
from tamarind.job.styles import style_of
from tamarind.language.housestyle import HouseStyle, Level, StyleError
from tamarind.language.stylebook import ORDINARY_STYLE, STYLES
from tamarind.speech.activity import speech_of
from tamarind.speech.glossary import GlossaryError, read_glossary
from tamarind.system.errors import ToldError
from tamarind.system.files import read_file, shown
from tamarind.transcript.model import Transcript


@dataclass(frozen=True, slots=True)
class _Text:
    """A text to be checked with its context, and the cues that were broken in its file."""

    name: str
    transcript: Transcript
    context: CheckContext
    faults: tuple[Fault, ...] = ()
    read: documents.Read | None = None


def check(options: argparse.Namespace) -> int:
    """Print every finding; return the exit status."""
    try:
        style = style_for(options)
        terms = _terms(options.glossary)
    except (StyleError, GlossaryError, ValueError) as error:
        return told(str(error), WRONG_USE)
    try:
        timecodes = timecodes_in(options) or PLAIN_TIMECODES
        kinds = kinds_in([kind for part in options.fix or () for kind in part.split(",")])
        named = readable(options.paths, (SUFFIX.lstrip("."),))
    except UseError as error:
        return told(error, WRONG_USE)
    data: list[dict[str, Any]] = []
    breaches = False
    out = Output(sys.stdout)
    failed = DONE
    for path, _folder in named:
        try:
            for text in _texts(path, options, style, terms):
                if options.files:
                    how = Options(timecodes=timecodes)
                    files = tuple(options.files)
                    context = replace(text.context, files=files, file_options=how)
                    text = replace(text, context=context)
                if kinds:
                    text = _mended(path, text, kinds, options, out)
                found = Checker().check(text.transcript, text.context)
                breaches |= bool(text.faults) or any(one.level is Level.MUST for one in found)
                data += [_fault_data(text.name, fault) for fault in text.faults]
                data += [_data(text.name, one) for one in found]
                if not options.json:
                    out.write(harmless(_listed(text, found)))
        except ToldError as error:
            failed = told(f"{path}: {error}" if len(named) > 1 else error, SOME_FAILED)
        except OSError as error:
            failed = told(f"{path}: could not be written: {error.strerror}.", SOME_FAILED)
    if options.json:
        out.write(json.dumps(data, ensure_ascii=False, indent=1) + "\n")
    if out.failed:
        return told(f"the findings could not all be written: {out.failed}.", SOME_FAILED)
    if failed:
        return failed
    return BREACHES if breaches else DONE


def _mended(
    path: Path, text: _Text, kinds: Sequence[str], options: argparse.Namespace, out: Output
) -> _Text:
    """Return a text after fixing; it is written back unless it is only to be shown."""
    if text.read is None or path == STREAM:
        raise FormatError("Only files are fixed here; fix a job in the window.")
    new, changes = fixed_by_kinds(text.transcript, text.context, kinds)
    if not options.json:
        out.write(listed(changes))
        would = "would be made" if options.dry_run else "made"
        out.write(harmless(f"{text.name}: {len(changes)} changes {would}\n"))
    if options.dry_run:
        return text
    if changes:
        write_back(path, new, text.read, text.context)
    return replace(text, transcript=new)


def _texts(
    path: Path, options: argparse.Namespace, style: HouseStyle | None, terms: tuple[str, ...]
) -> Iterator[_Text]:
    context = CheckContext(
        style or STYLES.find(ORDINARY_STYLE), terms=terms, encoding=options.encoding
    )
    if path.suffix == SUFFIX:
        yield from _texts_of_job(path, options, context, style)
        return
    read = read_text(path, options)
    for sentence in read.repairs:
        tell(f"{shown(str(path))}: {sentence}")
    if options.sound is not None:
        if not options.sound.name:
            raise FormatError("--sound needs a file here.")
        context = replace(context, speech=_speech(options.sound, WHOLE))
    captions = not documents.is_script(path)
    faults = sorted(read.repairs.faults, key=lambda fault: fault.number) if captions else ()
    context = replace(context, captions=captions)
    yield _Text(path.name, read.transcript, context, tuple(faults), read)


def _texts_of_job(
    path: Path, options: argparse.Namespace, context: CheckContext, style: HouseStyle | None
) -> Iterator[_Text]:
    if not path.exists():
        raise JobError(f"“{path}” is no job: there is no such file.")
    opened = open_job(path)
    for sentence in opened.told:
        tell(sentence)
    store = opened.store
    try:
        own = JOB_STYLES.of(store.setting(JOB_STYLES.key))
        of_tracks = TRACK_STYLES.of(store.setting(TRACK_STYLES.key))
        known = (*context.terms, *_job_terms(store))
        for recording in store.recordings():
            document = store.document(recording.id)
            if not document.transcript.cues:
                continue
            speech = None
            if options.sound is not None:
                speech = _speech(recording.path, recording.how.source)
            yield _Text(
                recording.name,
                document.transcript,
                replace(
                    context,
                    style=style or style_of(recording, own),
                    tracks=document.tracks,
                    track_limits={
                        track.language: style_of(recording, own, track.language, of_tracks).captions
                        for track in document.tracks
                        if style is None
                    },
                    terms=known,
                    speech=speech,
                    unheard=recording.unheard,
                    at_once=recording.at_once,
                ),
            )
    finally:
        store.close()


def _speech(path: Path, source: Source) -> tuple[tuple[int, int], ...]:
    """Return where somebody speaks in a recording (ms)."""
    return tuple(speech_of(soundcache.fetch(path, source).samples()))


def _job_terms(store: JobStore) -> tuple[str, ...]:
    return tuple(term.text for term in GLOSSARY.of(store.setting(GLOSSARY.key)).terms)


def _terms(path: Path | None) -> tuple[str, ...]:
    if path is None:
        return ()
    try:
        data = read_file(path, documents.LARGEST_FILE)
        return tuple(term.text for term in read_glossary(decode(data).text).terms)
    except OSError as error:
        raise ValueError(f"{path}: {error.strerror}.") from None
    except FormatError as error:
        raise ValueError(f"{path}: {error}") from None


def _listed(text: _Text, found: list[PlacedFinding]) -> str:
    lines = [
        f"{clock(fault.time)}  error  broken in the file: cue {fault.number}{_line(fault)},"
        f" {fault.reason}"
        for fault in text.faults
    ]
    lines += finding_lines(found)
    musts = sum(one.level is Level.MUST for one in found)
    hints = len(found) - musts
    musts += len(text.faults)
    cues = sum(bool(cue.words) for cue in text.transcript.cues)
    lines.append(f"{text.name}: {cues} cues, {musts} errors, {hints} warnings")
    return "".join(f"{line}\n" for line in lines)


def _line(fault: Fault) -> str:
    return f", line {fault.line}" if fault.line else ""


def _fault_data(name: str, fault: Fault) -> dict[str, Any]:
    return {
        "text": name,
        "rule": "file",
        "level": Level.MUST.value,
        "cue": fault.number,
        "line": fault.line or None,
        "time": fault.time / 1000,
        "reason": fault.reason,
        "excerpt": "",
        "fixable": False,
    }


def _data(name: str, one: PlacedFinding) -> dict[str, Any]:
    finding = one.finding
    return {
        "text": name,
        "rule": finding.rule,
        "level": one.level.value,
        "cue": one.place + 1,
        "time": finding.start / 1000,
        "reason": finding.reason,
        "excerpt": finding.excerpt,
        "fixable": bool(finding.fixes),
    }

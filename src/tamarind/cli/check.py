"""``tamarind check``: what in a text, or in the texts of a job, breaks a house style."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Iterator
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from tamarind.audio import soundcache
from tamarind.audio.media import MediaError
from tamarind.audio.source import WHOLE, Source
from tamarind.checks.checker import Checker, Matter
from tamarind.checks.finding import Told
from tamarind.checks.rules import RULES
from tamarind.cli.main import BREACHES, DONE, SOME_FAILED, WRONG_USE
from tamarind.cli.output import Output, harmless, tell, told
from tamarind.formats import documents
from tamarind.formats.captionfile import Fault, FormatError
from tamarind.formats.decoding import decode
from tamarind.formats.timecode import clock
from tamarind.job.jobfile import SUFFIX, JobError
from tamarind.job.opening import open_job
from tamarind.job.store import JobStore
from tamarind.job.styles import job_styles, style_of
from tamarind.language.housestyle import HouseStyle, Level, StyleError
from tamarind.language.stylebook import ORDINARY_STYLE, find
from tamarind.speech.activity import speech_of
from tamarind.speech.glossary import GlossaryError, read_glossary
from tamarind.system.files import read_file
from tamarind.transcript.model import Transcript


@dataclass(frozen=True, slots=True)
class _Text:
    """A text to be checked, and with what; the cues that were broken in its file."""

    name: str
    transcript: Transcript
    matter: Matter
    faults: tuple[Fault, ...] = ()


def check(options: argparse.Namespace) -> int:
    """Print every finding; returns the exit status."""
    try:
        style = find(options.style) if options.style else None
        terms = _terms(options.glossary)
    except (StyleError, GlossaryError, ValueError) as error:
        return told(str(error), WRONG_USE)
    checker = Checker()
    data: list[dict[str, Any]] = []
    breaches = False
    out = Output(sys.stdout)
    try:
        for text in _texts(options, style, terms):
            found = checker.check(text.transcript, text.matter)
            breaches |= bool(text.faults) or any(one.level is Level.MUST for one in found)
            data += [_fault_data(text.name, fault) for fault in text.faults]
            data += [_data(text.name, one) for one in found]
            if not options.json:
                out.write(harmless(_listed(text, found)))
    except (FormatError, JobError, MediaError) as error:
        return told(error, SOME_FAILED)
    if options.json:
        out.write(json.dumps(data, ensure_ascii=False, indent=1) + "\n")
    if out.failed:
        return told(f"the findings could not all be written: {out.failed}.", SOME_FAILED)
    return BREACHES if breaches else DONE


def _texts(
    options: argparse.Namespace, style: HouseStyle | None, terms: tuple[str, ...]
) -> Iterator[_Text]:
    matter = Matter(style or find(ORDINARY_STYLE), terms=terms, encoding=options.encoding)
    if options.input.suffix == SUFFIX:
        yield from _texts_of_job(options, matter, style)
        return
    read = documents.read(options.input, options.language, options.from_encoding)
    for sentence in read.mended:
        tell(f"{options.input}: {sentence}")
    if options.sound is not None:
        if not options.sound.name:
            raise FormatError("--sound needs a file here.")
        matter = replace(matter, speech=_speech(options.sound, WHOLE))
    captions = options.input.suffix.lower() != ".txt"
    faults = sorted(read.mended.faults, key=lambda fault: fault.number) if captions else ()
    yield _Text(
        options.input.name, read.transcript, replace(matter, captions=captions), tuple(faults)
    )


def _texts_of_job(
    options: argparse.Namespace, matter: Matter, style: HouseStyle | None
) -> Iterator[_Text]:
    if not options.input.exists():
        raise JobError(f"“{options.input}” is no job: there is no such file.")
    opened = open_job(options.input)
    for sentence in opened.told:
        tell(sentence)
    store = opened.store
    try:
        own = job_styles(store)
        known = (*matter.terms, *_job_terms(store))
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
                    matter,
                    style=style or style_of(recording, own),
                    tracks=document.tracks,
                    terms=known,
                    speech=speech,
                    unheard=recording.unheard,
                ),
            )
    finally:
        store.close()


def _speech(path: Path, source: Source) -> tuple[tuple[int, int], ...]:
    """Where somebody speaks in a recording (ms)."""
    return tuple(speech_of(soundcache.fetch(path, source).samples()))


def _job_terms(store: JobStore) -> tuple[str, ...]:
    try:
        return tuple(term.text for term in read_glossary(store.setting("glossary")).terms)
    except GlossaryError:
        return ()


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


def _listed(text: _Text, found: list[Told]) -> str:
    lines = [
        f"{clock(fault.time)}  must  broken in the file: cue {fault.number}{_line(fault)},"
        f" {fault.reason}"
        for fault in text.faults
    ]
    for one in found:
        finding = one.finding
        title = RULES[finding.rule].title
        excerpt = f" – {finding.excerpt}" if finding.excerpt else ""
        where = f"{clock(finding.start)}  {one.level.value:<4}"
        lines.append(f"{where}  {title}: {finding.reason}{excerpt}")
    musts = sum(one.level is Level.MUST for one in found)
    hints = len(found) - musts
    musts += len(text.faults)
    cues = sum(bool(cue.words) for cue in text.transcript.cues)
    lines.append(f"{text.name}: {cues} cues, {musts} that must be mended, {hints} hints")
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


def _data(name: str, one: Told) -> dict[str, Any]:
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

"""``tamarind speakers``: tell the speakers of a text or job apart again."""

from __future__ import annotations

import argparse
from dataclasses import replace
from pathlib import Path

from tamarind.audio.media import MediaError
from tamarind.audio.source import WHOLE
from tamarind.batch import transcribing
from tamarind.batch.messages import SpeakersTold, TellSpeakers
from tamarind.captions.lines import with_breaks
from tamarind.cli.jobs import open_job
from tamarind.cli.output import tell, told
from tamarind.cli.statuses import DONE, SOME_FAILED, WRONG_USE
from tamarind.formats import documents
from tamarind.formats.captionfile import FormatError
from tamarind.formats.encoding import Bytes
from tamarind.formats.format import Details, Options
from tamarind.job.jobfile import SUFFIX, JobError
from tamarind.job.recording import Recording
from tamarind.job.settings import PERHAPS_SPEAKERS
from tamarind.job.store import JobStore
from tamarind.job.undostack import UndoStack
from tamarind.language.stylebook import ORDINARY_STYLE, STYLES
from tamarind.speech.diarisation.told import Told, in_own_numbers, with_voices_of
from tamarind.system.files import write_whole
from tamarind.transcript.model import Transcript
from tamarind.transcript.speakers import with_speakers

STEP = "tell speakers apart"
KEPT = ".before-speakers"


def speakers(options: argparse.Namespace) -> int:
    """Tell the speakers apart and write the text; return the exit status."""
    is_job = options.path.suffix == SUFFIX
    if is_job and (options.sound is not None or options.output is not None):
        return told("A job knows its sound, and is written in place.", WRONG_USE)
    if documents.is_script(options.path):
        return told(
            "A text for reading has no times: “tamarind convert TEXT OUT.json --sound FILE” finds"
            " them in its sound first.",
            WRONG_USE,
        )
    if not is_job and options.sound is None:
        return told("Say with --sound in which recording this text is said.", WRONG_USE)
    try:
        if is_job:
            return _of_job(options)
        _of_file(options)
    except (FormatError, JobError) as error:
        return told(error, SOME_FAILED)
    except MediaError as error:
        return told(f"{options.sound}: {error}", SOME_FAILED)
    except OSError as error:
        place = options.output or options.path
        return told(f"{place}: could not be written: {error.strerror}.", SOME_FAILED)
    return DONE


def _of_file(options: argparse.Namespace) -> None:
    path: Path = options.path
    output: Path = options.output or path
    suffix = documents.suffix_of(output)
    read = documents.read(path, options.language)
    for sentence in read.repairs:
        tell(f"{path}: {sentence}")
    task = TellSpeakers(0, options.sound, WHOLE, ())
    text, _told_anew = _retold(read.transcript, task, options.count)
    style = STYLES.find(ORDINARY_STYLE)
    ways = Options(
        style.transcript,
        Details(word_times=True),
        bytes=Bytes(read.decoded.encoding),
        timecodes=read.timecodes,
    )
    data = documents.write(suffix, with_breaks(text, style.captions), read.source, ways)
    if output == path:
        kept = path.with_name(f"{path.stem}{KEPT}{path.suffix}")
        if not kept.exists():
            write_whole(kept, path.read_bytes())
        tell(f"{path}: as it was before it is in {kept.name}.")
    write_whole(output, data)
    tell(f"{output}: {_who(text)}")


def _of_job(options: argparse.Namespace) -> int:
    if not options.path.exists():
        raise JobError(f"“{options.path}” is no job: there is no such file.")
    opened = open_job(options.path)
    for sentence in opened.told:
        tell(sentence)
    store = opened.store
    status = DONE
    try:
        known = [one for one in store.recordings() if store.document(one.id).transcript.cues]
        wanted = [one for one in known if options.recording in (None, one.name, one.path.name)]
        if not wanted:
            there = ", ".join(one.name for one in known) or "none"
            raise JobError(
                f"There is no such recording with a text in the job; there are: {there}."
            )
        for recording in wanted:
            try:
                _in_job(store, recording, options.count)
            except (FormatError, MediaError) as error:
                status = told(f"{recording.name}: {error}", SOME_FAILED)
    finally:
        store.close()
    return status


def _in_job(store: JobStore, recording: Recording, count: int | None) -> None:
    """Tell the speakers of a recording apart in its job, one step of undo."""
    before = store.document(recording.id)
    source, part = recording.how.source, recording.part
    task = TellSpeakers(recording.id, recording.path, source, (), part)
    text, told_anew = _retold(before.transcript, task, count)
    after = before.with_transcript(text)
    steps = UndoStack(store)
    steps.add(recording.id, STEP, before, after, None)
    voices = with_voices_of(recording.voices, told_anew)
    settled = PERHAPS_SPEAKERS.numbered(recording.id)
    with store.together():
        store.save_document(recording.id, before, after)
        store.save_recording(replace(recording, voices=voices))
        store.set_setting(settled.key, settled.write(0))
        steps.save()
    tell(f"{recording.name}: {_who(text)}")


def _retold(text: Transcript, task: TellSpeakers, count: int | None) -> tuple[Transcript, Told]:
    """Return a text with its speakers told apart again, and their voiceprints."""
    words = tuple(word for cue in text.cues for word in cue.words)
    if not words:
        raise FormatError("There are no words in this text.")
    task = replace(task, words=words, count=count or 0)
    *_, found = transcribing.tell_speakers(task)
    assert isinstance(found, SpeakersTold)
    if all(speaker is None for speaker in found.speakers):
        raise FormatError("No speakers can be told apart in this sound.")
    end = len(text.cues)
    told_anew = in_own_numbers(Told(found.speakers, found.voices), text, 0, end)
    if count and len(told_anew.voices) < count:
        tell(f"only {len(told_anew.voices)} can be told apart.")
    return with_speakers(text, 0, end, told_anew.speakers), told_anew


def _who(text: Transcript) -> str:
    said = {cue.speaker for cue in text.cues}
    names = [speaker.label for speaker in text.speakers if speaker.id in said]
    return f"{len(names)} speaker{'s' * (len(names) != 1)}: {', '.join(names)}"

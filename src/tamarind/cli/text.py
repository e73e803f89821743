"""``tamarind convert`` and ``retime``: read text files and write others."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from dataclasses import replace
from datetime import date

from tamarind.captions.relayout import at_reading_speed, from_script, relay
from tamarind.checks.catalogue import CHECKS
from tamarind.checks.check import CaptionCheck, CheckContext
from tamarind.checks.checker import Checker
from tamarind.cli.clients import about_for, client_of, look_for, name_for, style_for, templates_of
from tamarind.cli.jobtexts import convert_job
from tamarind.cli.names import names_in, with_names
from tamarind.cli.output import tell, told
from tamarind.cli.second import second_captions
from tamarind.cli.statuses import SOME_FAILED, WRONG_USE, UseError
from tamarind.cli.textfiles import TextFile, in_and_out, planned, through, timecodes_in
from tamarind.formats import documents
from tamarind.formats.broadcast.smpte import PLAIN_TIMECODES
from tamarind.formats.encoding import Bytes
from tamarind.formats.format import Details, Options
from tamarind.formats.lookstyles import unsaid
from tamarind.formats.timecode import clock
from tamarind.formats.twolanguages import matched
from tamarind.job.jobfile import SUFFIX, JobError
from tamarind.language import marks
from tamarind.language.grammar import Grammar
from tamarind.language.housestyle import HouseStyle, Level
from tamarind.language.publishing import Ways, published
from tamarind.language.stylebook import ORDINARY_STYLE, STYLES
from tamarind.language.styled import as_style_writes
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.system.errors import ToldError
from tamarind.transcript.model import Transcript, Word
from tamarind.transcript.retiming import Retiming

MOST_TOLD = 5


def convert(options: argparse.Namespace) -> int:
    """Read one format and write another; return the exit status."""
    try:
        style = style_for(options) or STYLES.find(ORDINARY_STYLE)
        named, output = in_and_out(options)
        jobs = [path for path in named if path.suffix == SUFFIX]
        if jobs and len(named) > 1:
            raise UseError("A job is converted alone: name no other file beside it.")
        files = [] if jobs else planned(named, output, options.formats)
        names = names_in(options.names)
        look = look_for(options)
        timecodes = timecodes_in(options)
        templates = templates_of(options)
        _check_sound(files, options)
    except ToldError as error:
        return told(error, WRONG_USE)
    how = replace(_document_options(options, style), look=look, templates=templates)
    how = replace(how, timecodes=timecodes or PLAIN_TIMECODES)
    if templates or options.client:
        how = replace(how, date=date.today().isoformat())
    if jobs:
        try:
            return convert_job(jobs[0], output, how, options)
        except UseError as error:
            return told(error, WRONG_USE)
        except JobError as error:
            return told(error, SOME_FAILED)
    if look is not None and (left := unsaid(look)):
        tell(f"{look.name}: what only a video shows is left out: {', '.join(left)}.")
    as_they_stand = [
        file for file in files if _is_timed(file) and not documents.is_script(file.source)
    ]
    if (options.style or client_of(options)) and not options.lay_out and as_they_stand:
        tell("lines and times stay as they are; --lay-out cuts the captions by the style.")

    try:
        second = second_captions(files, options)
    except UseError as error:
        return told(error, WRONG_USE)
    except ToldError as error:
        return told(error, SOME_FAILED)

    def changed(text: Transcript, file: TextFile) -> Transcript:
        return _changed(with_names(text, names), file, options, style, second)

    return through(files, changed, how, options, second)


def _check_sound(files: Sequence[TextFile], options: argparse.Namespace) -> None:
    """Raise UseError if --sound has no text to find its words for, or several."""
    if options.sound is None or not files:
        return
    if not options.punctuate and not documents.is_script(files[0].source):
        raise UseError(
            "--sound finds the words of a text for reading; captions need --punctuate with it."
        )
    if len(files) > 1:
        raise UseError("--sound belongs to one text.")


def _document_options(options: argparse.Namespace, style: HouseStyle) -> Options:
    said = about_for(options)
    return Options(
        style.transcript,
        Details(word_times=options.word_times),
        Bytes(options.encoding, options.bom, options.crlf),
        rows=options.roll_up,
        painted=options.paint_on,
        client=name_for(options),
        numbered=options.line_numbers,
        title=said.title,
        fields=said.fields,
        closing=said.closing,
        author=said.author,
        spelling=style.wording.spelling,
    )


def _changed(
    text: Transcript,
    file: TextFile,
    options: argparse.Namespace,
    style: HouseStyle,
    second: Transcript | None,
) -> Transcript:
    """Return a text with its speakers named and its form changed, ready to be written."""
    if options.punctuate or options.sound:
        text = _heard_with(text, file, options, style)
    if options.style or client_of(options):
        text = as_style_writes(text, style.wording)
    laid_out = options.lay_out
    if documents.is_script(file.source) and not options.sound and _is_timed(file):
        tell(
            "a text for reading has no times but those that stand before its paragraphs: the others"
            " are guesses by its length; --sound FILE finds them in its sound."
        )
        text, laid_out = at_reading_speed(text, style.captions), True
    elif options.lay_out:
        text = relay(text, 0, len(text.cues), style.captions, also_locked=True)
    if laid_out and _is_timed(file):
        _tell_what_breaks(published(text, file.suffix, style), style)
    ways = Ways(options.roll_up, from_captions=_is_of_captions(file))
    if second is not None and _is_timed(file):
        text, below = matched(text, second)
        ways = Ways(below=below)
    return published(text, file.suffix, style, ways)


def _tell_what_breaks(text: Transcript, style: HouseStyle) -> None:
    """Tell which cues cannot meet the style, as where somebody speaks too fast."""
    found = [
        one
        for one in Checker().check(text, CheckContext(style))
        if one.level is Level.MUST and isinstance(CHECKS[one.finding.rule], CaptionCheck)
    ]
    for one in found[:MOST_TOLD]:
        where = f"cue {one.place + 1} at {clock(one.finding.start)}"
        tell(f"{where}: {CHECKS[one.finding.rule].title} ({one.finding.reason})")
    if len(found) > MOST_TOLD:
        tell(f"and {len(found) - MOST_TOLD} more; “tamarind check” lists them all.")


def _heard_with(
    text: Transcript, file: TextFile, options: argparse.Namespace, style: HouseStyle
) -> Transcript:
    """Return a text for reading with the times of a sound, or any text with punctuation from it."""
    if options.sound is None:
        capitals = Grammar(style.wording.spelling).capitals if text.language[:2] == "en" else None
        found = marks.from_pauses(text, capitals=capitals or (lambda _: ()))
        return marks.taken(text, found)
    from tamarind.batch import transcribing
    from tamarind.batch.messages import HeardOnDemand, HearOnDemand

    plain = documents.is_script(file.source)
    script = tuple(word.text for cue in text.cues for word in cue.words) if plain else ()
    how = HearingOptions(text.language)
    words: tuple[Word, ...] = ()
    task = HearOnDemand(0, options.sound, how, script=script)
    for event in transcribing.hear_on_demand(task, transcribing.tools):
        if isinstance(event, HeardOnDemand):
            words = event.words
    if not plain:
        return marks.taken(text, marks.from_hearing(text, words))
    return from_script(text, words, style.captions)


def _is_timed(file: TextFile) -> bool:
    """Whether people will rely on the times in a file of this format."""
    return documents.is_captions(file.suffix)


def _is_of_captions(file: TextFile) -> bool:
    """Whether a text comes from captions, which have no paragraphs."""
    return documents.is_captions(file.source.suffix.lower().lstrip("."))


def retime(options: argparse.Namespace) -> int:
    """Write captions with all their times changed; return the exit status."""
    try:
        how = Retiming(options.shift, options.stretch * _rate_of(options))
        files = planned(*in_and_out(options), options.formats)
    except (UseError, ValueError) as error:
        return told(error, WRONG_USE)

    def retimed(text: Transcript, file: TextFile) -> Transcript:
        changed, lost = how.of(text)
        if lost:
            tell(f"{file.source}: {lost} cues would begin before 0 or end past all time: left out.")
        return changed

    return through(files, retimed, documents.USUAL, options)


def _rate_of(options: argparse.Namespace) -> float:
    """Return the factor for times counted in frames at one rate and shown at another."""
    if (options.from_rate is None) != (options.to_rate is None):
        raise UseError("--from-rate and --to-rate belong together.")
    return 1.0 if options.from_rate is None else float(options.from_rate / options.to_rate)

"""``tamarind convert`` and ``tamarind translate``: one text file into another."""

from __future__ import annotations

import argparse
import contextlib
from collections.abc import Callable
from pathlib import Path

from tamarind.audio.media import MediaError
from tamarind.captions.limits import ORDINARY
from tamarind.captions.lines import with_breaks
from tamarind.captions.relayout import at_reading_speed, from_script, relay
from tamarind.cli.main import DONE, SOME_FAILED, WRONG_USE
from tamarind.cli.output import tell, told
from tamarind.formats import documents
from tamarind.formats.captionfile import FormatError
from tamarind.formats.encoding import Bytes
from tamarind.formats.rollup import rolled_up
from tamarind.formats.vtt import VttOptions
from tamarind.language import marks
from tamarind.language.grammar import Grammar
from tamarind.language.housestyle import HouseStyle, StyleError
from tamarind.language.stylebook import ORDINARY_STYLE, find
from tamarind.language.styled import for_document
from tamarind.speech.howtohear import HowToHear
from tamarind.system.files import write_whole
from tamarind.transcript.model import Transcript, Word
from tamarind.translation.draft import draft
from tamarind.translation.engines.apertium import Apertium
from tamarind.translation.engines.base import TranslationError
from tamarind.translation.tracks import Track, as_transcript, with_texts


def convert(options: argparse.Namespace) -> int:
    """Read one format and write another; returns the exit status."""
    if options.roll_up is not None and options.roll_up < 1:
        return told("--roll-up is at least 1.", WRONG_USE)
    if options.sound is not None and not options.marks and not _is_script(options.input):
        return told(
            "--sound finds the words of a plain text; a text with times needs --marks with it.",
            WRONG_USE,
        )
    try:
        style = find(options.style or ORDINARY_STYLE)
    except StyleError as error:
        return told(error, WRONG_USE)
    ways = documents.Options(
        style.transcript,
        VttOptions(word_times=options.word_times),
        Bytes(options.encoding, options.bom, options.crlf),
    )

    def changed(text: Transcript) -> Transcript:
        if options.marks or options.sound:
            text = _heard_with(text, options, style)
        guessed = _is_script(options.input) and not options.sound and _is_timed(options.output)
        if guessed:
            tell(
                "a plain text has no times: those written are guesses by its length; --sound FILE"
                " finds them in its sound."
            )
            text = at_reading_speed(text, style.captions)
        elif options.lay_out:
            text = relay(text, 0, len(text.cues), style.captions, also_shaped=True)
        text = with_breaks(text, style.captions)
        text = for_document(options.output.suffix.lower().lstrip("."), text, style.wording)
        return rolled_up(text, options.roll_up) if options.roll_up else text

    return _through(options, changed, ways)


def _heard_with(text: Transcript, options: argparse.Namespace, style: HouseStyle) -> Transcript:
    """A plain text with the times of a sound; or any text with marks and capitals."""
    if options.sound is None:
        capitals = Grammar(style.wording.spelling).capitals if text.language[:2] == "en" else None
        found = marks.from_pauses(text, capitals=capitals or (lambda _: ()))
        return marks.taken(text, found)
    from tamarind.batch import listening
    from tamarind.batch.messages import HearAside, HeardAside

    plain = _is_script(options.input)
    script = tuple(word.text for cue in text.cues for word in cue.words) if plain else ()
    how = HowToHear(text.language)
    words: tuple[Word, ...] = ()
    task = HearAside(0, options.sound, how, script=script)
    for event in listening.hear_aside(task, listening.tools):
        if isinstance(event, HeardAside):
            words = event.words
    if not plain:
        return marks.taken(text, marks.from_hearing(text, words))
    return from_script(text, words, style.captions)


def _is_timed(path: Path) -> bool:
    """Whether a file is one whose times people will go by."""
    return path.suffix.lower().lstrip(".") in documents.CAPTION_DOCUMENTS


def _is_script(path: Path) -> bool:
    """Whether a text has no times to speak of."""
    return path.suffix.lower() == ".txt"


def translate(options: argparse.Namespace) -> int:
    """Write a text in another language, cue by cue; returns the exit status."""

    def translated(transcript: Transcript) -> Transcript:
        cues = [cue for cue in transcript.cues if cue.words]
        texts = draft(cues, Apertium(), transcript.language, options.to)
        track = with_texts(Track(options.to), cues, texts)
        return with_breaks(as_transcript(track, transcript), ORDINARY)

    return _through(options, translated, documents.USUAL)


def _through(
    options: argparse.Namespace,
    change: Callable[[Transcript], Transcript],
    ways: documents.Options,
) -> int:
    try:
        documents.suffix_of(options.input, documents.READ_SUFFIXES)
        suffix = documents.suffix_of(options.output)
    except FormatError as error:
        return told(error, WRONG_USE)
    if options.input.exists() and options.output.exists():
        with contextlib.suppress(OSError):
            if options.input.samefile(options.output):
                return told(f"{options.output} is the file itself: name another one.", WRONG_USE)
    try:
        read = documents.read(options.input, options.language, options.from_encoding)
        for sentence in read.mended:
            tell(f"{options.input}: {sentence}")
        data = documents.write(suffix, change(read.transcript), read.source, ways)
        write_whole(Path(options.output), data)
    except (FormatError, TranslationError, MediaError) as error:
        return told(error, SOME_FAILED)
    except OSError as error:
        return told(f"{options.output}: could not be written: {error.strerror}.", SOME_FAILED)
    return DONE

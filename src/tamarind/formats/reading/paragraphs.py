"""Divide a transcript into paragraphs to be read: speaker, time and words."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from tamarind.formats.captionfile import names_of
from tamarind.formats.spans import STAMP_LOOK, StyledRun, by_looks
from tamarind.formats.timecode import clock
from tamarind.system.declared import one_of, option, whole, yes_or_no
from tamarind.transcript.capitals import capitals
from tamarind.transcript.edits import begins_by_itself
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.sentences import ends_sentence


class SpeakerForm(StrEnum):
    """How a paragraph names its speaker."""

    NONE = "none"
    NAME = "name"
    CAPITALS = "capitals"
    BRACKETS = "brackets"
    INITIALS = "initials"


class Stamps(StrEnum):
    """Which paragraphs carry a time."""

    NONE = "none"
    PARAGRAPHS = "paragraphs"
    TURNS = "turns"
    MINUTES = "minutes"
    SECONDS = "seconds"
    """In the text, at the first word after every so many seconds."""


class StampPlace(StrEnum):
    """Where the time of a paragraph stands."""

    TEXT = "text"
    MARGIN = "margin"
    LINE = "line"


class TranscriptForm(StrEnum):
    """How a transcript is laid out: paragraphs below the speakers' names, a table with a row for
    each, or questions and answers as in a hearing."""

    PARAGRAPHS = "paragraphs"
    TABLE = "table"
    QUESTIONS = "questions"


@dataclass(frozen=True, slots=True)
class TextOptions:
    """What a transcript shows besides the words.

    A name stands at each change of speaker, or with ``repeats_speaker`` at every paragraph. With
    ``Stamps.MINUTES`` the first paragraph after every so many minutes has a time. A paragraph
    that would have more than ``longest_paragraph`` words is parted at the end of a sentence; 0
    leaves them as long as they are. A text that is heard gets paragraphs of about
    ``paragraph_words``. Pages of ``page_lines`` lines have numbers at their lines; 0 takes as many
    as fit.
    """

    speakers: SpeakerForm = option(
        SpeakerForm.NAME,
        one_of(
            {
                "Martin Hale:": SpeakerForm.NAME,
                "MARTIN HALE:": SpeakerForm.CAPITALS,
                "[Martin Hale]": SpeakerForm.BRACKETS,
                "MH:": SpeakerForm.INITIALS,
                "none": SpeakerForm.NONE,
            }
        ),
        "Label",
        section="Speakers",
    )
    repeats_speaker: bool = option(False, yes_or_no(), "Label every paragraph", section="Speakers")
    lists_speakers: bool = option(False, yes_or_no(), "List at the front", section="Speakers")
    stamps: Stamps = option(
        Stamps.NONE,
        one_of(
            {
                "none": Stamps.NONE,
                "every paragraph": Stamps.PARAGRAPHS,
                "each change of speaker": Stamps.TURNS,
                "every few minutes": Stamps.MINUTES,
                "every few seconds, in the text": Stamps.SECONDS,
            }
        ),
        "Time stamps",
        section="Times",
    )
    stamp_minutes: int = option(
        5, whole(1, 120), "Every", section="Times", unit="min", only_with=("stamps", Stamps.MINUTES)
    )
    stamp_seconds: int = option(
        30,
        whole(5, 600),
        "Every",
        section="Times",
        unit="s",
        only_with=("stamps", Stamps.SECONDS),
    )
    stamp_place: StampPlace = option(
        StampPlace.TEXT,
        one_of(
            {
                "before the text": StampPlace.TEXT,
                "in the margin": StampPlace.MARGIN,
                "on a line of its own": StampPlace.LINE,
            }
        ),
        "Stand",
        section="Times",
        rare=True,
    )
    longest_paragraph: int = option(
        0, whole(0, 10_000), "At most", section="Paragraphs", unit="words", hint="0: no limit"
    )
    paragraph_words: int = option(
        65, whole(10, 2_000), "About", section="Paragraphs", unit="words", hint="in a new draft"
    )
    form: TranscriptForm = option(
        TranscriptForm.PARAGRAPHS,
        one_of(
            {
                "paragraphs": TranscriptForm.PARAGRAPHS,
                "table: time, speaker, text": TranscriptForm.TABLE,
                "questions and answers: Q. A.": TranscriptForm.QUESTIONS,
            }
        ),
        "TranscriptForm",
        section="Layout",
    )
    page_lines: int = option(
        0,
        whole(0, 60),
        "Lines a page",
        section="Layout",
        hint="0: as many as fit; else numbered",
        rare=True,
    )


PLAIN = TextOptions()


@dataclass(frozen=True, slots=True)
class Paragraph:
    """A block to be read: its cues, text, and start (ms); ``label`` and ``stamp`` where they are
    shown; ``speaker`` is who says it, labelled or not; ``heading`` stands before it."""

    start: int
    text: str
    label: str | None
    stamp: str | None
    speaker: str | None
    places: tuple[int, ...] = ()
    """Of its cues in the text, in order."""
    pieces: tuple[StyledRun, ...] = ()
    heading: str = ""
    mark: str = ""
    """What stands before the text in the same line: "Q.", "A.", or a name in a hearing."""


def paragraphs(transcript: Transcript, options: TextOptions = PLAIN) -> list[Paragraph]:
    """Return the paragraphs of a text, as they are shown."""
    names = names_of(transcript)
    marks = _marks(transcript) if options.form is TranscriptForm.QUESTIONS else {}
    result: list[Paragraph] = []
    previous: int | None = None
    due = 0
    next_stamp = options.stamp_seconds * 1000
    for run in _runs(transcript.cues, options.longest_paragraph):
        cue = transcript.cues[run[0]]
        name = names.get(cue.speaker)
        changed = not result or cue.speaker != previous or bool(cue.heading)
        stamp = None
        timed = options.stamps is Stamps.PARAGRAPHS or options.form is TranscriptForm.TABLE
        timed = timed or (changed and options.stamps is Stamps.TURNS)
        if options.stamps is Stamps.MINUTES and cue.start >= due:
            step = max(options.stamp_minutes, 1) * 60_000
            timed, due = True, (cue.start // step + 1) * step
        if timed:
            stamp = f"[{clock(cue.start, 0)}]"
        labelled = changed or options.repeats_speaker
        mark = marks.get(cue.speaker, "") if labelled else ""
        label = (
            speaker_label(name, options.speakers, transcript.language)
            if name and (labelled or options.form is TranscriptForm.TABLE) and not marks
            else None
        )
        cues = [transcript.cues[place] for place in run]
        if options.stamps is Stamps.SECONDS:
            pieces, next_stamp = _with_stamps(cues, next_stamp, options.stamp_seconds * 1000)
        else:
            pieces = tuple(by_looks(cues))
        text = "".join(piece.text for piece in pieces)
        result.append(
            Paragraph(
                cue.start,
                text,
                label,
                stamp=stamp,
                speaker=name,
                places=tuple(run),
                pieces=pieces,
                heading=cue.heading,
                mark=mark,
            )
        )
        previous = cue.speaker
    return result


def _with_stamps(cues: Sequence[Cue], due: int, every: int) -> tuple[tuple[StyledRun, ...], int]:
    """Return the words of cues as runs, with a time before the first word from ``due`` on, and
    again ``every`` so many ms; and when the next is due."""
    pieces: list[StyledRun] = []
    part: list[Cue] = []
    for cue in cues:
        first = 0
        for place, word in enumerate(cue.words):
            if word.start < due:
                continue
            part.append(replace(cue, words=cue.words[first:place], breaks=None))
            pieces += _spaced(pieces, by_looks(part))
            time = word.start // every * every
            pieces += _spaced(pieces, [StyledRun(f"[{clock(time, 0)}]", STAMP_LOOK, "")])
            due, part, first = time + every, [], place
        part.append(replace(cue, words=cue.words[first:], breaks=None))
    return (*pieces, *_spaced(pieces, by_looks(part))), due


def _spaced(before: Sequence[StyledRun], runs: list[StyledRun]) -> list[StyledRun]:
    """Return runs with a space before them if others stand there."""
    if before and runs:
        runs[0] = runs[0]._replace(text=f" {runs[0].text}")
    return runs


def _marks(transcript: Transcript) -> dict[int | None, str]:
    """Return what stands before each speaker's words in a hearing.

    Of the two who speak most, the one who ends more sentences with a question mark asks; others
    have their names in capitals.
    """
    words: Counter[int | None] = Counter()
    asked: Counter[int | None] = Counter()
    for cue in transcript.cues:
        words[cue.speaker] += len(cue.words)
        asked[cue.speaker] += sum("?" in word.text for word in cue.words)
    most = [speaker for speaker, _ in words.most_common(2) if speaker is not None]
    names = names_of(transcript)
    marks: dict[int | None, str] = {
        speaker: f"{capitals(name, transcript.language)}:"
        for speaker, name in names.items()
        if name
    }
    if len(most) == 2:
        most.sort(key=lambda speaker: asked[speaker], reverse=True)
        marks |= {most[0]: "Q.", most[1]: "A."}
    return marks


def listed_speakers(transcript: Transcript, options: TextOptions) -> list[str]:
    """Return a line for each speaker who says something, as a list at the front has them."""
    names = names_of(transcript)
    marks = _marks(transcript) if options.form is TranscriptForm.QUESTIONS else {}
    said = dict.fromkeys(cue.speaker for cue in transcript.cues if cue.words)
    lines = []
    for speaker in said:
        name = names.get(speaker)
        if not name:
            continue
        mark = marks.get(speaker, "")
        if options.speakers is SpeakerForm.INITIALS and not marks:
            mark = speaker_label(name, options.speakers, transcript.language) or ""
        is_own = mark == f"{capitals(name, transcript.language)}:"
        lines.append(f"{mark} {name}" if mark and not is_own else name)
    return lines


def speaker_label(name: str, form: SpeakerForm, language: str = "") -> str | None:
    """Return a name as a transcript in a language writes it before the speech, with its
    punctuation."""
    if form is SpeakerForm.NONE:
        return None
    if form is SpeakerForm.CAPITALS:
        return f"{capitals(name, language)}:"
    if form is SpeakerForm.BRACKETS:
        return f"[{name}]"
    if form is SpeakerForm.INITIALS:
        return "".join(capitals(word[0], language) for word in name.split()) + ":"
    return f"{name}:"


def side_by_side(
    found: Sequence[Paragraph], texts: Mapping[str, Sequence[str | None]]
) -> list[dict[str, str]]:
    """Return the translations of each paragraph; ``texts`` has one text a cue."""
    return [
        {
            language: " ".join(filter(None, (own[place] for place in paragraph.places)))
            for language, own in texts.items()
        }
        for paragraph in found
    ]


def _runs(cues: Sequence[Cue], longest: int) -> Iterator[list[int]]:
    """Return the indices of the cues of each paragraph; cues without words are in none."""
    run: list[int] = []
    words = 0
    for place, cue in enumerate(cues):
        if not cue.words:
            continue
        last = cues[run[-1]] if run else None
        full = (
            longest
            and last
            and words + len(cue.words) > longest
            and ends_sentence(last.words[-1].text)
        )
        if last and (cue.opens_paragraph or begins_by_itself(last, cue) or full):
            yield run
            run, words = [], 0
        run.append(place)
        words += len(cue.words)
    if run:
        yield run

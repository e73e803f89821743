"""Divide a transcript into paragraphs to be read: speaker, time and words."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from tamarind.formats.captionfile import names_of
from tamarind.formats.spans import StyledRun, by_looks
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
    MINUTES = "minutes"


@dataclass(frozen=True, slots=True)
class TextOptions:
    """What a transcript shows besides the words.

    A name stands at each change of speaker, or with ``repeats_speaker`` at every paragraph. With
    ``Stamps.MINUTES`` the first paragraph after every so many minutes has a time. A paragraph
    that would have more than ``longest_paragraph`` words is parted at the end of a sentence; 0
    leaves them as long as they are. A text that is heard gets paragraphs of about
    ``paragraph_words``.
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
    stamps: Stamps = option(
        Stamps.NONE,
        one_of(
            {
                "none": Stamps.NONE,
                "every paragraph": Stamps.PARAGRAPHS,
                "every few minutes": Stamps.MINUTES,
            }
        ),
        "Time stamps",
        section="Times",
    )
    stamp_minutes: int = option(
        5, whole(1, 120), "Every", section="Times", unit="min", only_with=("stamps", Stamps.MINUTES)
    )
    longest_paragraph: int = option(
        0, whole(0, 10_000), "At most", section="Paragraphs", unit="words", hint="0: no limit"
    )
    paragraph_words: int = option(
        65, whole(10, 2_000), "About", section="Paragraphs", unit="words", hint="in a new draft"
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


def paragraphs(transcript: Transcript, options: TextOptions = PLAIN) -> list[Paragraph]:
    """Return the paragraphs of a text, as they are shown."""
    names = names_of(transcript)
    result: list[Paragraph] = []
    previous: int | None = None
    due = 0
    for run in _runs(transcript.cues, options.longest_paragraph):
        cue = transcript.cues[run[0]]
        name = names.get(cue.speaker)
        changed = not result or cue.speaker != previous or bool(cue.heading)
        stamp = None
        timed = options.stamps is Stamps.PARAGRAPHS
        if options.stamps is Stamps.MINUTES and cue.start >= due:
            step = max(options.stamp_minutes, 1) * 60_000
            timed, due = True, (cue.start // step + 1) * step
        if timed:
            stamp = f"[{clock(cue.start, 0)}]"
        labelled = changed or options.repeats_speaker
        label = (
            speaker_label(name, options.speakers, transcript.language)
            if name and labelled
            else None
        )
        said = by_looks(transcript.cues[place] for place in run)
        text = "".join(piece.text for piece in said)
        pieces = tuple(said)
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
            )
        )
        previous = cue.speaker
    return result


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

"""Check a recording against the accessibility guidelines for media (W3C, Web Content Accessibility
Guidelines 2.2, guideline 1.2, and 1.4.3, 3.1.1, 3.1.2)."""

from __future__ import annotations

import html
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum

from tamarind.picture.looks import LEAST_CONTRAST
from tamarind.transcript.descriptions import Description, gaps, problem_of
from tamarind.transcript.languages import UNDETERMINED
from tamarind.transcript.model import Transcript


class Answer(StrEnum):
    """The result for one criterion."""

    DONE = "done"
    MISSING = "missing"
    NEEDLESS = "not needed"


@dataclass(frozen=True, slots=True)
class Criterion:
    """A requirement; ``mend`` names the command that leads to it, if there is one."""

    title: str
    answer: Answer
    told: str
    mend: str = ""


@dataclass(frozen=True, slots=True)
class Looked:
    """What is known of a recording besides its text: how long it is (ms), whether it has a picture
    and somebody has said that nothing in it needs description, how many words are doubtful and how
    many errors stand, the contrast ratios of its captions as far as measured, whether somebody has
    looked for sounds that matter, and whether a transcript and captions are among the files to be
    written."""

    duration: int
    has_picture: bool
    needs_no_description: bool = False
    doubts: int = 0
    broken: int = 0
    contrasts: Sequence[float] = ()
    sounds_looked: bool = False
    writes_transcript: bool = False
    writes_captions: bool = False


def points(
    text: Transcript, descriptions: Sequence[Description], looked: Looked
) -> list[Criterion]:
    """Return all criteria with their answers, in the order in which people work."""
    return list(_points(text, descriptions, looked))


def _points(
    text: Transcript, descriptions: Sequence[Description], looked: Looked
) -> Iterator[Criterion]:
    cues = [cue for cue in text.cues if cue.words]
    if not cues:
        yield Criterion("Captions", Answer.MISSING, "There is no text yet.", "intake")
        return
    yield _point("Captions", looked.writes_captions, f"{len(cues)} captions are there, and go out.",
                 "No caption file is among what is written.", "export")  # fmt: skip
    open_cues = sum(not cue.settled for cue in cues)
    yield _point("Proofed", not open_cues, "Everything has been proofed.",
                 f"{_count(open_cues, 'caption')} not proofed yet.", "proof")  # fmt: skip
    yield _point("No uncertain words", not looked.doubts, "No word is uncertain.",
                 f"{_count(looked.doubts, 'word')} uncertain.", "next_doubt")  # fmt: skip
    yield _speakers(text)
    marks = sum(cue.text.startswith("[") for cue in cues)
    heard = f"{_count(marks, 'sound')} named." if marks else "No sound needs a name."
    yield _point("Sounds", looked.sounds_looked or bool(marks), heard,
                 "Nobody has looked for sounds yet.", "sounds")  # fmt: skip
    yield _point("Transcript", looked.writes_transcript, "A transcript goes out.",
                 "No transcript is among what is written.", "export")  # fmt: skip
    yield _described(text, descriptions, looked)
    yield _languages(text)
    if looked.has_picture and looked.contrasts:
        low = sum(ratio < LEAST_CONTRAST for ratio in looked.contrasts)
        yield _point("Contrast", not low, "Captions stand out on all pictures.",
                     f"{_count(low, 'caption')} hard to read on the picture.", "look")  # fmt: skip
    elif looked.has_picture:
        yield Criterion("Contrast", Answer.DONE, "The caption style stands out on any picture.")
    yield _point("Readable", not looked.broken, "There are no errors.",
                 f"{_count(looked.broken, 'error')} in the captions.", "checks")  # fmt: skip


def _point(title: str, good: bool, done: str, missing: str, mend: str) -> Criterion:
    return Criterion(title, Answer.DONE if good else Answer.MISSING, done if good else missing,
                 "" if good else mend)  # fmt: skip


def _count(number: int, noun: str) -> str:
    plural = f"{noun}es" if noun.endswith("ch") else f"{noun}s"
    return f"1 {noun} is" if number == 1 else f"{number} {plural} are"


def _speakers(text: Transcript) -> Criterion:
    speaking = dict.fromkeys(cue.speaker for cue in text.cues if cue.words)
    if len(speaking) <= 1:
        return Criterion("Speakers", Answer.NEEDLESS, "One person speaks.")
    nameless = sum(not (s.name if (s := text.speaker(key)) else "") for key in speaking)
    return _point("Speakers", not nameless, "All who speak are named.",
                  f"{_count(nameless, 'speaker')} without a name.", "speaker")  # fmt: skip


def _described(text: Transcript, descriptions: Sequence[Description], looked: Looked) -> Criterion:
    title = "Audio description"
    if not looked.has_picture:
        return Criterion(title, Answer.NEEDLESS, "The recording has no picture.")
    if descriptions:
        there = gaps(text, looked.duration)
        wrong = sum(bool(problem_of(one, there)) for one in descriptions)
        return _point(title, not wrong, f"{_count(len(descriptions), 'description')} there.",
                      f"{_count(wrong, 'description')} too long, or over speech.",
                      "describe")  # fmt: skip
    if looked.needs_no_description:
        return Criterion(title, Answer.NEEDLESS, "All that matters is said.")
    return Criterion(title, Answer.MISSING, "Nothing is described; tick below if nothing needs it.",
                 "describe")  # fmt: skip


def _languages(text: Transcript) -> Criterion:
    tagged = text.language not in ("", UNDETERMINED)
    return _point("Languages", tagged, "The language is told, and passages in others.",
                  "The text does not say which language it is in.", "intake")  # fmt: skip


_LOOK = """
 body { max-width: 46rem; margin: 2.5rem auto; padding: 0 1.5rem; color: #2b2320;
   background: #fffdf8; font: 1.05rem/1.55 Cabin, "Segoe UI", sans-serif; }
 h1 { font-size: 1.6rem; } h2 { font-size: 1.2rem; margin: 2rem 0 .5rem; color: #5b3a29; }
 table { border-collapse: collapse; width: 100%; }
 th, td { text-align: start; vertical-align: top; padding: .35rem 1rem .35rem 0;
   border-bottom: 1px solid #e2d6c6; }
 .missing { color: #7a3e6b; font-weight: 600; }
"""


def report(title: str, recordings: Sequence[tuple[str, Sequence[Criterion]]]) -> str:
    """Return an HTML page with all criteria of some recordings, by their names."""
    lines = [
        "<!DOCTYPE html>", '<html lang="en">', "<head>", '<meta charset="utf-8">',
        '<meta name="viewport" content="width=device-width, initial-scale=1">',
        f"<title>{html.escape(title)}</title>", f"<style>{_LOOK}</style>", "</head>", "<body>",
        f"<h1>{html.escape(title)}</h1>",
    ]  # fmt: skip
    for name, found in recordings:
        missing = sum(point.answer is Answer.MISSING for point in found)
        told = f"{missing} to do" if missing else "complete"
        lines += [f"<h2>{html.escape(name)}</h2>", f"<p>{told}</p>", "<table>",
                  "<thead><tr><th scope=\"col\">point</th><th scope=\"col\">answer</th>"
                  "<th scope=\"col\">about it</th></tr></thead>", "<tbody>"]  # fmt: skip
        for point in found:
            kind = ' class="missing"' if point.answer is Answer.MISSING else ""
            lines.append(
                f'<tr><th scope="row">{html.escape(point.title)}</th>'
                f"<td{kind}>{point.answer.value}</td><td>{html.escape(point.told)}</td></tr>"
            )
        lines += ["</tbody>", "</table>"]
    return "\n".join([*lines, "</body>", "</html>", ""])

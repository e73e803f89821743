"""People reading: what is wrong or missing, utterance by utterance, and whether that is told.

    .venv/bin/python benchmarks/missing.py FOLDER LANGUAGE [quick|thorough|double ...]

FOLDER holds recordings of a person with their texts, as for ``languages.py``. An utterance lacks
words where at least three words in a row are not in the text and nothing stands in their place. It
is told if a place without text is marked there, or a word beside it is uncertain. Printed too: how
many utterances begin within 100 ms of their sound, and how many of the wrong words are among the
least certain tenth.
"""

from __future__ import annotations

import sys
import tempfile
import time
import unicodedata
import wave
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from pathlib import Path

import numpy as np

HERE = Path(__file__).parent
sys.path[:0] = [str(HERE.parent), str(HERE)]

from languages import RATE, Prompt, prompts  # noqa: E402
from tamarind.batch.messages import Failed, Hear, Heard  # noqa: E402
from tamarind.batch.work import do  # noqa: E402
from tamarind.speech.hearingoptions import Care, HearingOptions  # noqa: E402
from tamarind.transcript.model import DOUBTFUL_BELOW, Word  # noqa: E402
from truth import matched, plain  # noqa: E402

FEWEST = 3
NEAR_MS = 400
QUIET, SLOWER = 0.01, 1.25

Span = tuple[int, int]


@dataclass(frozen=True, slots=True)
class Gap:
    """Words of an utterance that are not in the text, from when to when (ms) they can be said."""

    utterance: int
    words: tuple[str, ...]
    start: int
    end: int


def heard(path: Path, how: HearingOptions) -> tuple[list[Word], list[Span], float]:
    """Return the words, the places marked as speech without text, and the seconds."""
    began = time.perf_counter()
    events = list(do(Hear(1, path, how, (0, None))))
    assert not isinstance(events[-1], Failed), events[-1]
    told = [event for event in events if isinstance(event, Heard)]
    words = [word for event in told for cue in event.cues for word in cue.words]
    return words, [span for event in told for span in event.unheard], time.perf_counter() - began


def gaps(
    said: Sequence[Prompt], words: Sequence[Word], sound: np.ndarray
) -> tuple[list[Gap], int, int]:
    """Return where words are missing, the number of wrong words, and the number of words."""
    length = len(sound) * 1000 // RATE
    true = [
        (form.text, number)
        for number, prompt in enumerate(said)
        for form in plain(_folded(prompt.text).split())
    ]
    theirs = plain([_folded(word.text) for word in words])
    pairs = matched([text for text, _ in true], [form.text for form in theirs])
    wrong = sum(a is None or b is None or true[a][0] != theirs[b].text for a, b in pairs)
    ends = [*(prompt.onset * 1000 // RATE for prompt in said[1:]), length]
    found: list[Gap] = []
    run: list[int] = []
    added = 0

    def close() -> None:
        missing = len(run) - added
        if run and missing >= FEWEST:
            number = true[run[len(run) // 2]][1]
            texts = tuple(true[at][0] for at in run if true[at][1] == number)
            found.append(Gap(number, texts, said[number].onset * 1000 // RATE, ends[number]))

    for a, b in pairs:
        if a is not None and b is not None and true[a][0] == theirs[b].text:
            close()
            run, added = [], 0
        else:
            if a is not None:
                run.append(a)
            added += b is not None
    close()
    usual = float(np.median([_pace(words, sound, a, b) for a, b in pairwise_onsets(said, length)]))
    # Some texts say more than was read.
    read = [gap for gap in found if _pace(words, sound, gap.start, gap.end) > SLOWER * usual]
    return read, wrong, len(true)


def pairwise_onsets(said: Sequence[Prompt], length: int) -> list[Span]:
    """Return from when to when (ms) each utterance can be."""
    onsets = [*(prompt.onset * 1000 // RATE for prompt in said), length]
    return list(pairwise(onsets))


def _pace(words: Sequence[Word], sound: np.ndarray, start: int, end: int) -> float:
    """Return the milliseconds of sound for each letter recognised in a stretch."""
    part = sound[start * RATE // 1000 : end * RATE // 1000]
    steps = part[: len(part) // 320 * 320].reshape(-1, 320)
    loud = 20 * int((np.sqrt(np.square(steps).mean(axis=1)) > QUIET).sum())
    heard = [word.text for word in words if start - NEAR_MS <= (word.start + word.end) / 2 < end]
    letters = sum(len(form.text) for form in plain(heard))
    return loud / max(letters, 1)


def _folded(text: str) -> str:
    """A text without its accents, which people who write prompts leave out."""
    parted = unicodedata.normalize("NFD", text)
    return "".join(letter for letter in parted if not unicodedata.combining(letter))


def is_told(gap: Gap, words: Sequence[Word], told: Sequence[Span]) -> bool:
    """Whether a gap is marked in the utterance, or a word in it is uncertain."""
    if any(start < gap.end and end > gap.start - NEAR_MS for start, end in told):
        return True
    return any(
        word.end > gap.start - NEAR_MS
        and word.start < gap.end
        and (word.confidence or 1.0) < DOUBTFUL_BELOW
        and word.end - word.start > 800
        for word in words
    )


def begun(said: Sequence[Prompt], words: Sequence[Word]) -> float:
    """Return the share of utterances whose first word begins within 100 ms of their sound, of those
    whose first word was recognised."""
    true = [
        (form.text, number, place)
        for number, prompt in enumerate(said)
        for place, form in enumerate(plain(_folded(prompt.text).split()))
    ]
    theirs = plain([_folded(word.text) for word in words])
    pairs = matched([text for text, _, _ in true], [form.text for form in theirs])
    off = [
        words[theirs[b].owner].start - said[true[a][1]].onset * 1000 // RATE
        for a, b in pairs
        if a is not None and b is not None and true[a][2] == 0 and true[a][0] == theirs[b].text
    ]
    return float(np.mean(np.abs(off) <= 100))


def doubted(said: Sequence[Prompt], words: Sequence[Word]) -> float:
    """Return the share of the wrong words that are among the least certain tenth."""
    true = [form.text for p in said for form in plain(_folded(p.text).split())]
    theirs = plain([_folded(word.text) for word in words])
    wrong = {
        theirs[b].owner
        for a, b in matched(true, [form.text for form in theirs])
        if b is not None and (a is None or true[a] != theirs[b].text)
    }
    order = sorted(range(len(words)), key=lambda place: words[place].confidence or 0.0)
    return len(wrong.intersection(order[: len(words) // 10])) / max(len(wrong), 1)


def main() -> None:
    """Transcribe everything that was read and print what is missing."""
    folder, language, *cares = sys.argv[1:]
    sound, said = prompts(Path(folder), language)
    with tempfile.TemporaryDirectory() as name:
        path = Path(name) / "read.wav"
        with wave.open(str(path), "wb") as file:
            file.setnchannels(1)
            file.setsampwidth(2)
            file.setframerate(RATE)
            file.writeframes((np.clip(sound, -1, 1) * 32767).astype("<i2").tobytes())
        for care in cares or ["quick", "thorough", "double"]:
            words, told, seconds = heard(path, HearingOptions(language, Care(care)))
            found, wrong, of = gaps(said, words, sound)
            untold = [gap for gap in found if not is_told(gap, words, told)]
            print(
                f"{language} {care}: {seconds:.0f} s, {100 * wrong / of:.2f} % of {of} words wrong;"
                f" {len(found)} of {len(said)} utterances lack"
                f" {sum(len(gap.words) for gap in found)} words, {len(untold)} of them untold;"
                f" {len(told)} places marked, {sum(b - a for a, b in told) / 1000:.1f} s;"
                f" {begun(said, words):.3f} begin within 100 ms; of the wrong words"
                f" {doubted(said, words):.0%} in the least certain tenth"
            )
            for gap in found:
                mark = "UNTOLD" if gap in untold else "told"
                print(f"    {mark} {gap.start / 1000:.1f} s: {' '.join(gap.words)}")


if __name__ == "__main__":
    main()

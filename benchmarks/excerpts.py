"""Excerpts cut out of recordings: against true times, heard again, and ten of them joined.

    .venv/bin/python benchmarks/excerpts.py [how many]

*True times*: runs of words of chance in the synthesised set, where it is known when each word
begins and ends: how often a cut takes something off the chosen words, or leaves something of their
neighbours, by more than so many ms. Beside it the same runs cut at the times of their words as they
were heard, and with a tenth of a second around. *Heard again*: runs of whole captions of chance,
from people and the demo, are cut out as files and heard: whether the words that were chosen are
heard, and whether any is missing or too many at the ends. *Joined*: how far the words of the
captions are from where they are heard in the joined file.
"""

from __future__ import annotations

import random
import sys
import tempfile
from difflib import SequenceMatcher
from pathlib import Path

import numpy as np

from evaluation_set import evaluation_set
from material import known_recordings
from tamarind.audio import soundcache
from tamarind.audio.soundfile import write_sound
from tamarind.audio.splice import Cutting
from tamarind.batch import transcribing
from tamarind.batch.messages import HearOnDemand
from tamarind.captions.layout import lay_out
from tamarind.captions.limits import ORDINARY
from tamarind.captions.splicing import Piece, spliced
from tamarind.speech.cutpoints import around
from tamarind.speech.hearingoptions import Care, HearingOptions
from tamarind.transcript.model import Transcript, Word
from tamarind.transcript.reconcile import letters_of

WAYS = ("in the pauses", "at the words", "100 ms around")
TOLERATED_MS = (20, 40)
Place = tuple[int, int]


def main() -> None:
    """Print all three measurements."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 50
    against_true_times(4 * count)
    known = [k for k in known_recordings() if k.condition in ("people", "demo")]
    texts = {one.path: _text(one.path) for one in known}
    texts = {path: text for path, text in texts.items() if len(text.cues) > 3}
    chosen = []
    for number in range(count):
        rng = random.Random(number)
        path = rng.choice(list(texts))
        cues = texts[path].cues
        first = rng.randrange(len(cues))
        last = min(first + rng.randint(0, 3), len(cues) - 1)
        chosen.append((path, (first, 0), (last, len(cues[last].words) - 1)))
    heard_again(texts, chosen)
    joined(texts, chosen[:10])


def _heard(path: Path) -> tuple[Word, ...]:
    how = HearingOptions(care=Care.THOROUGH)
    *_, last = transcribing.hear_on_demand(HearOnDemand(1, path, how), transcribing.tools)
    return last.words


def _text(path: Path) -> Transcript:
    return Transcript("en", tuple(lay_out(_heard(path), ORDINARY, language="en")))


def _between(text: Transcript, first: Place, last: Place) -> list[Word]:
    return [
        word
        for place, cue in enumerate(text.cues)
        for number, word in enumerate(cue.words)
        if first <= (place, number) <= last
    ]


def _span(text: Transcript, path: Path, first: Place, last: Place, way: str) -> tuple[int, int]:
    sound = soundcache.fetch(path)
    length = sound.decoded.duration
    if way == WAYS[0]:
        return around(sound.samples(), text, first, last, length)
    words = _between(text, first, last)
    more = 100 if way == WAYS[2] else 0
    return max(words[0].start - more, 0), min(words[-1].end + more, length)


def against_true_times(count: int) -> None:
    """Measure how much of the words is cut off, and how much of their neighbours is left."""
    made = [one for one in evaluation_set() if one.condition == "clean"]
    rng = random.Random(5)
    off: dict[str, list[float]] = {way: [] for way in WAYS}
    texts = {one.path: _text(one.path) for one in made[:6]}
    true = {one.path: one.words for one in made[:6]}
    while len(off[WAYS[0]]) < 2 * count:
        path = rng.choice(list(texts))
        text, known = texts[path], true[path]
        places = [(c, w) for c, cue in enumerate(text.cues) for w in range(len(cue.words))]
        said = [letters_of(text.cues[c].words[w].text) for c, w in places]
        matched = {}
        for block in SequenceMatcher(
            None, said, [letters_of(word.text) for word in known], autojunk=False
        ).get_matching_blocks():
            matched.update({block.a + n: block.b + n for n in range(block.size)})
        length = rng.randint(4, 24)
        first = rng.randrange(1, len(places) - length - 1)
        last = first + length - 1
        ends = [matched.get(at) for at in (first - 1, first, last, last + 1)]
        if None in ends or ends[1] != ends[0] + 1 or ends[3] != ends[2] + 1:
            continue
        before, begins, ended, after = (known[at] for at in ends)
        for way in WAYS:
            start, end = _span(text, path, places[first], places[last], way)
            off[way].append(max(start - begins.start, before.end - start, 0))
            off[way].append(max(ended.end - end, end - after.start, 0))
    print(f"true times, {count} runs of words, both ends:")
    for way in WAYS:
        wrong = np.array(off[way])
        told = ", ".join(f"{np.mean(wrong > most):.1%} by more than {most} ms"
                         for most in TOLERATED_MS)  # fmt: skip
        print(f"  cut {way}: wrong {told}; 95th of 100: {np.quantile(wrong, 0.95):.0f} ms")


def heard_again(texts: dict[Path, Transcript], chosen: list[tuple[Path, Place, Place]]) -> None:
    """Transcribe each run cut in each way."""
    folder = Path(tempfile.mkdtemp())
    for way in WAYS:
        same = whole = 0
        others: list[str] = []
        for number, (path, first, last) in enumerate(chosen):
            text = texts[path]
            target = folder / f"{way} {number}.wav"
            cutting = Cutting(path, (_span(text, path, first, last, way),))
            write_sound(target, target, [cutting])
            expected = [letters_of(word.text) for word in _between(text, first, last)]
            found = [letters_of(word.text) for word in _heard(target)]
            same += found == expected
            steps = SequenceMatcher(None, expected, found, autojunk=False).get_opcodes()
            good = all(b - a == d - c for _, a, b, c, d in (steps[0], steps[-1]))
            whole += good
            if not good:
                others.append(f"    {path.stem}: {' '.join(expected)}")
                others.append(f"    heard: {' '.join(found)}")
        print(f"cut {way}: {same} of {len(chosen)} heard the same word by word, {whole} with no"
              " word missing or too many at the ends")  # fmt: skip
        if way == WAYS[0]:
            print("\n".join(others))


def joined(texts: dict[Path, Transcript], chosen: list[tuple[Path, Place, Place]]) -> None:
    """Join ten in one file, and compare the times of their words with what is recognised."""
    spans = [_span(texts[path], path, first, last, WAYS[0]) for path, first, last in chosen]
    parts = [(path, (span,)) for (path, *_), span in zip(chosen, spans, strict=True)]
    target = Path(tempfile.mkdtemp()) / "joined.wav"
    write_sound(target, target, [Cutting(path, span) for path, span in parts])
    text = spliced([Piece(texts[path], span) for path, span in parts], ORDINARY)
    words = [word for cue in text.cues for word in cue.words]
    again = _heard(target)
    off = []
    for word in words:
        near = [abs(other.start - word.start) for other in again
                if letters_of(other.text) == letters_of(word.text)]  # fmt: skip
        if near and min(near) < 500:
            off.append(min(near))
    told = ", ".join(f"{np.mean(np.array(off) <= most):.0%}" for most in (20, 40, 100))
    print(f"joined: {len(off)} of {len(words)} words found again, off by {np.median(off):.0f} ms"
          f" (median); within 20, 40, 100 ms: {told}")  # fmt: skip


if __name__ == "__main__":
    main()

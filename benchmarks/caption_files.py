"""Reading and writing captions: time and memory, against pysubs2, up to a million cues; and checks.

    .venv/bin/python -m benchmarks.caption_files

Every reading is done in a process of its own, whose largest memory is told. ``strict`` also gives
the WebVTT that we write to the W3C's own strict parser (the npm package ``webvtt-parser``, fetched
into ``benchmarks/.made``).
"""

from __future__ import annotations

import resource
import subprocess
import sys
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from tamarind.captions.limits import ORDINARY
from tamarind.captions.lines import with_breaks
from tamarind.checks.check import CheckContext
from tamarind.checks.checker import Checker
from tamarind.formats import documents
from tamarind.formats.captionfile import decoded
from tamarind.formats.captions import srt, vtt
from tamarind.formats.format import Details, Origin
from tamarind.job.store import JobStore
from tamarind.language.stylebook import SHIPPED
from tamarind.transcript import edits
from tamarind.transcript.model import Cue, Transcript, Word

HERE = Path(__file__).parent
MADE = HERE / ".made"
SIZES = (10_000, 100_000, 1_000_000)
WORDS = "The water behind the dam is deep and cold today and nobody walks there".split()

_STRICT = """
import pkg from "webvtt-parser";
import fs from "fs";
const found = new pkg.WebVTTParser().parse(fs.readFileSync(process.argv[2], "utf8"), "subtitles");
console.log(found.cues.length + " cues, " + found.errors.length + " errors");
for (const e of found.errors.slice(0, 5)) console.log("line " + e.line + ": " + e.message);
"""


def main() -> None:
    """Print the figures."""
    if len(sys.argv) > 2:
        alone(sys.argv[1], Path(sys.argv[2]))
        return
    MADE.mkdir(exist_ok=True)
    for size in SIZES:
        path = MADE / f"{size}.srt"
        if not path.exists():
            made(path, size)
        for way in ("ours", "pysubs2"):
            print(
                f"{size:>9} cues ({path.stat().st_size / 1e6:.0f} MB), {way:8}", end=" ", flush=True
            )
            subprocess.run([sys.executable, "-m", "benchmarks.caption_files", way, str(path)])
    writing()
    checking()
    strict()


def made(path: Path, size: int) -> None:
    """Make a file of so many cues of six words."""
    with path.open("w") as out:
        for number in range(size):
            start = number * 2_500
            text = " ".join(WORDS[(number + at) % len(WORDS)] for at in range(6))
            out.write(f"{number + 1}\n{stamp(start)} --> {stamp(start + 2_300)}\n{text}\n\n")


def stamp(time: int) -> str:
    seconds, ms = divmod(time, 1000)
    return f"{seconds // 3600:02}:{seconds // 60 % 60:02}:{seconds % 60:02},{ms:03}"


def alone(way: str, path: Path) -> None:
    """Read a file and print time and memory."""
    began = time.perf_counter()
    if way == "ours":
        count = len(srt.read(decoded(path.read_bytes()), "en").cues)
    else:
        import pysubs2

        count = len(pysubs2.load(str(path)))
    seconds = time.perf_counter() - began
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"{count} read in {seconds:.2f} s, at most {peak:.0f} MB")


def writing() -> None:
    """Write 10 000 cues in every format."""
    text = with_breaks(spoken(10_000), ORDINARY)
    source = Origin("long.wav", text.cues[-1].end)
    for suffix in documents.WRITTEN:
        print(
            f"10 000 cues written as {suffix}: "
            f"{1000 * best(lambda suffix=suffix: documents.write(suffix, text, source)):.0f} ms"
        )


def checking() -> None:
    """Run all checks over 10 000 cues, with a first and a second grammar check, and after one
    edit."""
    text = spoken(10_000)
    context = CheckContext(SHIPPED["ordinary"])
    checker = Checker()
    for what in ("for the first time", "again"):
        began = time.perf_counter()
        told = checker.check(text, context)
        print(
            f"10 000 cues checked {what}: {time.perf_counter() - began:.2f} s, {len(told)} findings"
        )
    changed = edits.set_text(text, 5_000, "We dug the the drains.")
    began = time.perf_counter()
    checker.check(changed, context)
    print(f"after an edit: {1000 * (time.perf_counter() - began):.0f} ms")


def spoken(size: int) -> Transcript:
    """Return the demo's sentences repeated, each cue with its own words."""
    store = JobStore(HERE.parent / "demo" / "Peatland voices.tamarind")
    cues = [c for r in store.recordings() for c in store.document(r.id).transcript.cues]
    store.close()
    result: list[Cue] = []
    at = 0
    while len(result) < size:
        cue = cues[len(result) % len(cues)]
        shift = at - cue.start
        words = tuple(Word(w.text, w.start + shift, w.end + shift, w.confidence) for w in cue.words)
        result.append(replace(cue, id=len(result) + 1, start=at, end=cue.end + shift, words=words))
        at = result[-1].end + 200
    return Transcript("en", tuple(result))


def best(do: Callable[[], object]) -> float:
    """Return the shortest of three runs, in seconds."""
    times = []
    for _ in range(3):
        began = time.perf_counter()
        do()
        times.append(time.perf_counter() - began)
    return min(times)


def strict() -> None:
    """Print what the W3C's own parser says of our files."""
    folder = MADE / "strict"
    if not (folder / "node_modules").is_dir():
        folder.mkdir(parents=True, exist_ok=True)
        subprocess.run(["npm", "install", "--silent", "--prefix", str(folder), "webvtt-parser"])
    (folder / "strict.mjs").write_text(_STRICT)
    text = with_breaks(spoken(400), ORDINARY)
    cues = (replace(text.cues[0], placement="line:0 align:start"), *text.cues[1:])
    text = replace(text, cues=cues, preamble="STYLE\n::cue { color: teal }")
    for name, options in (
        ("plain", Details()),
        ("with times of words", Details(word_times=True)),
    ):
        path = folder / "ours.vtt"
        path.write_text(vtt.write(text, options))
        print(f"strict parser, {name}:", end=" ", flush=True)
        subprocess.run(["node", "strict.mjs", "ours.vtt"], cwd=folder)


if __name__ == "__main__":
    main()

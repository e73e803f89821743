"""Caption files of chance: each is read as far as sense allows or refused in one sentence, in a
moment; what is read keeps within the bounds of any text and can be written in every format.

As a module it tries the files that it is given by path; see ``apart``.
"""

from __future__ import annotations

import copy
import json
import random
import tempfile
from collections.abc import Sequence
from itertools import pairwise
from pathlib import Path
from typing import Any

from attacks.apart import answer_all, run_apart
from attacks.verdicts import Verdict
from tamarind.formats.format import Origin

PATIENCE_S = 30
AT_ONCE = 20
"""Files in one trial."""

WORDS = (
    "peat, Drain a 1962 – sphagnum’s «moor» 沼 مستنقع café <i>dry</i> {\\an8} & &amp; --> [x]"
).split()
PIECES = (
    b"-->", b"<", b">", b"&#xD800;", b"&#0;", b"&lt;", b"{\\an8}", b"\0", b"\xff\xfe", b"\x1b[2J",
    b"99:99:99,999", b"999999999:00:00.000", b"-1:00:00,000", b"WEBVTT\n\n", b"NOTE\n", b"STYLE\n",
    b"<v ", b"<lang ", b"<00:00:01.000>", b"</", b"\r", b"\n\n", b"1" * 5000, b"w" * 30_000,
    b"NaN", b"Infinity", b"1e999", b"-1e9", b"\\ud800", b"null", b"[" * 3000, b"{", b"]", b'"',
    b"<!DOCTYPE x [<!ENTITY a 'b'>]>", b'begin="99999999999h"', b'begin="-1s"', b"xml:lang=''",
    b"\xef\xbb\xbf", b"\xe2\x80\xae", "＝".encode(), b"<p>", b"<tt", b"Dialogue:", b"[Events]",
)  # fmt: skip
JSON_ODD: tuple[Any, ...] = (
    None, True, -1, 0, 1e308, float("nan"), float("inf"), 10**400, "", "x", "\ud800", [], {}, [[]],
    {"a": 1}, "1" * 5000, "line:0\n\n00:01 --> 00:02\nowned", "9" * 30, [None], -0.0, "1.5",
)  # fmt: skip


def attack(seed: int, count: int) -> Verdict:
    """So many files."""
    verdict = Verdict("fuzzed caption files", "a caption file is read as far as sense allows")
    chance = random.Random(seed)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        trials: list[list[str]] = []
        for number in range(count):
            suffix = chance.choice(("srt", "vtt", "ttml", "ass", "json", "txt"))
            path = folder / f"{number}.{suffix}"
            path.write_bytes(_file(suffix, chance))
            if number % AT_ONCE == 0:
                trials.append([])
            trials[-1].append(str(path))
        for trial, how, words in run_apart(__name__, trials, PATIENCE_S * 2):
            names = [Path(path) for path in trial]
            if how == "held":
                for outcome in words.split("|"):
                    verdict.held(outcome)
                continue
            kept = Path(tempfile.gettempdir()) / f"attack-captions-{seed}"
            kept.mkdir(exist_ok=True)
            for path in names:
                (kept / path.name).write_bytes(path.read_bytes())
            verdict.failed(f"{names[0].name} to {names[-1].name} in {kept}: {how}: {words}")
    return verdict


def _file(suffix: str, chance: random.Random) -> bytes:
    data = _sound(suffix, chance)
    if suffix == "json" and chance.random() < 0.7:
        return _odd_json(data, chance)
    changed = bytearray(data)
    for _ in range(chance.choice((0, 1, 1, 2, 5, 30))):
        at = chance.randrange(len(changed) + 1)
        act = chance.random()
        if act < 0.35:
            changed[at:at] = chance.choice(PIECES)
        elif act < 0.55:
            del changed[at : at + chance.choice((1, 5, 200))]
        elif act < 0.75 and changed:
            changed[min(at, len(changed) - 1)] = chance.randrange(256)
        elif act < 0.9:
            other = chance.randrange(len(changed) + 1)
            changed[at:at] = changed[other : other + chance.choice((10, 300))]
        else:
            del changed[at:]
    if chance.random() < 0.1:
        return changed.decode("utf-8", "replace").encode(
            chance.choice(("utf-16", "utf-16-be", "cp1252", "koi8-r", "shift-jis")), "replace"
        )
    return bytes(changed)


def _sound(suffix: str, chance: random.Random) -> bytes:
    """A file as it should be."""
    from tamarind.formats import documents
    from tamarind.transcript.model import Cue, Speaker, Transcript, Word

    cues = []
    at = chance.randrange(5_000)
    for number in range(1, chance.randrange(2, 9)):
        texts = chance.choices(WORDS, k=chance.randrange(1, 9))
        words = tuple(Word(t, at + 200 * n, at + 200 * n + 180) for n, t in enumerate(texts))
        cues.append(
            Cue(number, at, words[-1].end, words, chance.choice((None, 1, 2)), breaks=(),
                note=chance.choice(("", "a note")), placement=chance.choice(("", "line:0")))
        )  # fmt: skip
        at = words[-1].end + chance.randrange(3_000)
    text = Transcript("en", tuple(cues), (Speaker(1, "Ann"), Speaker(2, "B. Moss")))
    if suffix == "ass":
        lines = [
            "[Script Info]", "ScriptType: v4.00+", "[V4+ Styles]", "[Events]",
            "Format: Layer, Start, End, Style, Name, MarginL, MarginR, MarginV, Effect, Text",
            *(f"Dialogue: 0,0:00:{c.start // 1000 % 60:02}.00,0:00:{c.end // 1000 % 60:02}.50,"
              f"Default,Ann,0,0,0,,{{\\i1}}{c.text}" for c in cues),
        ]  # fmt: skip
        return "\n".join(lines).encode()
    return documents.write(suffix, text, Origin("talk.wav", at))


def _odd_json(data: bytes, chance: random.Random) -> bytes:
    """One or more values are of another kind."""
    whole = json.loads(data)
    for _ in range(chance.choice((1, 1, 2, 4))):
        holder: Any = whole
        while True:
            keys = list(holder) if isinstance(holder, dict) else list(range(len(holder)))
            if not keys:
                break
            key = chance.choice(keys)
            inner = holder[key]
            if isinstance(inner, dict | list) and inner and chance.random() < 0.8:
                holder = inner
                continue
            holder[key] = copy.deepcopy(chance.choice(JSON_ODD))
            break
    return json.dumps(whole).encode()


def try_some(paths: Any) -> tuple[bool, str]:
    """Read files, hold what was read to the bounds, and write it in every format."""
    outcomes = []
    for name in paths:
        held, words = _try_one(Path(name))
        if not held:
            return False, f"{Path(name).name}: {words}"
        outcomes.append(words)
    return True, "|".join(outcomes)


def _try_one(path: Path) -> tuple[bool, str]:
    from tamarind.captions.limits import ORDINARY
    from tamarind.captions.lines import with_breaks
    from tamarind.formats import documents
    from tamarind.formats.captionfile import FormatError

    try:
        read = documents.read(path, "en")
    except FormatError as error:
        fine = "\n" not in str(error) and len(str(error)) < 600
        return fine, "refused" if fine else str(error)[:300]
    problem = _problem_in(read.transcript)
    if problem:
        return False, problem
    laid = with_breaks(read.transcript, ORDINARY)
    for suffix in documents.WRITTEN:
        data = documents.write(suffix, laid, read.source)
        if suffix in ("vtt", "srt", "json", "ttml") and any(cue.words for cue in laid.cues):
            again = path.with_name(f"{path.stem}-again.{suffix}")
            again.write_bytes(data)
            back = documents.read(again, "en").transcript
            if suffix == "vtt" and _said(back.cues) != _said(laid.cues):
                return False, f"as .{suffix} it says something else"
    return True, "mended" if read.repairs else "read"


def _said(cues: Sequence[Any]) -> list[str]:
    return [" ".join(w.text for w in cue.words) for cue in cues if cue.words]


def _problem_in(text: Any) -> str:
    from tamarind.transcript.bounds import LATEST, LONGEST_WORD, is_clean, is_placement

    last = 0
    for cue in text.cues:
        if not 0 <= cue.start < cue.end <= LATEST + len(cue.words):
            return f"times of a cue: {cue.start} {cue.end}"
        if cue.start < last:
            return "cues out of order"
        last = cue.start
        if not is_placement(cue.placement):
            return f"a place that is none: {cue.placement[:60]!r}"
        for word in cue.words:
            if not is_clean(word.text) or not 0 < len(word.text) <= LONGEST_WORD:
                return f"a word that is none: {word.text[:40]!r}"
            if word.confidence is not None and not 0 <= word.confidence <= 1:
                return f"a certainty of {word.confidence}"
        for one, other in pairwise(cue.words):
            if one.start > other.start or one.end <= one.start:
                return "words out of order"
    return ""


if __name__ == "__main__":
    answer_all(try_some)

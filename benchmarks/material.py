"""All recordings with known texts that the benchmarks use."""

from __future__ import annotations

import re
import sys
from dataclasses import dataclass
from pathlib import Path

HERE = Path(__file__).parent
sys.path[:0] = [str(HERE.parent), str(HERE.parent / "demo")]

from tests.speech.spoken import BECKETT, TWO_CITIES  # noqa: E402
from tests.support import human_recording  # noqa: E402

from evaluation_set import TrueWord, evaluation_set  # noqa: E402
from make_media import read_script  # noqa: E402

READ_ALOUD = Path("/usr/share/pocketsphinx/test/data/librivox")
"""Debian's pocketsphinx-testdata: five sentences of a public-domain reading, if installed."""

DEMO = {
    "Warden interview.m4a": "warden-interview",
    "Water table lecture.mp4": "water-table-lecture",
    "Site memo, north drain.ogg": "north-drain-memo",
    "Volunteers round table.wav": "volunteers-round-table",
}


@dataclass(frozen=True, slots=True)
class Known:
    """A recording and what is said in it; ``words`` with times where they are known."""

    name: str
    condition: str
    path: Path
    text: str
    words: tuple[TrueWord, ...] = ()
    turns: tuple[tuple[int, int, str], ...] = ()


def known_recordings() -> list[Known]:
    """Yield people first, then the demo, then the synthesised set."""
    known = [
        Known("two_cities", "people", human_recording("two_cities.wav"), TWO_CITIES),
        Known("beckett", "people", human_recording("beckett.wav"), BECKETT),
    ]
    if READ_ALOUD.is_dir():
        for line in (READ_ALOUD / "transcription").read_text().splitlines():
            found = re.match(r"<s> (.*) </s> \((.*)\)", line)
            if found:
                path = READ_ALOUD / f"{found[2]}.wav"
                known.append(Known(f"reading {found[2][-4:]}", "people", path, found[1]))
    for name, script in DEMO.items():
        text = " ".join(turn.text for turn in read_script(script))
        known.append(Known(name, "demo", HERE.parent / "demo" / "media" / name, text))
    known += [
        Known(m.name, m.condition, m.path, m.text, m.words, m.turns) for m in evaluation_set()
    ]
    return known

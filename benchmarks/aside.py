"""Scripts matched with their sound, and marks and capitals for texts that have none.

    .venv/bin/python benchmarks/aside.py [recordings]

*Scripts*: a tenth of the words of a text with known word times is changed, left out or put in, and
the script is matched with the sound; how far the starts of the words that are said are off, and
how many of those that are not said become doubts. The curve from fit to confidence in
``speech/script.py`` was chosen by this. *Marks*: the true text without marks and capitals, in cues;
how many sentence ends, commas and capitals come back, and how many of those proposed are right.
"""

from __future__ import annotations

import random
import sys
from collections.abc import Sequence

import numpy as np

from evaluation_set import evaluation_set
from material import known_recordings
from tamarind.audio import soundcache
from tamarind.batch import transcribing
from tamarind.batch.messages import HearOnDemand
from tamarind.captions.layout import lay_out
from tamarind.captions.limits import ORDINARY
from tamarind.language import marks
from tamarind.language.grammar import Grammar
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.script import timed_script
from tamarind.transcript.model import Transcript, Word

OTHERS = "sphagnum barometer yesterday nothing however purple wheelbarrow".split()


def main() -> None:
    """Print both measurements."""
    most = int(sys.argv[1]) if len(sys.argv) > 1 else 4
    scripts([made for made in evaluation_set() if made.condition == "clean"][:most])
    known = [k for k in known_recordings() if k.condition in ("people", "demo")]
    dressing(known)


def heard(path: object) -> tuple[Word, ...]:
    *_, last = transcribing.hear_on_demand(
        HearOnDemand(1, path, HearingOptions()), transcribing.tools
    )
    return last.words


def scripts(recordings: Sequence[object]) -> None:
    off: list[int] = []
    doubted: list[bool] = []
    sure: list[bool] = []
    for number, made in enumerate(recordings):
        rng = random.Random(number)
        script: list[str] = []
        true: list[int | None] = []
        for word in made.words:
            chance = rng.random()
            if chance < 0.03:
                continue
            if chance < 0.06:
                script.append(rng.choice(OTHERS))
                true.append(None)
            if 0.06 <= chance < 0.10:
                script.append(rng.choice(OTHERS))
                true.append(None)
                continue
            script.append(word.text)
            true.append(word.start)
        sound = soundcache.fetch(made.path).samples()
        found = timed_script(script, heard(made.path), sound, transcribing.tools().aligner)
        for word, start, (before, after) in zip(
            found, true, zip([0, *true], [*true[1:], 0], strict=False), strict=False
        ):
            if start is None:
                doubted.append(word.is_doubt())
            else:
                off.append(abs(word.start - start))
                if before is not None and after is not None:
                    sure.append(not word.is_doubt())
    print(
        f"scripts, {len(off)} words said: starts off by {np.median(off):.0f} ms (median),"
        f" {np.percentile(off, 95):.0f} ms (95 %); of {len(doubted)} words that nobody says"
        f" {100 * np.mean(doubted):.0f} % are doubts, of those said"
        f" {100 * (1 - np.mean(sure)):.1f} %"
    )


def dressing(known: Sequence[object]) -> None:
    capitals = Grammar("GB").capitals
    counts = {way: np.zeros((3, 3), int) for way in ("from the sound", "from pauses")}
    for one in known:
        words = heard(one.path)
        tokens = one.text.split()
        sound = soundcache.fetch(one.path).samples()
        timed = timed_script(tokens, words, sound, transcribing.tools().aligner)
        cues = lay_out(timed, ORDINARY)
        bare = Transcript("en", tuple(_stripped(cue) for cue in cues))
        ways = {
            "from the sound": marks.from_hearing(bare, words),
            "from pauses": marks.from_pauses(bare, (), capitals),
        }
        for way, proposals in ways.items():
            new = [w.text for cue in marks.taken(bare, proposals).cues for w in cue.words]
            for row, has in enumerate((_ends, _pauses, _capital)):
                for mine, right in zip(new, tokens, strict=True):
                    counts[way][row] += (has(mine) and has(right), has(mine), has(right))
    for way, table in counts.items():
        said = [
            f"{what}: {right} of {there} found, {right} of {made} right"
            for what, (right, made, there) in zip(
                ("sentence ends", "commas", "capitals"), table, strict=True
            )
        ]
        print(f"marks {way}: " + "; ".join(said))


def _stripped(cue: object) -> object:
    from dataclasses import replace

    words = tuple(replace(w, text=w.text.strip(".,;:?!\"'“”").lower() or w.text) for w in cue.words)
    return replace(cue, words=words)


def _ends(text: str) -> bool:
    return text.rstrip("\"'”").endswith((".", "?", "!"))


def _pauses(text: str) -> bool:
    return text.rstrip("\"'”").endswith((",", ";", ":"))


def _capital(text: str) -> bool:
    return text.lstrip("\"'“")[:1].isupper()


if __name__ == "__main__":
    main()

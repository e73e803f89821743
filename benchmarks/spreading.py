"""Measure how well translated sentences are cut into cues, on a hundred that were cut by hand.

    .venv/bin/python benchmarks/spreading.py [FILE]

FILE has a sentence and its translation on two lines each, with "|" where a cue ends; its name tells
the languages (``en-pt.txt``). A good translation is spread over the cues of its source and compared
with the borders that a person has set; then the engines translate by sentence and by cue, and both
are held against the good translation of each cue (chrF, Popović 2015, by its usual library).
"""

from __future__ import annotations

import sys
from pathlib import Path

HERE = Path(__file__).parent
sys.path[:0] = [str(HERE.parent / "src")]

from sacrebleu.metrics import CHRF  # noqa: E402

from tamarind.transcript.tokens import joined, tokens_of  # noqa: E402
from tamarind.translation.engines.catalogue import router  # noqa: E402
from tamarind.translation.spreading import spread_text  # noqa: E402


def main(file: Path) -> None:
    """Print the figures."""
    source, target = file.stem.split("-")
    lines = [
        [part.strip() for part in line.split("|")]
        for line in file.read_text("utf-8").splitlines()
        if line and not line.startswith("#")
    ]
    pairs = list(zip(lines[::2], lines[1::2], strict=True))
    route = router().route(source, target)
    print(f"{len(pairs)} sentences, {source} to {target}, {route.described}")
    alone = router().translate(route, [part for said, _ in pairs for part in said])
    hints, at = [], 0
    for said, _ in pairs:
        hints.append(alone[at : at + len(said)])
        at += len(said)
    for name, given in (("with warnings", hints), ("without warnings", [None] * len(pairs))):
        offs = []
        for (said, good), hint in zip(pairs, given, strict=True):
            ours = spread_text(said, joined(good), target, hint)
            off = [abs(a - b) for a, b in zip(_borders(ours), _borders(good), strict=True)]
            offs += off
            if max(off) > 1 and "-v" in sys.argv:
                print("   ", " | ".join(ours), "\n   ", " | ".join(good))
        near = sum(off <= 1 for off in offs) / len(offs)
        exact = sum(off == 0 for off in offs) / len(offs)
        print(f"borders {name}: {exact:.1%} where a person put them, {near:.1%} at most a word off")
    whole = router().translate(route, [joined(said) for said, _ in pairs])
    by_sentence = [
        part
        for (said, _), text, hint in zip(pairs, whole, hints, strict=True)
        for part in spread_text(said, text, target, hint)
    ]
    references = [[part for _, good in pairs for part in good]]
    score = CHRF()
    cue = score.corpus_score(alone, references).score
    sentence = score.corpus_score(by_sentence, references).score
    print(f"chrF cue by cue {cue:.1f}, by sentence {sentence:.1f}: {sentence / cue:.3f} of it")


def _borders(parts: list[str]) -> list[int]:
    """Return the tokens of the whole before which the cuts are."""
    sizes = [len(tokens_of(part)) for part in parts]
    return [sum(sizes[:place]) for place in range(1, len(sizes))]


if __name__ == "__main__":
    named = [argument for argument in sys.argv[1:] if argument != "-v"]
    main(Path(named[0]) if named else HERE / "spreading" / "en-pt.txt")

"""Measure quality and speed of translations by every route.

    .venv/bin/python benchmarks/translation.py [FOLDER SOURCE TARGET]

FOLDER holds Debian's packages ``asterisk-core-sounds-SOURCE`` and ``-TARGET``, unpacked with
``dpkg-deb -x``: prompts that people have written in both languages; those of four words and more
count. Scores are chrF (Popović 2015) and BLEU (Papineni 2002) by their usual library. Without
arguments the hundred sentences in ``spreading/en-pt.txt`` are taken. At the end the same texts are
translated until they make ten thousand words, to tell the speed.
"""

from __future__ import annotations

import gzip
import re
import sys
import time
from itertools import cycle
from pathlib import Path

HERE = Path(__file__).parent
sys.path[:0] = [str(HERE.parent / "src")]

from sacrebleu.metrics import BLEU, CHRF  # noqa: E402

from tamarind.translation.engines.catalogue import router  # noqa: E402

FEWEST_WORDS, SPEED_WORDS = 4, 10_000
_SENTENCE_END = re.compile(r"(?<=[.?!])\s+")
_NOT_SPEECH = re.compile(r"[\[(<]")


def prompts(folder: Path, language: str) -> dict[str, str]:
    """Return the texts of a language's prompts by name."""
    (listed,) = folder.rglob(f"core-sounds-{language}.txt.gz")
    with gzip.open(listed, "rt", encoding="utf-8") as lines:
        return dict(m.groups() for line in lines if (m := re.match(r"([\w./-]+):\s*(.*)", line)))


def pairs_in(folder: Path, source: str, target: str) -> list[tuple[str, str]]:
    """Return the prompts that both have."""
    own, other = prompts(folder, source), prompts(folder, target)
    return [
        (" ".join(text.split()), " ".join(other[name].split()))
        for name, text in own.items()
        if name in other
        and len(text.split()) >= FEWEST_WORDS
        and other[name].strip()
        and not _NOT_SPEECH.search(text + other[name])
    ]


def own_pairs(file: Path) -> list[tuple[str, str]]:
    """Return the sentences that were made for spreading."""
    lines = [
        " ".join(line.replace("|", " ").split())
        for line in file.read_text("utf-8").splitlines()
        if line and not line.startswith("#")
    ]
    return list(zip(lines[::2], lines[1::2], strict=True))


def main(pairs: list[tuple[str, str]], source: str, target: str) -> None:
    """Print the figures."""
    over = router()
    sources, references = [pair[0] for pair in pairs], [[pair[1] for pair in pairs]]
    print(f"{len(pairs)} texts, {source} to {target}")
    sentences = [_SENTENCE_END.split(text) for text in sources]
    for route in over.routes(source, target):
        flat = iter(over.translate(route, [one for own in sentences for one in own]))
        said = [" ".join(next(flat) for _ in own) for own in sentences]
        chrf, bleu = CHRF().corpus_score(said, references), BLEU().corpus_score(said, references)
        print(f"{route.described}: chrF {chrf.score:.1f}, BLEU {bleu.score:.1f}")
    best = over.route(source, target)
    texts, words = [], 0
    for text in cycle(sources):
        texts.append(text)
        words += len(text.split())
        if words >= SPEED_WORDS:
            break
    begun = time.perf_counter()
    over.translate(best, texts)
    took = time.perf_counter() - begun
    print(f"{words} words in {took:.1f} s, {best.described}: {words / took:.0f} words a second")


if __name__ == "__main__":
    if len(sys.argv) == 4:
        named = Path(sys.argv[1]), sys.argv[2], sys.argv[3]
        main(pairs_in(*named), *named[1:])
    else:
        main(own_pairs(HERE / "spreading" / "en-pt.txt"), "en", "pt")

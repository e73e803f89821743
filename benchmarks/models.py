"""Models of the sizes that people fetch, with random weights: tokens, time and memory, beside the
library's engine on the same weights.

    .venv/bin/python benchmarks/models.py [tiny|base|small|medium|large|turbo ...] [--as KIND]

Each model is written afresh in a temporary folder, kept as KIND ("float16" as they are fetched,
"int8", "int8_float16"). In a process of its own each engine loads it, hears 30 s of noise and
writes the 24 likeliest tokens, one after the other. Printed are the seconds to load and to hear,
the peak of memory, how far the ear's numbers lie apart, the scores, and how many tokens are the
same: once with products of bytes, as here is usual, and once as the file has them.
"""

from __future__ import annotations

import argparse
import json
import resource
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from unittest import mock

import numpy as np

HERE = Path(__file__).parent
sys.path[:0] = [str(HERE.parent), str(HERE)]

from tests.speech.tinymodel import Size, make_model  # noqa: E402

SIZES = {
    "tiny": Size(4, 4, 384, 6, 80, 0.03),
    "base": Size(6, 6, 512, 8, 80, 0.03),
    "small": Size(12, 12, 768, 12, 80, 0.03),
    "medium": Size(24, 24, 1024, 16, 80, 0.025),
    "large": Size(32, 32, 1280, 20, 128, 0.02),
    "turbo": Size(32, 4, 1280, 20, 128, 0.02),
}
TOKENS = 24
WAYS = ("library", "ours", "ours, not rounded")


def hear(way: str, folder: Path, bands: int) -> dict[str, object]:
    """Load, transcribe and print in this process."""
    from tamarind.speech.hearingoptions import HearingOptions
    from tamarind.speech.recognisers import network
    from tamarind.speech.recognisers.multilingual.mel import log_mel
    from tamarind.speech.recognisers.multilingual.network import MultilingualNetwork
    from tamarind.speech.recognisers.multilingual.vocabulary import MultilingualVocabulary
    from tamarind.speech.search import search

    sound = np.random.default_rng(3).normal(0, 0.1, 480_000).astype(np.float32)
    began = time.perf_counter()
    if way == "library":
        import ctranslate2

        vocabulary = MultilingualVocabulary(folder)
        library = ctranslate2.models.Whisper(str(folder), compute_type="default")
        loaded = time.perf_counter()
        mel = np.ascontiguousarray(log_mel(sound, bands)[None, :, :3000], np.float32)
        hidden = library.encode(ctranslate2.StorageView.from_array(mel))
        (found,) = library.generate(
            hidden, [vocabulary.prompt("es")], beam_size=1, max_length=2 * TOKENS,
            length_penalty=0, return_scores=True, suppress_blank=False,
            suppress_tokens=vocabulary.barred,
        )  # fmt: skip
        tokens, score, ear = found.sequences_ids[0], found.scores[0], np.array(hidden)[0]
    else:
        rounds = way == "ours" and network.multiplies_bytes()
        with mock.patch.object(network, "multiplies_bytes", lambda: rounds):
            ours = MultilingualNetwork(folder)
            loaded = time.perf_counter()
            ear = ours.listen(sound)
            state = ours.begin([ear], 1, HearingOptions("es"))
            text = search(state, np.array([TOKENS]), 1, ours.first, ours.end)[0][0]
        tokens, score = list(text.tokens), float(sum(text.log_probabilities))
    ended = time.perf_counter()
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    np.save(folder / f"{way}.npy", ear.astype(np.float32))
    return {
        "tokens": list(tokens), "score": score, "load": loaded - began, "hear": ended - loaded,
        "mb": peak / 1024,
    }  # fmt: skip


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("sizes", nargs="*", default=["tiny", "base", "small"])
    parser.add_argument("--as", dest="kind", default="float16")
    parser.add_argument("--one", nargs=3, help=argparse.SUPPRESS)
    options = parser.parse_args()
    if options.one:
        way, folder, bands = options.one
        print(json.dumps(hear(way, Path(folder), int(bands))))
        return
    print("| model | file, MB | by | load, s | 30 s heard in, s | memory, MB | ear differs by |"
          " score | tokens |\n|---|---|---|---|---|---|---|---|---|")  # fmt: skip
    for name in options.sizes:
        with tempfile.TemporaryDirectory() as kept:
            folder = Path(kept) / "m"
            make_model(folder, seed=23, size=SIZES[name], kept_as=options.kind)
            size = (folder / "model.bin").stat().st_size / 1e6
            first: dict[str, object] | None = None
            for way in WAYS:
                done = subprocess.run(
                    [sys.executable, __file__, "--one", way, str(folder), str(SIZES[name].bands)],
                    capture_output=True, text=True, check=False,
                )  # fmt: skip
                if done.returncode:
                    print(f"| {name} | {size:.0f} | {way} | failed: {done.stderr[-300:]} |")
                    continue
                told = json.loads(done.stdout.strip().splitlines()[-1])
                first = first or told
                ears = [np.load(folder / f"{one}.npy") for one in ("library", way)]
                apart = float(np.abs(ears[0] - ears[1]).max())
                same = sum(a == b for a, b in zip(told["tokens"], first["tokens"], strict=False))
                print(f"| {name} | {size:.0f} | {way} | {told['load']:.1f} | {told['hear']:.1f} |"
                      f" {told['mb']:.0f} | {apart:.4f} | {told['score']:.3f} | {same} of"
                      f" {len(first['tokens'])} |", flush=True)  # fmt: skip


if __name__ == "__main__":
    main()

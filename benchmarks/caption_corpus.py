"""Read the sample captions of three libraries' own tests, and say where we read them otherwise.

The libraries and their source packages are fetched from the package registry into
``benchmarks/.made`` (they are not part of the project). Samples are the files in their tests and
the texts written out in their test modules. Every sample that the library itself can read is read
by both, and cues are compared by start, end and text. Differences are listed with what each has.

    .venv/bin/python -m benchmarks.caption_corpus [--all]
"""

from __future__ import annotations

import ast
import importlib
import io
import logging
import re
import subprocess
import sys
import tarfile
import textwrap
import warnings
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path

from tamarind.formats.captionfile import FormatError, decoded
from tamarind.formats.captions import srt, substation, ttml, vtt

MADE = Path(__file__).parent / ".made" / "corpus"
LIBRARIES = MADE.parent / "libraries"
PACKAGES = ("pysubs2==1.8.1", "webvtt-py==0.6.0", "pycaption==2.3.14")
READERS = {"srt": srt.read, "vtt": vtt.read, "ass": substation.read, "ttml": ttml.read}
NEAR_MS = 2

Cues = list[tuple[int, int, str]]


@dataclass(frozen=True)
class Sample:
    """A caption text from a library's tests, in the format that it looks like."""

    library: str
    where: str
    form: str
    text: str


def main() -> None:
    """Fetch, read, compare, print."""
    logging.disable(logging.CRITICAL)
    warnings.simplefilter("ignore")
    fetch()
    same = better = refused_by_both = 0
    different: list[str] = []
    for sample in samples():
        theirs = read_by_library(sample)
        ours = read_by_us(sample)
        if theirs is None and ours is None:
            refused_by_both += 1
        elif theirs is None:
            better += 1
        elif ours is not None and alike(theirs, ours):
            same += 1
        else:
            different.append(told(sample, theirs, ours))
    total = same + better + refused_by_both + len(different)
    print(
        f"{total} samples: {same} read alike, {better} read by us alone, "
        f"{refused_by_both} refused by both, {len(different)} read otherwise"
    )
    for line in different if "--all" in sys.argv else different[:12]:
        print(line)


def fetch() -> None:
    """Download the source packages and the libraries once."""
    MADE.mkdir(parents=True, exist_ok=True)
    pip = [sys.executable, "-m", "pip"]
    if len(list(MADE.glob("*.tar.gz"))) < len(PACKAGES):
        sources = ["download", "-q", "--no-deps", "--no-binary", ":all:", "-d", str(MADE)]
        subprocess.run([*pip, *sources, *PACKAGES], check=True)
    if not LIBRARIES.is_dir():
        libraries = ["install", "-q", "--target", str(LIBRARIES)]
        subprocess.run([*pip, *libraries, *PACKAGES], check=True)
    sys.path.append(str(LIBRARIES))
    for name in ("pysubs2", "webvtt", "pycaption"):
        importlib.import_module(name)
    for archive in MADE.glob("*.tar.gz"):
        if not (MADE / archive.name.removesuffix(".tar.gz")).is_dir():
            with tarfile.open(archive) as tar:
                tar.extractall(MADE, filter="data")


def samples() -> Iterator[Sample]:
    """Yield the files and literal texts of all packages' tests, each once."""
    seen: set[tuple[str, str]] = set()
    for folder in sorted(path for path in MADE.iterdir() if path.is_dir()):
        library = folder.name.rpartition("-")[0].replace("_", "-")
        for path in sorted((folder / "tests").rglob("*")):
            found: list[tuple[str, str]] = []
            if path.suffix == ".py":
                texts = strings_in(path)
                found = [(f"{path.name}:{line}", text) for line, text in texts]
            elif path.suffix in (".srt", ".vtt", ".ass", ".ssa", ".ttml", ".dfxp"):
                found = [(path.name, decoded(path.read_bytes()))]
            for where, text in found:
                form = form_of(text)
                if form and (form, text) not in seen:
                    seen.add((form, text))
                    yield Sample(library, where, form, text)


def strings_in(path: Path) -> Iterator[tuple[int, str]]:
    """Yield the string literals of some length in a module, without their indent."""
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and len(node.value) > 40:
            yield node.lineno, textwrap.dedent(node.value).lstrip("\n")


def form_of(text: str) -> str | None:
    """Guess the format of a text."""
    if re.search(r"<(?:\w+:)?tt[\s>]", text[:600]) and "<" in text[:5] + text[:60]:
        return "ttml"
    if "[Events]" in text and "Dialogue:" in text:
        return "ass"
    if text.lstrip("\ufeff").startswith("WEBVTT"):
        return "vtt"
    if re.search(r"^\d\d:\d\d:\d\d,\d+ ?-+> ?\d", text, re.MULTILINE):
        return "srt"
    return None


def read_by_library(sample: Sample) -> Cues | None:
    """Read with the sample's own library; None if it cannot."""
    readers: dict[str, Callable[[Sample], Cues]] = {
        "pysubs2": by_pysubs2, "webvtt-py": by_webvtt, "pycaption": by_pycaption,
    }  # fmt: skip
    try:
        cues = readers[sample.library](sample)
    except Exception:
        return None
    return [cue for cue in cues if cue[2]] or None


def by_pysubs2(sample: Sample) -> Cues:
    import pysubs2

    file = pysubs2.SSAFile.from_string(sample.text, format_=sample.form)
    return [(e.start, e.end, plain(e.plaintext)) for e in file if e.is_text]


def by_webvtt(sample: Sample) -> Cues:
    import webvtt

    if sample.form not in ("srt", "vtt"):
        raise ValueError
    file = webvtt.from_buffer(io.StringIO(sample.text), format=sample.form)
    return [
        (ms(c.start_in_seconds, c.start), ms(c.end_in_seconds, c.end), plain(c.text)) for c in file
    ]


def by_pycaption(sample: Sample) -> Cues:
    import pycaption

    kinds = {
        "srt": pycaption.SRTReader,
        "vtt": pycaption.WebVTTReader,
        "ttml": pycaption.DFXPReader,
    }
    found = kinds[sample.form]().read(sample.text)
    language = found.get_languages()[0]
    return [
        (c.start // 1000, c.end // 1000, plain(c.get_text())) for c in found.get_captions(language)
    ]


def ms(seconds: int, stamp: str) -> int:
    return seconds * 1000 + int(stamp.rpartition(".")[2][:3].ljust(3, "0"))


def read_by_us(sample: Sample) -> Cues | None:
    """Read with our own reader; None if it refuses."""
    try:
        text = READERS[sample.form](decoded(sample.text.encode()), "en")
    except FormatError:
        return None
    return [(cue.start, cue.end, plain(cue.text)) for cue in text.cues]


def plain(text: str) -> str:
    """Return a text without tags and with single spaces, for comparing."""
    return " ".join(re.sub(r"</?[a-z][^<>]*>", "", text).split())


def alike(theirs: Cues, ours: Cues) -> bool:
    """Whether both have the same cues, sorted by time."""
    pairs = list(zip(sorted(theirs), sorted(ours), strict=False))
    return len(theirs) == len(ours) and all(
        abs(a[0] - b[0]) <= NEAR_MS and abs(a[1] - b[1]) <= NEAR_MS and a[2] == b[2]
        for a, b in pairs
    )


def told(sample: Sample, theirs: Cues, ours: Cues | None) -> str:
    head = f"\n{sample.library} {sample.where} ({sample.form})"
    if ours is None:
        return f"{head}: refused by us; theirs {theirs[:2]}"
    lines = [f"{head}: {len(theirs)} cues theirs, {len(ours)} ours"]
    for a, b in zip(sorted(theirs), sorted(ours), strict=False):
        if a != b:
            lines += [f"   theirs {a}", f"   ours   {b}"]
            break
    return "\n".join(lines)


if __name__ == "__main__":
    main()

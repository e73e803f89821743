"""Measure a published page with three hours of text, in the system's Chromium.

    .venv/bin/python benchmarks/page.py

How long it takes until it is there and can be used, in windows of a desk and a phone; and, while it
plays, how far the word that is lit is from the word that is said.
"""

from __future__ import annotations

import shutil
import tempfile
import time
from pathlib import Path

import numpy as np
from playwright.sync_api import sync_playwright

from tamarind.formats.captions.vtt import write as webvtt
from tamarind.formats.playerpage.content import PageContent, PageText
from tamarind.formats.playerpage.markup import write
from tamarind.formats.reading.paragraphs import paragraphs
from tamarind.transcript.model import Cue, Speaker, Transcript, Word

CUES, WORDS_A_CUE = 4_000, 7
FLAGS = ["--no-sandbox", "--disable-gpu", "--autoplay-policy=no-user-gesture-required",
         "--mute-audio", "--disable-background-networking"]  # fmt: skip
SAMPLE = """() => new Promise((done) => {
  const media = document.getElementById("media");
  const seen = [];
  let last = "";
  const look = () => {
    const ranges = [...(CSS.highlights.get("said") || [])];
    const now = ranges.length ? ranges[0].startOffset + ":" + ranges[0].toString() : "";
    if (now !== last) seen.push([now, media.currentTime * 1000]);
    last = now;
    if (seen.length < 60) requestAnimationFrame(look); else done(seen);
  };
  media.currentTime = 5000;
  media.play().then(look);
})"""


def text() -> Transcript:
    """Return words of 380 ms, a cue every 2.7 s."""
    cues = []
    for number in range(CUES):
        start = number * 2_700
        words = tuple(
            Word(
                f"w{number % 97}{'abcdefg'[place]}", start + place * 380, start + (place + 1) * 380
            )
            for place in range(WORDS_A_CUE)
        )
        cues.append(Cue(number + 1, start, words[-1].end, words, number // 40 % 2 + 1,
                        number % 8 == 0))  # fmt: skip
    return Transcript("en", tuple(cues), (Speaker(1, "Ann"), Speaker(2, "Ben")))


def main() -> None:
    """Print both measurements."""
    chromium = shutil.which("chromium")
    if chromium is None:
        print("no Chromium is installed here")
        return
    made = text()
    spoken = PageText("en", "English", made, paragraphs(made), webvtt(made))
    begun = time.monotonic()
    folder = Path(tempfile.mkdtemp())
    page_file = folder / "index.html"
    page_file.write_text(
        write(PageContent("Long", "media.wav", "audio/wav", False, [spoken])), encoding="utf-8"
    )
    took = time.monotonic() - begun
    print(f"{CUES * WORDS_A_CUE} words, page of {page_file.stat().st_size / 1e6:.1f} MB,"
          f" made in {took:.2f} s")  # fmt: skip
    _silence(folder / "media.wav", CUES * 2_700 // 1000)
    starts = {f"{word.text}": word.start for cue in made.cues[1_850:1_900] for word in cue.words}
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium, args=FLAGS)
        for name, size in (("desk", (1280, 800)), ("phone", (390, 800))):
            times = []
            for _ in range(5):
                page = browser.new_page(viewport={"width": size[0], "height": size[1]})
                begun = time.monotonic()
                page.goto(page_file.as_uri(), wait_until="load")
                page.evaluate("document.querySelector('.tools').hidden")
                page.evaluate("() => new Promise((done) => requestAnimationFrame(done))")
                times.append(time.monotonic() - begun)
                page.close()
            print(f"{name}: there and usable in {np.median(times):.2f} s (median of 5,"
                  f" {min(times):.2f} to {max(times):.2f})")  # fmt: skip
        page = browser.new_page()
        page.goto(page_file.as_uri())
        page.wait_for_timeout(500)
        late = [at - starts[key.partition(":")[2]] for key, at in page.evaluate(SAMPLE)[2:]
                if key.partition(":")[2] in starts]  # fmt: skip
        print(f"word lit after it begins: median {np.median(late):.0f} ms, 95th of 100"
              f" {np.quantile(late, 0.95):.0f} ms, {len(late)} words")  # fmt: skip
        browser.close()


def _silence(path: Path, seconds: int) -> None:
    import wave

    with wave.open(str(path), "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(1)
        file.setframerate(8_000)
        file.writeframes(b"\x80" * 8_000 * seconds)


if __name__ == "__main__":
    main()

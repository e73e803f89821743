"""Measure a very long recording: memory of all processes while it is transcribed, and the speed.

    .venv/bin/python benchmarks/long.py [HOURS [QUIET]] [--quality thorough] [--speakers auto]

Strings the evaluation set together, over and over, with stretches of so many seconds (120) in which
nothing is said between, to a recording of so many hours (10), and hears it with the command. Every
second the memory of the command and all its children is added up: resident pages, shared ones
divided among those who share them (PSS), and of these the pages that are only mapped from a file.
"""

from __future__ import annotations

import os
import re
import subprocess
import sys
import tempfile
import time
import wave
from pathlib import Path

HERE = Path(__file__).parent
sys.path[:0] = [str(HERE.parent), str(HERE.parent / "demo")]

from evaluation_set import evaluation_set, nothing_said  # noqa: E402

RATE = 16_000


def write_recording(target: Path, hours: float, silent_s: int) -> float:
    """Write the recording; return how many hours of it are speech."""
    speech = [material.path for material in evaluation_set()]
    quiet = nothing_said()
    left = int(hours * 3600 * RATE)
    spoken = 0
    with wave.open(str(target), "wb") as out:
        out.setnchannels(1)
        out.setsampwidth(2)
        out.setframerate(RATE)
        place = 0
        while left > 0:
            for path, is_speech in ((speech[place % len(speech)], True),
                                    (quiet[place % len(quiet)], False)):  # fmt: skip
                with wave.open(str(path)) as file:
                    most = file.getnframes() if is_speech else silent_s * RATE
                    count = min(most, file.getnframes(), left)
                    out.writeframes(file.readframes(count))
                left -= count
                spoken += count * is_speech
            place += 1
    return spoken / RATE / 3600


def memory(root: int) -> tuple[float, float]:
    """Return the megabytes of a process and its descendants: all, and those mapped from files."""
    children: dict[int, list[int]] = {}
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            try:
                parent = int((entry / "stat").read_text().rsplit(")", 1)[1].split()[1])
            except OSError:
                continue
            children.setdefault(parent, []).append(int(entry.name))
    total = mapped = 0
    waiting = [root]
    while waiting:
        process = waiting.pop()
        waiting += children.get(process, [])
        try:
            sums = Path(f"/proc/{process}/smaps_rollup").read_text()
        except OSError:
            continue
        found = dict(re.findall(r"^(Pss|Pss_File):\s+(\d+)", sums, re.MULTILINE))
        total += int(found.get("Pss", 0))
        mapped += int(found.get("Pss_File", 0))
    return total / 1000, mapped / 1000


def main() -> None:
    """Make it, transcribe it, and print the peak of every tenth of the way."""
    numbers = [argument for argument in sys.argv[1:] if argument.replace(".", "").isdigit()]
    hours = float(numbers[0]) if numbers else 10.0
    silent_s = int(numbers[1]) if len(numbers) > 1 else 120
    options = [argument for argument in sys.argv[1:] if argument not in numbers]
    with tempfile.TemporaryDirectory() as folder:
        recording = Path(folder) / "long.wav"
        spoken = write_recording(recording, hours, silent_s)
        command = [str(Path(sys.executable).parent / "tamarind"), "transcribe", str(recording),
                   "-o", folder, *options]  # fmt: skip
        began = time.perf_counter()
        process = subprocess.Popen(
            command, env={**os.environ, "XDG_CACHE_HOME": folder}, stderr=subprocess.DEVNULL
        )
        seen: list[tuple[float, float, float]] = []
        while process.poll() is None:
            seen.append((time.perf_counter() - began, *memory(process.pid)))
            time.sleep(1)
        took = time.perf_counter() - began
    print(
        f"{hours:g} h, {spoken:.1f} h of it speech: {took:.0f} s,"
        f" {hours * 3600 / took:.0f}× real time, status {process.returncode}"
    )
    for tenth in range(10):
        part = [row for row in seen if tenth <= row[0] / took * 10 < tenth + 1] or seen[-1:]
        peak = max(part, key=lambda row: row[1])
        print(f"  up to {tenth + 1:2}/10 of the time: {peak[1]:5.0f} MB, {peak[2]:4.0f} mapped")


if __name__ == "__main__":
    main()

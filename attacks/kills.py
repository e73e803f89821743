"""Killed with -9 at any moment: what was on the screen is in the file, and workers go too."""

from __future__ import annotations

import os
import random
import re
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import zlib
from pathlib import Path

from attacks.verdicts import Verdict
from attacks.victim import mark_of

DEMO = Path(__file__).parent.parent / "demo"
HERE = Path(__file__).parent.parent
ACTS = ("editing", "translating", "exporting", "hearing")
GONE_S = 3.0
"""Workers may live for so long after the program."""


def attack(seed: int, count: int) -> list[Verdict]:
    """So many kills, shared out among what a person does."""
    chance = random.Random(seed)
    verdicts = {act: Verdict(f"killed while {act}", "nothing is lost") for act in ACTS}
    for number in range(count):
        # Hearing takes longest and is tried least.
        act = ("editing", "translating", "exporting", "editing", "hearing")[number % 5]
        _kill_one(verdicts[act], act, chance)
    return list(verdicts.values())


def _kill_one(verdict: Verdict, act: str, chance: random.Random) -> None:
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as name:
        folder = Path(name)
        job = folder / "job.tamarind"
        shutil.copy(DEMO / "Peatland voices.tamarind", job)
        (folder / "media").symlink_to(DEMO / "media")
        seed = chance.randrange(10**6)
        homes = {f"XDG_{kind}_HOME": f"{folder}/{kind}" for kind in
                 ("DATA", "CONFIG", "STATE")}  # fmt: skip
        homes["XDG_CACHE_HOME"] = str(_shared_cache())
        victim = subprocess.Popen(
            [sys.executable, "-m", "attacks.victim", act, str(job), str(seed)], cwd=HERE,
            stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True,
            env={**os.environ, **homes, "QT_QPA_PLATFORM": "offscreen"},
        )  # fmt: skip
        said = [victim.stdout.readline() for _ in range(3 if act == "hearing" else 10)]
        time.sleep(chance.uniform(0, 3.0 if act == "hearing" else 0.5))
        workers = children_of(victim.pid)
        victim.send_signal(signal.SIGKILL)
        said += victim.stdout.read().splitlines(keepends=True)
        victim.wait()
        victim.stdout.close()
        said = [line for line in said if line.endswith("\n")]
        if not said:
            verdict.failed(f"{act} {seed}: it did not begin")
            return
        check = {"hearing": _heard, "exporting": _exported}.get(act, _edited)
        problem = check(folder, said) or _left_over(workers)
        if problem:
            verdict.failed(f"{act} {seed}: {problem}")
        else:
            verdict.held("whole")


def _shared_cache() -> Path:
    """Decoded sound, made once for all of them."""
    folder = Path(tempfile.gettempdir()) / f"attack-cache-{os.getuid()}"
    folder.mkdir(mode=0o700, exist_ok=True)
    return folder


def _edited(folder: Path, said: list[str]) -> str:
    from tamarind.job.opening import open_job

    before_all = open_job(_copy_of_demo(folder))
    expected = {
        r.id: {mark_of(before_all.store.document(r.id))} for r in before_all.store.recordings()
    }
    before_all.store.close()
    for line in said:
        how, key, mark = line.split()
        if how == "did":
            expected[int(key)] = {mark}
        else:
            expected[int(key)].add(mark)
    opened = open_job(folder / "job.tamarind")
    try:
        if opened.told:
            return "the job is damaged"
        for key, marks in expected.items():
            if mark_of(opened.store.document(key)) not in marks:
                return f"recording {key} is not as it was on the screen"
    finally:
        opened.store.close()
    return ""


def _copy_of_demo(folder: Path) -> Path:
    path = folder / "before.tamarind"
    shutil.copy(DEMO / "Peatland voices.tamarind", path)
    return path


def _heard(folder: Path, said: list[str]) -> str:
    from tamarind.job.opening import open_job

    told = [line.split() for line in said if line.startswith("heard ")]
    opened = open_job(folder / "job.tamarind")
    try:
        if opened.told:
            return "the job is damaged"
        for _, key, count, mark in told[-1:]:
            cues = opened.store.document(int(key)).transcript.cues
            words = [w.text for cue in cues for w in cue.words]
            first = " ".join(words[: int(count)])
            if f"{zlib.crc32(first.encode()):08x}" != mark:
                return f"{count} words were on the screen, {len(words)} are in the file"
    finally:
        opened.store.close()
    return ""


def _exported(folder: Path, _said: list[str]) -> str:
    for path in (folder / "out").iterdir():
        if path.name.startswith("."):
            continue
        data = path.read_bytes()
        end = re.search(rb"END (\d+)$", data)
        if end is None or int(end[1]) != end.start():
            return f"{path.name} is half a file"
    return ""


def children_of(process: int) -> list[int]:
    """All processes that a process has started, and theirs."""
    parents: dict[int, list[int]] = {}
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            try:
                after_name = (entry / "stat").read_text().rpartition(")")[2].split()
            except (OSError, IndexError):
                continue
            parents.setdefault(int(after_name[1]), []).append(int(entry.name))
    found: list[int] = []
    waiting = [process]
    while waiting:
        children = parents.get(waiting.pop(), [])
        found += children
        waiting += children
    return found


def _left_over(workers: list[int]) -> str:
    """What of a killed program's processes is still there."""
    end = time.monotonic() + GONE_S
    while time.monotonic() < end:
        alive = [worker for worker in workers if _is_alive(worker)]
        if not alive:
            return ""
        time.sleep(0.02)
    return f"{len(alive)} of its processes live on"


def _is_alive(process: int) -> bool:
    try:
        return Path(f"/proc/{process}/stat").read_text().rpartition(")")[2].split()[0] != "Z"
    except (OSError, IndexError):
        return False

"""One job, two writers: whoever comes second is told who has it, by whatever way they reach it."""

from __future__ import annotations

import json
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from contextlib import closing
from pathlib import Path

from attacks.verdicts import Verdict

DEMO = Path(__file__).parent.parent / "demo"
HERE = Path(__file__).parent.parent
WAYS = ("same path", "hard link", "symbolic link", "cleaned cache", "another user", "copy",
        "another computer", "computer that is gone", "killed before", "same process")  # fmt: skip
MAY_OPEN = {"copy", "computer that is gone", "killed before"}

HOLD = """
import sys, time
from pathlib import Path
from tamarind.job.store import JobStore
store = JobStore(Path(sys.argv[1]))
store.set_setting("held", "yes")
print("held", flush=True)
sys.stdin.readline()
store.set_setting("still", "yes")
store.close()
print("closed", flush=True)
"""
OPEN = """
import os, sys
from pathlib import Path
from tamarind.job.jobfile import JobError
from tamarind.job.store import JobStore
import getpass, pwd
if sys.argv[2] == "another user":
    os.setgid(65534), os.setuid(65534)
try:
    store = JobStore(Path(sys.argv[1]))
except JobError as error:
    print("refused", error)
else:
    store.set_setting("second", "yes")
    store.close()
    print("opened")
"""


def attack(seed: int, count: int) -> Verdict:
    """So many double opens, by all ways in turn."""
    verdict = Verdict("double opens", "one job has one writer")
    chance = random.Random(seed)
    for number in range(count):
        way = WAYS[number % len(WAYS)]
        if way == "another user" and os.getuid() != 0:
            continue
        problem = _try(way, chance)
        if problem:
            verdict.failed(f"{way}: {problem}")
        else:
            verdict.held("opened alone" if way in MAY_OPEN else "told who has it")
    return verdict


def _try(way: str, chance: random.Random) -> str:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        folder.chmod(0o777)
        job = folder / "job.tamarind"
        shutil.copy(DEMO / "Peatland voices.tamarind", job)
        job.chmod(0o666)
        holder = _python(HOLD, folder / "one", job)
        if holder.stdout.readline() != "held\n":
            return "the first could not open it"
        other = job
        if way == "killed before":
            holder.kill()
            holder.wait()
        elif way in ("another computer", "computer that is gone"):
            holder.communicate("\n")
            _note_elsewhere(job, 20 if way == "another computer" else 3_600)
        elif way == "hard link":
            other = folder / "link.tamarind"
            other.hardlink_to(job)
        elif way == "symbolic link":
            other = folder / "link.tamarind"
            other.symlink_to(job)
        elif way == "copy":
            other = folder / "copy.tamarind"
            shutil.copy(job, other)
        elif way == "cleaned cache":
            shutil.rmtree(folder / "one" / "cache", ignore_errors=True)
        time.sleep(chance.uniform(0, 0.1))
        if way == "same process":
            answer = _in_one_process(folder / "new.tamarind")
        else:
            second = _python(OPEN, folder / "two", other, way)
            answer = second.communicate(timeout=60)[0]
        if holder.poll() is None:
            closed = holder.communicate("\n", timeout=60)[0]
            if "closed" not in closed:
                return "the first could not go on"
        opened = answer.strip() == "opened"
        if opened != (way in MAY_OPEN):
            return f"{answer.strip()[:300] or 'no answer'}"
        if not opened and "Traceback" in answer:
            return answer[-300:]
        return _is_whole(job)


def _python(program: str, home: Path, *arguments: object) -> subprocess.Popen[str]:
    home.mkdir(exist_ok=True)
    home.chmod(0o777)
    homes = {f"XDG_{kind}_HOME": str(home / kind.lower()) for kind in
             ("CACHE", "DATA", "CONFIG", "STATE")}  # fmt: skip
    return subprocess.Popen(
        [sys.executable, "-c", program, *map(str, arguments)], stdin=subprocess.PIPE,
        stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, cwd=HERE,
        env={**os.environ, **homes, "HOME": str(home)},
    )  # fmt: skip


def _note_elsewhere(job: Path, age: float) -> None:
    """As if another computer had written into a job on a shared folder some seconds ago."""
    import sqlite3

    from tamarind.job.jobfile import HOLDER

    at = time.time() - age
    note = {"host": "far-away", "user": "ann", "process": 4711, "begun": "1", "since": at - 60,
            "at": at, "file": job.stat().st_ino}  # fmt: skip
    with closing(sqlite3.connect(job)) as db:
        db.execute("REPLACE INTO setting VALUES (?, ?)", (HOLDER, json.dumps(note)))
        db.commit()


def _in_one_process(path: Path) -> str:
    from tamarind.job.jobfile import JobError
    from tamarind.job.store import JobStore

    first = JobStore(path)
    try:
        JobStore(path)
    except JobError as error:
        first.set_setting("still", "yes")
        return f"refused {error}"
    finally:
        first.close()
    return "opened"


def _is_whole(job: Path) -> str:
    from tamarind.job.jobfile import JobError
    from tamarind.job.store import JobStore

    try:
        JobStore(job).close()
    except JobError as error:
        return "" if "far-away" in str(error) else f"afterwards: {error}"
    return ""

"""Trials in a process of their own: one that crashes or hangs is seen, and the next goes on."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import threading
from collections.abc import Callable, Iterator, Mapping, Sequence
from pathlib import Path

HERE = Path(__file__).parent.parent
MOST_IN_ONE = 100
"""Trials of one process, so that what a library leaves behind does not add up."""


def run_apart(
    module: str,
    trials: Sequence[object],
    patience: float,
    environment: Mapping[str, str] | None = None,
) -> Iterator[tuple[object, str, str]]:
    """Give each trial to ``python -m module``, which answers a line of JSON [held, words] a trial;
    yields the trial, "held", "failed", "crashed" or "hung", and the words."""
    waiting = list(trials)
    while waiting:
        child = subprocess.Popen(
            [sys.executable, "-X", "faulthandler", "-m", module],
            stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
            cwd=HERE, env={**os.environ, **(environment or {})}, errors="replace",
        )  # fmt: skip
        said: list[str] = []
        listener = threading.Thread(target=_take, args=(child, said), daemon=True)
        listener.start()
        done = 0
        while waiting and done < MOST_IN_ONE:
            done += 1
            trial = waiting.pop(0)
            hung = threading.Timer(patience, child.kill)
            hung.start()
            try:
                child.stdin.write(json.dumps(trial) + "\n")
                child.stdin.flush()
                answer = child.stdout.readline()
            except BrokenPipeError:
                answer = ""
            late = not hung.is_alive()
            hung.cancel()
            if not answer.endswith("\n"):
                status = child.wait()
                listener.join(2)
                words = "".join(said)[-600:].replace("\n", " | ")
                if late:
                    yield trial, "hung", f"after {patience:g} s"
                else:
                    name = signal.Signals(-status).name if status < 0 else f"status {status}"
                    yield trial, "crashed", f"{name}: {words}"
                break
            held, words = json.loads(answer)
            yield trial, "held" if held else "failed", words
        for pipe in (child.stdin, child.stdout):
            pipe.close()
        # With nothing more to read, it ends by itself.
        try:
            child.wait(30)
        except subprocess.TimeoutExpired:
            child.kill()
            child.wait()
        child.stderr.close()


def _take(child: subprocess.Popen[str], said: list[str]) -> None:
    for line in child.stderr:
        said.append(line)
        del said[:-200]


def answer_all(try_one: Callable[[object], tuple[bool, str]]) -> None:
    """The other end: try what is given, a line each, until there is no more."""
    answers = os.fdopen(os.dup(1), "w")
    # What libraries say is not an answer.
    os.dup2(2, 1)
    for line in sys.stdin:
        try:
            held, words = try_one(json.loads(line))
        except Exception as error:
            import traceback

            last = traceback.extract_tb(error.__traceback__)[-1]
            where = f"{Path(last.filename).name}:{last.lineno}"
            held, words = False, f"traceback {type(error).__name__} at {where}: {error}"[:400]
        answers.write(json.dumps([held, words]) + "\n")
        answers.flush()

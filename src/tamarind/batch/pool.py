"""The pool of worker processes, with separate queues for urgent and long tasks.

Files are looked at in one line, decoded in a second, heard in a third by as many workers as help
here (``pace``), and passages heard again in a fourth. Workers are started afresh (spawned), so that
a crash in a codec or a model ends at most the work on one recording, with a reason. A task whose
worker died is tried again; hearing goes on from the last bookmark that was told.
"""

from __future__ import annotations

import signal
import threading
import time
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass, field, replace
from multiprocessing.connection import Connection
from pathlib import Path

from tamarind.audio.media import MediaError, open_recording
from tamarind.batch import worker
from tamarind.batch.messages import (
    Decode,
    Done,
    Event,
    Failed,
    FindShots,
    FindSpeech,
    FindStills,
    Hear,
    HearAgain,
    Heard,
    HearOnDemand,
    Prepare,
    Probe,
    Started,
    Task,
    TellSpeakers,
    VoicesSought,
)
from tamarind.batch.pace import Pace
from tamarind.batch.starting import Life, Start, spawned
from tamarind.batch.wire import MOST_BYTES, WireError, unpacked
from tamarind.speech.cores import cores
from tamarind.system.log import logger

TRIES = 3
TRIES_IF_KILLED = 12
"""How often a worker may die over a task without getting any further. One that was killed from
outside says nothing about the recording, unless it happens again and again for want of memory."""

IDLE_S = 60.0
"""A worker with nothing to do ends after so long and gives its memory back."""

NICE = {"look": 0, "sound": 5, "hear": 10, "again": 5}
"""What a person waits for goes before what runs by itself."""

WORKERS = {"look": 2, "sound": 1, "hear": 0, "again": 1}
"""Workers in each line; for hearing that is measured."""

LINES: dict[type, str] = {
    Probe: "look",
    Decode: "sound",
    Prepare: "sound",
    FindSpeech: "sound",
    FindShots: "sound",
    FindStills: "look",
    Hear: "hear",
    HearAgain: "again",
    HearOnDemand: "again",
    TellSpeakers: "again",
}


class WorkerPool:
    """Runs tasks in order; each queue runs beside the others.

    ``on_event`` is called from threads of its own, and must not wait. When a cancelling call has
    returned, no more events of what was cancelled will come.
    """

    def __init__(
        self,
        on_event: Callable[[Event], None],
        pace: Pace | None = None,
        start: Start | None = None,
    ) -> None:
        """``pace`` says how many recordings are transcribed in parallel, one if it is None.
        ``start`` starts a worker; None for a process of its own."""
        self._pace = pace or Pace(1)
        self._lines = {
            name: _Line(
                name,
                on_event,
                self._pace if name == "hear" else Pace.fixed(count),
                start or spawned,
            )
            for name, count in WORKERS.items()
        }

    def warm_up(self) -> None:
        """Start the worker that reads files, for which a person would wait."""
        self._lines["look"].warm_up()

    def add(self, *tasks: Task) -> None:
        """Append tasks to their queues."""
        for task in tasks:
            self._lines[LINES[type(task)]].add(task)

    def cancel_second_hearing(self, key: int) -> None:
        """Stop transcribing a passage again; no event follows."""
        self._lines["again"].cancel(key)

    def cancel(self, *keys: int) -> None:
        """Stop transcribing recordings, or remove them from the queue; no event follows."""
        self._lines["hear"].cancel(*keys)

    def forget(self, key: int) -> None:
        """Stop all work on a recording; no event follows."""
        for line in self._lines.values():
            line.cancel(key)

    def waiting(self) -> list[int]:
        """Return the recordings that wait, in order, without those being transcribed."""
        return self._lines["hear"].waiting()

    def active(self) -> list[int]:
        """Return the recordings being transcribed."""
        return self._lines["hear"].active()

    def set_order(self, keys: Sequence[int]) -> None:
        """Put the recordings that wait into this order."""
        self._lines["hear"].set_order(keys)

    def pause(self) -> None:
        """Stop transcribing for now; memory and processor are freed, and the place is kept."""
        self._lines["hear"].pause()

    def go_on(self) -> None:
        """Continue after a pause."""
        self._lines["hear"].go_on()

    def hearers(self) -> int:
        """Return how many recordings are transcribed in parallel now."""
        return self._pace.wanted

    def close(self) -> None:
        """End all work at once; what was transcribed so far has been told in events."""
        for line in self._lines.values():
            line.close()


@dataclass(eq=False)
class _Job:
    """A task with the number of times that its worker died, when it last told its progress, and
    whether the number of busy workers has been the same since."""

    task: Task
    tries: int = 0
    told: float = field(default_factory=time.monotonic)
    steady: bool = False


class _Line:
    """A queue of tasks with one or more seats, each a thread and a worker process."""

    def __init__(
        self, name: str, on_event: Callable[[Event], None], pace: Pace, start: Start
    ) -> None:
        self.name, self.start = name, start
        self.pace = pace
        self.on_event = on_event
        self.change = threading.Condition()
        self.jobs: list[_Job] = []
        self.closed = False
        self.paused = False
        self.is_eager = False
        self._slots: list[_Slot] = []
        self._idle: set[int] = set()

    def warm_up(self) -> None:
        with self.change:
            self.is_eager = True
            self._seat_all()

    def add(self, task: Task) -> None:
        with self.change:
            self.jobs.append(_Job(task))
            self._seat_all()
            self.change.notify_all()

    def cancel(self, *keys: int) -> None:
        with self.change:
            self.jobs = [job for job in self.jobs if job.task.key not in keys]
            for slot in self._slots:
                if slot.job is not None and slot.job.task.key in keys:
                    slot.stop()

    def waiting(self) -> list[int]:
        with self.change:
            return [job.task.key for job in self.jobs]

    def active(self) -> list[int]:
        with self.change:
            return [slot.job.task.key for slot in self._slots if slot.job is not None]

    def set_order(self, keys: Sequence[int]) -> None:
        place = {key: number for number, key in enumerate(keys)}
        with self.change:
            self.jobs.sort(key=lambda job: place.get(job.task.key, len(place)))

    def pause(self) -> None:
        with self.change:
            self.paused = True
            stopped = [slot.job for slot in self._slots if slot.job is not None]
            for slot in self._slots:
                slot.stop()
            self.jobs[:0] = [_Job(job.task) for job in stopped]

    def go_on(self) -> None:
        with self.change:
            self.paused = False
            self.change.notify_all()

    def close(self) -> None:
        with self.change:
            self.closed = True
            self.jobs.clear()
            for slot in self._slots:
                slot.stop()
            self.change.notify_all()
        for slot in self._slots:
            slot.join()

    def next_for(self, slot: _Slot) -> _Job | None:
        """Return the next job for a seat, waiting for one; None when the pool is closed."""
        with self.change:
            while True:
                if self.closed:
                    return None
                if self.jobs and not self.paused and slot.number < self.pace.wanted:
                    if slot.number in self._idle:
                        self._idle.remove(slot.number)
                        self._unsteady()
                    slot.job = self.jobs.pop(0)
                    return slot.job
                if slot.number not in self._idle:
                    self._idle.add(slot.number)
                    self._unsteady()
                if not self.change.wait(IDLE_S):
                    slot.rest()

    def tell(self, slot: _Slot, job: _Job, event: Event) -> bool:
        """Pass an event on; return False if the job was taken from the seat."""
        with self.change:
            if slot.job is not job:
                return False
            if isinstance(event, Done | Failed):
                slot.job = None
                slot.is_warm = True
            elif isinstance(event, Started):
                job.told, job.steady = time.monotonic(), slot.is_warm
                if job.tries:
                    return True
            elif isinstance(event, VoicesSought):
                job.told = time.monotonic()
            elif isinstance(event, Heard) and isinstance(job.task, Hear):
                self._measure(slot, job, event)
                job.task = replace(job.task, bookmark=event.bookmark)
                job.tries = 0
            self.on_event(event)
            return True

    def died(self, slot: _Slot, job: _Job, process: Life | None) -> None:
        """Try a job again whose worker died, unless that has happened too often."""
        cause, killed = _cause(process)
        with self.change:
            if self.closed or slot.job is not job:
                return
            slot.job = None
            job.tries += 1
            if job.tries < (TRIES_IF_KILLED if killed else TRIES):
                self.jobs.insert(0, job)
                self.change.notify_all()
            else:
                reason = f"The work on it stopped unexpectedly{cause}."
                self.on_event(Failed(job.task.key, type(job.task).__name__, reason))

    def _measure(self, slot: _Slot, job: _Job, event: Heard) -> None:
        now = time.monotonic()
        done = event.work.done - max(slot.done, event.work.begun)
        busy = [other for other in self._slots if other.number not in self._idle]
        if job.steady and done > 0 and all(other.cores == self.share() for other in busy):
            self.pace.note(len(busy), done, now - job.told)
            self._seat_all()
            self.change.notify_all()
        slot.done = event.work.done
        job.told, job.steady = now, True

    def share(self) -> int:
        """Return the number of cores for each worker."""
        return max(cores() // self.pace.wanted, 1)

    def _unsteady(self) -> None:
        """Discard running measurements, since the number of busy workers has changed."""
        for slot in self._slots:
            if slot.job is not None:
                slot.job.steady = False

    def _seat_all(self) -> None:
        while len(self._slots) < self.pace.wanted:
            self._slots.append(_Slot(self, len(self._slots)))


class _Slot:
    """A worker process, started when needed, and the thread that follows it."""

    def __init__(self, line: _Line, number: int) -> None:
        self.number = number
        self.job: _Job | None = None
        self.done = 0.0
        self.cores = 0
        self.is_warm = False
        self._readable: frozenset[Path] = frozenset()
        self._line = line
        self._process: Life | None = None
        self._pipe: Connection | None = None
        self._thread = threading.Thread(target=self._serve, daemon=True)
        self._thread.start()

    def stop(self) -> None:
        """End the worker and its task; call only with the queue's lock held."""
        self.job = None
        self.rest()

    def rest(self) -> None:
        """End the worker; another one is started when needed."""
        if self._process is not None:
            self._process.kill()
        self._process = self._pipe = None
        self.is_warm = False

    def join(self) -> None:
        if self._thread is not threading.current_thread():
            self._thread.join(5)

    def _serve(self) -> None:
        if self._line.is_eager:
            with suppress(OSError):
                self._worker_for(None)
        while (job := self._line.next_for(self)) is not None:
            self.done = 0.0
            try:
                found = self._worker_for(job)
            except OSError:  # no room for another process, or killed before it had begun
                self._died(job)
                continue
            if found is not None:
                self._follow(job, *found)

    def _follow(self, job: _Job, pipe: Connection, process: int) -> None:
        """Give the worker a task and pass its events on until it ends."""
        try:
            with open_recording(job.task.path) as file:
                worker.hand_over(pipe, job.task, file.fileno(), process)
        except MediaError as error:
            name = type(job.task).__name__
            self._line.tell(self, job, Failed(job.task.key, name, str(error)))
            return
        except OSError:
            self._died(job)
            return
        try:
            while True:
                event = unpacked(pipe.recv_bytes(MOST_BYTES))
                if event.key != job.task.key:
                    raise WireError("A worker spoke of another recording.")
                if not self._line.tell(self, job, event) or isinstance(event, Done | Failed):
                    return
        except WireError as error:
            # Whoever says such a thing is no worker of ours any more.
            self._give_up(job, str(error))
        except (EOFError, OSError):
            self._died(job)

    def _give_up(self, job: _Job, sentence: str) -> None:
        """End the worker, and fail the job without another try."""
        logger.warning("%s", sentence)
        with self._line.change:
            self.rest()
        name = type(job.task).__name__
        self._line.tell(self, job, Failed(job.task.key, name, f"{sentence} It was ended."))

    def _died(self, job: _Job) -> None:
        with self._line.change:
            process, self._process, self._pipe = self._process, None, None
            self.is_warm = False
        self._line.died(self, job, process)

    def _worker_for(self, job: _Job | None) -> tuple[Connection, int] | None:
        """Return the connection to a worker and its number; None if the job was taken away
        meanwhile.

        One that was started for another number of cores, or may not read the models that are
        wanted, is replaced. Starting takes a moment, in which nobody is kept waiting for the
        line's lock.
        """
        models = frozenset(_models_of(job.task)) if job is not None else frozenset()
        with self._line.change:
            wanted = self._line.share()
            if self.cores != wanted or not models <= self._readable:
                self.rest()
            process, pipe = self._process, self._pipe
            if process is not None and pipe is not None and process.is_alive():
                assert process.pid is not None
                return (pipe, process.pid) if self.job is job else None
        started = self._line.start(wanted, NICE[self._line.name], sorted(models))
        process, pipe = started.life, started.pipe
        with self._line.change:
            if self.job is not job:
                process.kill()
                return None
            self._process, self._pipe, self.cores = process, pipe, wanted
            self._readable = models
            assert process.pid is not None
            return pipe, process.pid


def _models_of(task: Task) -> list[Path]:
    """Return the folders of the models that a task names, with the real places of their files."""
    if not isinstance(task, Hear | HearAgain | HearOnDemand):
        return []
    folder = Path(task.how.recogniser).expanduser()
    try:
        return [folder.resolve(), *(path.resolve() for path in folder.iterdir())]
    except OSError:
        return []


def _cause(process: Life | None) -> tuple[str, bool]:
    """Return why a worker died, to be put into a sentence, and whether it was killed from
    outside."""
    if process is None:
        return "", False
    process.join(2)
    code = process.exitcode
    if code is None or code >= 0:
        return "", False
    if -code == signal.SIGKILL:
        return " (it was killed, perhaps for want of memory)", True
    return f" ({signal.Signals(-code).name}); it may be damaged", False

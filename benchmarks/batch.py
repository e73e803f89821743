"""Measure a batch: eighty mixed files in one drop, kills, and the estimate of time left.

    .venv/bin/python benchmarks/batch.py [drop] [side-by-side] [kills] [time-left] [many]

drop          eighty recordings in many formats, four of them broken, dropped on the real window and
              heard: how soon they are known, how the batch ends, and how long the window's event
              loop was ever held up
side-by-side  the same recordings heard by one worker with all cores, by two with half of them each,
              and by as many as the program chooses
kills         a worker, and then the whole program, killed with -9 at ten moments of chance: whether
              the result is that of an undisturbed hearing
time-left     a recording of hours beside short ones: the time left that is told after the first
              tenth, against the truth
many          200 recordings: what a scrolled frame costs
"""

from __future__ import annotations

import os
import queue
import random
import shutil
import signal
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

HERE = Path(__file__).parent
sys.path[:0] = [str(HERE.parent), str(HERE)]
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import av  # noqa: E402
import numpy as np  # noqa: E402

RATE = 16_000
FORMATS = (
    ("wav", "pcm_s16le", 16_000, 1), ("mp3", "mp3", 44_100, 2), ("m4a", "aac", 48_000, 1),
    ("ogg", "libopus", 48_000, 1), ("flac", "flac", 44_100, 1), ("mka", "libopus", 48_000, 2),
    ("mp4", "aac", 44_100, 2), ("wav", "pcm_mulaw", 8_000, 1),
)  # fmt: skip
BROKEN = 4
TICK_MS = 2


def speech() -> np.ndarray:
    """Return the human recordings of the recogniser's package, one after the other."""
    from tests.support import human_recording

    from tamarind.audio import soundcache

    names = ("two_cities.wav", "endgame_nagg_nell.wav", "beckett.wav")
    return np.concatenate([soundcache.fetch(human_recording(name)).samples() for name in names])


def write(path: Path, sound: np.ndarray, codec: str, rate: int, channels: int) -> None:
    """Write mono sound at 16 kHz in any codec."""
    layout = "mono" if channels == 1 else "stereo"
    with av.open(str(path), "w") as out:
        stream = out.add_stream(codec, rate=rate, layout=layout)
        resampler = av.AudioResampler(stream.format, layout, rate)
        for start in range(0, len(sound), RATE):
            block = np.ascontiguousarray(sound[None, start : start + RATE], np.float32)
            frame = av.AudioFrame.from_ndarray(block, "fltp", "mono")
            frame.sample_rate = RATE
            for piece in resampler.resample(frame):
                out.mux(stream.encode(piece))
        for piece in resampler.resample(None):
            out.mux(stream.encode(piece))
        out.mux(stream.encode(None))


def mixed_files(folder: Path, count: int = 80) -> list[Path]:
    """Recordings of 20 to 70 s; every twentieth is broken in another way."""
    whole = speech()
    chance = random.Random(7)
    folder.mkdir(parents=True, exist_ok=True)
    paths = []
    for number in range(count):
        suffix, codec, rate, channels = FORMATS[number % len(FORMATS)]
        path = folder / f"{number:02} recording.{suffix}"
        start = chance.randrange(0, len(whole) - 71 * RATE)
        sound = whole[start : start + chance.randrange(20, 70) * RATE]
        write(path, sound, codec, rate, channels)
        paths.append(path)
    broken = paths[9::20][:BROKEN]
    broken[0].write_bytes(b"")
    broken[1].write_bytes(b"this is a letter, not a sound " * 400)
    broken[2].write_bytes(broken[2].read_bytes()[:300])
    broken[3].unlink()
    write_silent_film(broken[3].with_suffix(".mp4"))
    return [path if path.is_file() else path.with_suffix(".mp4") for path in paths]


def write_silent_film(path: Path) -> None:
    """Write a video without any sound track."""
    with av.open(str(path), "w") as out:
        stream = out.add_stream("mpeg4", rate=10)
        stream.width, stream.height = 160, 120
        for _ in range(20):
            picture = np.zeros((120, 160, 3), np.uint8)
            out.mux(stream.encode(av.VideoFrame.from_ndarray(picture, "rgb24")))
        out.mux(stream.encode(None))


class Loop:
    """Measures how long the event loop was blocked, by gaps between ticks of a timer."""

    def __init__(self) -> None:
        from PySide6.QtCore import QTimer

        self.gaps: list[float] = []
        self._last = time.perf_counter()
        self._timer = QTimer(interval=TICK_MS)
        self._timer.timeout.connect(self._tick)
        self._timer.start()

    def _tick(self) -> None:
        now = time.perf_counter()
        self.gaps.append((now - self._last) * 1000)
        self._last = now

    def since(self) -> list[float]:
        """The gaps since this was asked last, in ms."""
        gaps, self.gaps = self.gaps, []
        return gaps


def window(job: Path):
    """Open the real window on a job."""
    from tamarind.desktop.app import make_application
    from tamarind.desktop.attention import KeptNotices
    from tamarind.desktop.qtloop import open_session
    from tamarind.desktop.window import make_window
    from tamarind.job.store import JobStore

    make_application()
    made = make_window(open_session(JobStore(job)), KeptNotices())
    made.resize(1280, 800)
    made.show()
    made.show_step("intake")
    return made


def run_until(until: Callable[[], object], seconds: float = 3000) -> float:
    """Run the event loop until a condition holds; return the seconds it took."""
    from PySide6.QtCore import QEventLoop, QTimer

    began = time.perf_counter()
    loop = QEventLoop()
    watch = QTimer(interval=20)
    watch.timeout.connect(
        lambda: loop.quit() if until() or time.perf_counter() - began > seconds else None
    )
    watch.start()
    loop.exec()
    watch.stop()
    return time.perf_counter() - began


def told(name: str, gaps: list[float]) -> None:
    """Return the longest gaps."""
    over = [gap for gap in gaps if gap > 50]
    worst = sorted(gaps)[-3:]
    print(f"  event loop, {name}: longest {', '.join(f'{g:.0f}' for g in reversed(worst))} ms;"
          f" {len(over)} of {len(gaps)} over 50 ms")  # fmt: skip


def drop(folder: Path) -> None:
    """Drop eighty files on the window."""
    from tamarind.job.recording import State

    paths = mixed_files(folder / "mixed")
    made = window(folder / "drop.tamarind")
    session = made.session
    run_until(lambda: False, 1)
    loop = Loop()
    run_until(lambda: False, 0.3)
    loop.since()
    began = time.perf_counter()
    made.intake.add(paths)
    first = time.perf_counter() - began

    def known() -> bool:
        return all(r.state is not State.ARRIVED for r in session.recordings.all())

    print(f"drop of {len(paths)} files: {first * 1000:.0f} ms in the window itself;"
          f" all known after {first + run_until(known):.2f} s;", end=" ")  # fmt: skip
    drawn = run_until(
        lambda: all(
            r.state is State.FAILED or session.sounds.has(r.id) for r in session.recordings.all()
        )
    )
    print(f"all waveforms after {drawn:.1f} s more")
    told("bringing in", loop.since())
    made.intake.transcribe()
    seconds = run_until(lambda: all(r.state is not State.QUEUED for r in session.recordings.all()))
    told("hearing", loop.since())
    states = [recording.state.value for recording in session.recordings.all()]
    length = sum(r.duration for r in session.recordings.all() if r.state is State.DRAFT) / 1000
    print(f"  heard in {seconds:.0f} s, {length / seconds:.0f}× real time: "
          + ", ".join(f"{states.count(s)} {s}" for s in sorted(set(states))))  # fmt: skip
    for recording in session.recordings.all():
        if recording.state is State.FAILED:
            print(f"    {recording.path.name}: {recording.problem}")
    print(f"  notice: {made.batch_end.notices.shown}")
    made.close()


def heard_by(paths: list[Path], pace) -> tuple[float, dict[int, list]]:
    """Return the seconds to transcribe all files with a pace, and the cues of each."""
    from tamarind.batch.messages import Done, Failed, Hear, Heard
    from tamarind.batch.pool import WorkerPool
    from tamarind.speech.hearingoptions import HearingOptions

    events: queue.SimpleQueue = queue.SimpleQueue()
    pool = WorkerPool(events.put, pace)
    began = time.perf_counter()
    pool.add(*(Hear(key, path, HearingOptions()) for key, path in enumerate(paths)))
    cues: dict[int, list] = {key: [] for key in range(len(paths))}
    left = len(paths)
    while left:
        event = events.get()
        if isinstance(event, Heard):
            cues[event.key] += event.cues
        left -= isinstance(event, Done | Failed)
    seconds = time.perf_counter() - began
    pool.close()
    return seconds, cues


def side_by_side(folder: Path) -> None:
    """Compare one worker, two, and the program's choice."""
    from tamarind.audio import soundcache
    from tamarind.batch.pace import Pace
    from tamarind.speech.cores import cores

    paths = [path for path in mixed_files(folder / "side") if path.is_file()][:40]
    length = 0.0
    for path in paths:
        try:
            length += soundcache.fetch(path).decoded.duration / 1000
        except Exception:
            continue
    print(f"{len(paths)} recordings, {length / 60:.0f} min, on {cores()} cores:")
    seconds = {}
    for name, pace in (
        ("one by one", Pace.fixed(1)),
        ("two side by side", Pace.fixed(2)),
        ("as many as help, first time", (choice := Pace(file=folder / "pace.json"))),
        ("as many as help, known", Pace(file=folder / "pace.json")),
    ):
        seconds[name], _ = heard_by(paths, pace)
        print(f"  {name}: {seconds[name]:.0f} s, {length / seconds[name]:.0f}× real time, "
              f"{seconds['one by one'] / seconds[name]:.2f} times one by one")  # fmt: skip
    rates = ", ".join(f"{n}: {rate:.0f}" for n, rate in choice.rates().items())
    print(f"  chosen: {Pace(file=folder / 'pace.json').wanted} (loud seconds a second: {rates})")


def kills(folder: Path) -> None:
    """Kill a worker ten times, then the program ten times."""
    from tests.support import write_wav

    from tamarind.batch.messages import Done, Failed, Hear, Heard
    from tamarind.batch.pace import Pace
    from tamarind.batch.pool import WorkerPool
    from tamarind.speech.hearingoptions import HearingOptions

    long = write_wav(folder / "long.wav", np.tile(speech(), 12))
    short = write_wav(folder / "short.wav", speech()[: 30 * RATE])
    paths = [long, short]
    _, truth = heard_by(paths, Pace.fixed(1))
    chance = random.Random(11)
    events: queue.SimpleQueue = queue.SimpleQueue()
    pool = WorkerPool(events.put, Pace.fixed(1))
    pool.add(*(Hear(key, path, HearingOptions()) for key, path in enumerate(paths)))
    cues: dict[int, list] = {0: [], 1: []}
    left, killed = len(paths), 0
    due = time.monotonic() + chance.uniform(2, 9)
    while left:
        try:
            event = events.get(timeout=0.1)
        except queue.Empty:
            event = None
        if isinstance(event, Heard):
            cues[event.key] += event.cues
        left -= isinstance(event, Done | Failed)
        if killed < 10 and time.monotonic() > due:
            process = pool._lines["hear"]._slots[0]._process
            if process is not None and process.is_alive():
                os.kill(process.pid, signal.SIGKILL)
                killed += 1
            due = time.monotonic() + chance.uniform(2, 9)
    pool.close()
    print(f"worker killed {killed} times: the result is "
          + ("the same" if cues == truth else "ANOTHER"))  # fmt: skip
    program_kills(folder, paths, truth, chance)


PROGRAM = """
import sys
from pathlib import Path
if __name__ == "__main__":
    sys.path[:0] = sys.argv[3:]
    import batch
    made = batch.window(Path(sys.argv[1]))
    session = made.session
    if not session.recordings.all():
        made.intake.add([Path(p) for p in sys.argv[2].split("|")])
    def look():
        ready = [r.id for r in session.recordings.all() if session.queue.can_hear(r)]
        if ready:
            session.queue.transcribe(ready)
        if all(r.state.value == "draft" for r in session.recordings.all()):
            made.close()
            app.quit()
    from PySide6.QtCore import QTimer
    from PySide6.QtWidgets import QApplication
    app = QApplication.instance()
    timer = QTimer(interval=50)
    timer.timeout.connect(look)
    timer.start()
    sys.exit(app.exec())
"""


def program_kills(folder: Path, paths: list[Path], truth: dict, chance: random.Random) -> None:
    """Kill the program and all its workers, open the job again, and repeat."""
    from tamarind.job.store import JobStore

    script = folder / "program.py"
    script.write_text(PROGRAM)
    job = folder / "killed.tamarind"
    command = [sys.executable, str(script), str(job), "|".join(map(str, paths)),
               str(HERE.parent), str(HERE)]  # fmt: skip
    killed = 0
    while killed < 10:
        process = subprocess.Popen(command, stderr=subprocess.DEVNULL)
        try:
            process.wait(chance.uniform(4, 12))
            break
        except subprocess.TimeoutExpired:
            os.kill(process.pid, signal.SIGKILL)
            process.wait()
            killed += 1
    else:
        subprocess.run(command, stderr=subprocess.DEVNULL, check=True, timeout=1200)
    store = JobStore(job)
    found = {
        place: [(c.start, c.end, c.text) for c in store.document(r.id).transcript.cues]
        for place, r in enumerate(store.recordings())
    }
    store.close()
    wanted = {key: [(c.start, c.end, c.text) for c in cues] for key, cues in truth.items()}
    print(f"program killed {killed} times: the result is "
          + ("the same" if found == wanted else "ANOTHER"))  # fmt: skip


def time_left(folder: Path, hours: float = 1.5) -> None:
    """Compare the estimate after the first tenth of a long recording with the real time."""
    from tests.support import write_wav

    from tamarind.batch.messages import Done, Failed, Hear, Heard
    from tamarind.batch.pace import Pace
    from tamarind.batch.pool import WorkerPool
    from tamarind.speech.hearingoptions import HearingOptions

    chance = np.random.default_rng(3)
    one = speech()
    parts, length = [], 0
    while length < hours * 3600 * RATE:
        quiet = 0.001 * chance.standard_normal(int(chance.uniform(0, 120)) * RATE)
        parts += [one, quiet.astype(np.float32)]
        length += len(one) + len(quiet)
    long = write_wav(folder / "hours.wav", np.concatenate(parts))
    short = [write_wav(folder / f"short{n}.wav", one[: 40 * RATE]) for n in range(4)]
    events: queue.SimpleQueue = queue.SimpleQueue()
    pool = WorkerPool(events.put, Pace.fixed(1))
    pool.add(*(Hear(key, path, HearingOptions()) for key, path in enumerate([long, *short])))
    estimates: list[tuple[float, float, float]] = []
    while True:
        event = events.get()
        if event.key == 0 and isinstance(event, Heard):
            estimates.append((event.work.share, event.work.left, time.perf_counter()))
        if event.key == 0 and isinstance(event, Done | Failed):
            break
    end = time.perf_counter()
    pool.close()
    errors = [
        (share, left, end - at, left / (end - at) - 1)
        for share, left, at in estimates
        if 0.1 <= share < 0.95
    ]
    for share, left, truth, error in errors:
        print(f"  at {share:4.0%}: {left:4.0f} s were told, it took {truth:4.0f} s ({error:+.0%})")
    worst = max((abs(error) for _, _, truth, error in errors if truth > 30), default=0.0)
    seconds = max((abs(left - truth) for _, left, truth, _ in errors if truth <= 30), default=0.0)
    print(f"time left of {hours} h with quiet in it, after the first tenth: at most"
          f" {worst:.0%} off, and {seconds:.0f} s off in the last half minute")  # fmt: skip


def many(folder: Path) -> None:
    """Scroll two hundred cards."""
    from PySide6.QtWidgets import QApplication
    from tests.support import write_wav

    one = speech()
    source = folder / "many"
    source.mkdir()
    first = write_wav(source / "000.wav", one[: 60 * RATE])
    for number in range(1, 200):
        data = bytearray(first.read_bytes())
        data[-2:] = number.to_bytes(2, "little")
        (source / f"{number:03}.wav").write_bytes(data)
    made = window(folder / "many.tamarind")
    loop = Loop()
    run_until(lambda: False, 0.5)
    loop.since()
    made.intake.add([source])
    run_until(lambda: len(made.intake.cards) == 200)
    run_until(
        lambda: all(made.session.sounds.has(r.id) for r in made.session.recordings.all()), 200
    )
    told("200 brought in", loop.since())
    bar = made.intake._scroll.verticalScrollBar()
    times = []
    for place in np.linspace(0, bar.maximum(), 200):
        began = time.perf_counter()
        bar.setValue(int(place))
        QApplication.processEvents()
        times.append((time.perf_counter() - began) * 1000)
    quantile = statistics.quantiles(times, n=100)[98]
    print(f"  a scrolled frame among 200: median {statistics.median(times):.1f} ms,"
          f" 99th of 100 {quantile:.1f} ms")  # fmt: skip
    made.close()


def main() -> None:
    """Run the named parts, or all."""
    parts = {"drop": drop, "side-by-side": side_by_side, "kills": kills,
             "time-left": time_left, "many": many}  # fmt: skip
    for name in sys.argv[1:] or parts:
        folder = Path(tempfile.mkdtemp(prefix="tamarind-batch-"))
        os.environ["XDG_CACHE_HOME"] = str(folder / "cache")
        os.environ["XDG_DATA_HOME"] = str(folder / "data")
        try:
            parts[name](folder)
        finally:
            shutil.rmtree(folder, ignore_errors=True)
        sys.stdout.flush()


if __name__ == "__main__":
    main()

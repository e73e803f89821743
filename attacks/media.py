"""Recordings of chance: damaged, odd, lists of addresses, pipes, names like addresses.

Each is decoded as far as it goes, or refused in one sentence; nothing is asked of any address.
"""

from __future__ import annotations

import os
import queue
import random
import shutil
import tempfile
import time
from pathlib import Path

from attacks.verdicts import Verdict

MEDIA = Path(__file__).parent.parent / "demo" / "media"
PATIENCE_S = 120
HLS = "#EXTM3U\n#EXT-X-TARGETDURATION:9\n#EXTINF:9,\n"
CALL = "v=0\no=- 0 0 IN IP4 10.9.8.7\ns=x\nc=IN IP4 10.9.8.7\nt=0 0\nm=audio 5004 RTP/AVP 0\n"
LISTS = {
    "list.m3u8": f"{HLS}http://10.9.8.7/a.ts\n#EXT-X-ENDLIST\n",
    "local.m3u8": f"{HLS}whole.wav\n#EXT-X-ENDLIST\n",
    "list.ffconcat": "ffconcat version 1.0\nfile whole.wav\n",
    "list.mp3": "ffconcat version 1.0\nfile /etc/hostname\n",
    "call.sdp": CALL,
    "list.pls": "[playlist]\nFile1=http://10.9.8.7/a.mp3\n",
}
NAMES = (
    "http:127.0.0.1:18099.wav", "Talk: part 1.wav", "concat:a|b.wav", "-i.wav", "pipe:0.wav",
    "a\nb.wav", "%d.wav", "caf\udce9.wav", "x" * 240 + ".wav", "data:,.wav", "tcp:1.2.3.4:5.wav",
    "subfile,,start,0,end,9,,:whole.wav",
)  # fmt: skip


def attack(seed: int, count: int) -> Verdict:
    """So many damaged files, and all the odd ones, through the workers."""
    from tamarind.batch.messages import Decode, Done, Event, Failed, Probe
    from tamarind.batch.pool import WorkerPool

    verdict = Verdict("recordings", "a recording is decoded as far as it goes")
    chance = random.Random(seed)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        whole = folder / "whole.wav"
        shutil.copy(MEDIA / "Volunteers round table.wav", whole)
        expected: dict[int, tuple[Path, str]] = {}

        def add(path: Path, what: str) -> None:
            expected[len(expected)] = (path, what)

        for title, text in LISTS.items():
            (folder / title).write_text(text)
            add(folder / title, "refused")
        for title in NAMES:
            shutil.copy(whole, folder / title)
            add(folder / title, "decoded")
        os.mkfifo(folder / "pipe.wav")
        add(folder / "pipe.wav", "refused")
        add(Path("/dev/zero"), "refused")
        add(folder, "refused")
        add(folder / "nowhere.wav", "refused")
        sounds = sorted(MEDIA.iterdir())
        for number in range(count):
            source = chance.choice(sounds)
            path = folder / f"{number}{source.suffix}"
            data = bytearray(source.read_bytes()[: chance.choice((4_000, 60_000, 400_000))])
            for _ in range(chance.choice((1, 8, 200))):
                where = min(len(data) - 1, int(chance.expovariate(1 / 800)))
                data[where if chance.random() < 0.7 else chance.randrange(len(data))] = (
                    chance.randrange(256)
                )
            path.write_bytes(data)
            add(path, "")
        events: queue.SimpleQueue[Event] = queue.SimpleQueue()
        before = os.environ.get("XDG_CACHE_HOME")
        os.environ["XDG_CACHE_HOME"] = f"{folder}/cache"
        pool = WorkerPool(events.put)
        try:
            for key, (path, what) in expected.items():
                for task in (Probe(key, path), Decode(key, path)):
                    pool.add(task)
                    _follow(verdict, events, path, what, Done, Failed)
        finally:
            pool.close()
            if before is None:
                del os.environ["XDG_CACHE_HOME"]
            else:
                os.environ["XDG_CACHE_HOME"] = before
    return verdict


def _follow(verdict: Verdict, events: queue.SimpleQueue, path: Path, what: str, done: type,
            failed: type) -> None:  # fmt: skip
    """Wait for the end of one task, and say whether it is one of those that it may have."""
    end = time.monotonic() + PATIENCE_S
    while time.monotonic() < end:
        try:
            event = events.get(timeout=1)
        except queue.Empty:
            continue
        if isinstance(event, done):
            if what == "refused":
                verdict.failed(f"{path.name}: was taken for a recording")
            else:
                verdict.held("decoded")
            return
        if isinstance(event, failed):
            reason = event.reason
            if "unexpectedly" in reason or "itself" in reason or what == "decoded":
                verdict.failed(f"{path.name}: {event.task}: {reason}")
            else:
                verdict.held("refused in a sentence")
            return
    verdict.failed(f"{path.name}: nothing came of it")

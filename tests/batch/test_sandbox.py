"""A worker that tries what it may not do."""

import json
import os
import subprocess
import sys
import textwrap
import time
from pathlib import Path

from tamarind.batch.sandbox import shut_in
from tests.support import FolderTest, human_recording

TRIES = """
    import json, os, socket, subprocess, sys
    from pathlib import Path
    from tamarind.batch.sandbox import shut_in
    given = os.open(sys.argv[1], os.O_RDONLY)
    secret, model, cache = sys.argv[2:]
    missing = shut_in([Path(model)])
    found = {"missing": missing}

    def trial(name, act):
        try:
            found[name] = bool(act())
        except OSError:
            found[name] = False

    trial("internet", lambda: socket.socket())
    trial("internet 6", lambda: socket.socket(socket.AF_INET6, socket.SOCK_DGRAM))
    trial("local socket", lambda: socket.socket(socket.AF_UNIX))
    trial("secret", lambda: open(secret).read())
    trial("by its handle", lambda: open(f"/proc/self/fd/{given}", "rb").read(4))
    trial("names of a folder", lambda: os.listdir(Path(secret).parent))
    trial("writing", lambda: open(secret + "2", "w"))
    trial("running", lambda: subprocess.run(["/bin/true"]))
    trial("a signal", lambda: os.kill(os.getppid(), 0) is None)
    trial("environment of another", lambda: open(f"/proc/{os.getppid()}/environ").read())
    trial("given", lambda: os.pread(given, 4, 0) == b"RIFF")
    trial("model", lambda: open(Path(model) / "weights").read())
    trial("cache", lambda: open(Path(cache) / "tamarind" / "new", "w"))
    trial("pronouncing", lambda: subprocess.run(
        ["espeak-ng", "-q", "--ipa", "turf"], capture_output=True).stdout.strip())
    trial("libraries", lambda: __import__("scipy.signal"))
    print(json.dumps(found))
"""
ALLOWED = {"given", "model", "cache", "libraries", "pronouncing"}


class ShutIn(FolderTest):
    real_workers = True

    def test_it_can_do_its_work_and_nothing_else(self):
        secret = self.folder / "secret" / "letter.txt"
        secret.parent.mkdir()
        secret.write_text("dear warden")
        recording = self.folder / "secret" / "talk.wav"
        recording.write_bytes(human_recording("beckett.wav").read_bytes())
        model = self.folder / "model"
        model.mkdir()
        (model / "weights").write_text("1")
        done = subprocess.run(
            [sys.executable, "-c", textwrap.dedent(TRIES), str(recording),
             str(secret), str(model), os.environ["XDG_CACHE_HOME"]],
            capture_output=True, text=True, check=True,
        )  # fmt: skip
        found = json.loads(done.stdout)
        missing = found.pop("missing")
        if missing:
            self.skipTest(f"this kernel lacks {', '.join(missing)}")
        self.assertEqual({name for name, did in found.items() if did}, ALLOWED)

    def test_without_the_kernels_help_it_says_so_and_goes_on(self):
        from unittest.mock import patch

        refused = OSError(38, "Function not implemented")
        with (
            patch("tamarind.system.confinement.system_call", side_effect=refused),
            patch("tamarind.system.confinement.prctl", side_effect=refused),
        ):
            missing = shut_in()
        self.assertEqual(len(missing), 3)
        self.assertIn("files (", missing[2])

    def test_workers_go_with_a_parent_that_was_killed(self):
        program = textwrap.dedent(
            """
            import multiprocessing, queue, sys, time
            from pathlib import Path
            from tamarind.batch.pool import WorkerPool
            from tamarind.batch.messages import Probe
            if __name__ == "__main__":
                events = queue.SimpleQueue()
                pool = WorkerPool(events.put)
                pool.add(Probe(1, Path(sys.argv[1])))
                events.get()
                print(multiprocessing.active_children()[0].pid, flush=True)
                time.sleep(60)
            """
        )
        path = self.folder / "program.py"
        path.write_text(program)
        process = subprocess.Popen(
            [sys.executable, str(path), str(human_recording("beckett.wav"))],
            stdout=subprocess.PIPE, text=True,
        )  # fmt: skip
        worker = int(process.stdout.readline())
        self.assertTrue(Path(f"/proc/{worker}").exists())
        process.kill()
        process.wait()
        process.stdout.close()
        end = time.monotonic() + 20
        while Path(f"/proc/{worker}/exe").exists():
            self.assertLess(time.monotonic(), end, "the worker lives on")
            time.sleep(0.05)

"""Translates all recordings of a job into two languages, or goes on with that; to be killed.

python -m tests.translation.translate_job JOB begin|go-on
"""

import sys
import time
from pathlib import Path

from tamarind.application.jobsettings import JobSettings
from tamarind.application.jobstyles import JobStyles
from tamarind.application.loop import PlainLoop
from tamarind.application.recordings import Recordings
from tamarind.application.texts import Texts
from tamarind.application.translating import Task, Translating
from tamarind.job.store import JobStore
from tamarind.translation.routes import Router
from tests.translation.engines import Marking

LANGUAGES = ("pt", "es")


def slowly(text, target):
    time.sleep(0.002)
    return f"{target}: {text[::-1]}"


def run(job, begins):
    """Until all is translated; prints a line for everything that is on disk."""
    store = JobStore(Path(job))

    def write(action):
        action()
        return True

    settings, recordings = JobSettings(store, write), Recordings(store, write)
    texts, styles = Texts(store, write, recordings), JobStyles(settings, recordings)
    engine = Marking(pairs=(("en", "pt"), ("en", "es")), change=slowly)
    loop = PlainLoop()
    line = Translating(
        loop, recordings, texts, settings=settings, styles=styles, over=Router([engine])
    )
    line.changed.connect(lambda: print("so far", flush=True))
    if begins:
        line.add(Task(one.id, tag) for one in recordings.all() for tag in LANGUAGES)
    else:
        line.take_up()
    if not loop.wait(lambda: not line.queue(), 120):
        raise SystemExit("it takes too long")
    line.close()
    store.close()


if __name__ == "__main__":
    run(sys.argv[1], sys.argv[2] == "begin")

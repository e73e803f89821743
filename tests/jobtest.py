"""What tests of a job share, with a window and without: a copy of the demo, or an empty job."""

from __future__ import annotations

import atexit
import contextlib
import os
import shutil
import sqlite3
import tempfile
from abc import ABC, abstractmethod
from functools import cache
from pathlib import Path
from unittest.mock import patch

from tamarind.application.session import Session
from tamarind.audio import soundcache
from tamarind.audio.fingerprint import fingerprint
from tamarind.batch import transcribing
from tamarind.batch.pool import WorkerPool
from tamarind.speech.alignment import Aligner
from tamarind.speech.diarisation.encoder import VoiceEncoder
from tamarind.speech.hearing import Tools
from tamarind.speech.recognisers.known.pretended import PRETENDED, PretendedRecogniser
from tamarind.system.folders import cache_home
from tests.support import DEMO, FolderTest

DEMO_JOB = "Peatland voices.tamarind"


@cache
def decoded_demo() -> Path:
    """The decoded sound of the demo's recordings, made once for all tests of this process."""
    folder = Path(tempfile.mkdtemp(prefix="decoded-demo-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    with patch.dict(os.environ, XDG_CACHE_HOME=str(folder)):
        for path in (DEMO / "media").iterdir():
            soundcache.fetch(path)
        return cache_home()


def put_in_cache(folder: Path) -> None:
    """Let this test find what others have decoded."""
    shutil.copytree(folder, cache_home(), copy_function=os.link)


@cache
def _pretending(_recogniser: str = PRETENDED) -> Tools:
    """What the stand-in works with, whoever was asked for."""
    return Tools(PretendedRecogniser(), Aligner(), VoiceEncoder())


class JobTest(FolderTest, ABC):
    """Opens a copy of the demo or an empty job, in a way that ``open`` and ``shut`` say.

    The demo's sound is decoded and its files are known, so that no worker is started for them.
    """

    demo = True
    warm = False
    """Whether a worker is started before it is needed; few tests need one."""
    hears = False
    """Whether recordings are really heard; else a stand-in says something at once. Workers that are
    processes hear in any case."""

    has_excerpts = True
    """Whether the copy of the demo has its excerpts."""

    session: Session

    def setUp(self) -> None:
        super().setUp()
        if not self.warm:
            cold = patch.object(WorkerPool, "warm_up")
            cold.start()
            self.addCleanup(cold.stop)
        if not self.hears:
            pretended = patch.object(transcribing, "tools", _pretending)
            pretended.start()
            self.addCleanup(pretended.stop)
        self.job = self.folder / "demo" / DEMO_JOB
        self.job.parent.mkdir()
        if self.demo:
            shutil.copy(DEMO / DEMO_JOB, self.job)
            if not self.has_excerpts:
                with contextlib.closing(sqlite3.connect(self.job)) as database, database:
                    database.execute("UPDATE recording SET excerpts = '[]'")
            shutil.copytree(DEMO / "media", self.job.parent / "media")
            put_in_cache(decoded_demo())
            for recording in (self.job.parent / "media").iterdir():
                fingerprint(recording)
        self.open()
        self.addCleanup(self.shut)

    @abstractmethod
    def open(self) -> None:
        """Open the job as ``session``."""

    @abstractmethod
    def shut(self) -> None:
        """Close what ``open`` has opened."""

    def reopen(self) -> None:
        """As after another start."""
        self.shut()
        self.open()

    def named(self, name: str) -> int:
        """The recording of that name."""
        return next(r.id for r in self.session.recordings.all() if r.name == name)

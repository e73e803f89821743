"""What workers tell: plain data, checked on arrival; a worker that was taken over runs nothing."""

import os
import pickle
import threading
import time
import unittest
from base64 import b64encode
from dataclasses import replace
from pathlib import Path
from unittest.mock import patch

import msgspec
import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tamarind.audio.media import MediaInfo
from tamarind.audio.source import Channel, Source
from tamarind.batch import messages, worker
from tamarind.batch.messages import Failed, Probe
from tamarind.batch.pool import WorkerPool
from tamarind.batch.timeleft import Work
from tamarind.batch.wire import WireError, packed, unpacked
from tamarind.speech.activity import Activity
from tamarind.speech.diarisation.voiceprint import WIDTH, Voiceprint
from tamarind.speech.languageguess import Guess
from tamarind.system.folders import cache_home
from tests.support import FolderTest, moor, tone, write_wav
from tests.transcript.test_codec import UNUSUAL, UNUSUAL_WORD

VOICE = Voiceprint(1, b64encode(bytes(2 * WIDTH)).decode())
HEARD = messages.Heard(
    3,
    (UNUSUAL,),
    100,
    end=200,
    work=Work(1.0, 2.0, 0.0, 0.5),
    unheard=((1, 2),),
    bookmark="mark",
    at_once=((3, 4),),
)


def every_event():
    return [
        messages.Known(1, MediaInfo("a", 1, "mov", codec="aac", channels=1, sample_rate=16_000,
        sound_tracks=1, picture=(4, 3), frame_rate=25.0, loud_db=-12.5,
                                    clipped=True, tags=("tag",), sound_starts=(0, 2_900))),
        messages.Identified(1, "f" * 40),
        messages.Drawn(1, np.array([0.5, 1], np.float16)),
        messages.SoundReady(1, 100, None, "mark", False),
        messages.Started(1),
        messages.LanguageHeard(1, (Guess("pt", 0.9),)),
        messages.VoicesSought(1, 0.5),
        messages.VoicesKnown(1, (VOICE,)),
        HEARD,
        messages.HeardAgain(1, (UNUSUAL_WORD,)),
        messages.ListenedOnDemand(1, 1, 2),
        messages.HeardOnDemand(1, moor().cues[0].words),
        messages.SpeakersTold(1, (1, None, 2), (VOICE,)),
        messages.Prepared(1, Source(1, Channel.LEFT, True), cache_home() / "sound.wav"),
        messages.SpeechFound(1, Source(), Activity(*np.ones((2, 3), np.float32))),
        messages.ShotsFound(1, (1_000, 2_000)),
        messages.StillFound(1, 500, np.full((6, 4), 16, np.uint8), 1, 1),
        messages.Done(1, "Hear"),
        messages.Failed(1, "Hear", "The file is empty."),
    ]  # fmt: skip


class Boom:
    """What runs when it is read by whoever believes it."""

    def __reduce__(self):
        return os.system, ("touch ran",)


def hostile(pipe, cores, niceness, parent, readable=()):
    """A worker that was taken over."""
    pipe.recv()
    pipe.send(Boom())
    time.sleep(20)


def of_another(pipe, cores, niceness, parent, readable=()):
    """A worker that speaks of a recording that it was not asked about."""
    pipe.recv()
    pipe.send_bytes(packed(replace(HEARD, key=99)))
    time.sleep(20)


class Messages(unittest.TestCase):
    def test_every_event_arrives_as_it_was(self):
        events = every_event()
        kinds = {kind.__name__ for kind in map(type, events)}
        self.assertEqual(kinds, {one.__name__ for one in messages.Event.__args__})
        for event in events:
            with self.subTest(type(event).__name__):
                self.assertEqual(repr(unpacked(packed(event))), repr(event))

    def test_what_no_worker_says_is_refused(self):
        def message(kind, **said):
            return msgspec.msgpack.encode([kind, said])

        cue = {"id": 1, "start": 5, "end": 1}
        word = {"text": "a", "start": 9, "end": 1}
        heard = {"key": 1, "until": 0, "end": 1,
                 "work": {"done": 0, "whole": 0, "begun": 0, "seconds": 0}}  # fmt: skip
        for data in (
            b"", b"\x00", pickle.dumps(Boom()), message("Boom"), message("Path", key=1),
            message("Started"), message("Started", key="1"), message("Started", key=1 << 60),
            message("Failed", key=1, task="Hear", reason="\x00"),
            message("Failed", key=1, task="Hear", reason=None),
            message("VoicesSought", key=1, share=float("nan")),
            message("Heard", cues=[cue], **heard),
            message("Heard", cues=[{**cue, "end": 9, "words": [word]}], **heard),
            message("HeardAgain", key=1, words=[{"text": "a", "start": 2, "end": 1}]),
            message("Prepared", key=1, source={}, path="/etc/passwd"),
            message("Prepared", key=1, source={}, path=f"{cache_home()}/../../../etc/passwd"),
            message("Drawn", key=1, peaks=["O", [1], b"12345678"]),
            message("Drawn", key=1, peaks=["float16", [1 << 40], b"12"]),
            message("VoicesKnown", key=1, voices=[{"speaker": 1, "packed": "x"}]),
        ):  # fmt: skip
            with self.subTest(data[:60]), self.assertRaises(WireError):
                unpacked(data)

    @given(st.binary(max_size=200))
    def test_bytes_of_chance(self, data):
        try:
            unpacked(data)
        except WireError:
            return
        self.fail("bytes of chance were believed")

    @given(st.data())
    def test_events_with_a_byte_changed(self, data):
        whole = packed(data.draw(st.sampled_from(every_event())))
        place = data.draw(st.integers(0, len(whole) - 1))
        changed = bytearray(whole)
        changed[place] = data.draw(st.integers(0, 255))
        try:
            event = unpacked(bytes(changed))
        except WireError:
            return
        self.assertIn(type(event).__name__, {one.__name__ for one in messages.Event.__args__})


class TakenOver(FolderTest):
    real_workers = True

    def told_of(self, run):
        path = write_wav(self.folder / "a.wav", tone(1))
        told, ended = [], threading.Event()

        def take(event):
            told.append(event)
            ended.set()

        before = Path.cwd()
        os.chdir(self.folder)
        try:
            with patch.object(worker, "run", run):
                pool = WorkerPool(take)
                pool.add(Probe(1, path))
                self.assertTrue(ended.wait(30))
                pool.close()
        finally:
            os.chdir(before)
        return told

    def test_a_worker_that_sends_what_would_run_is_ended_and_nothing_runs(self):
        (event,) = self.told_of(hostile)
        self.assertIsInstance(event, Failed)
        self.assertIn("no worker says", event.reason)
        self.assertFalse((self.folder / "ran").exists())

    def test_a_worker_speaks_of_its_own_recording_only(self):
        (event,) = self.told_of(of_another)
        self.assertEqual((type(event), event.key), (Failed, 1))


if __name__ == "__main__":
    unittest.main()

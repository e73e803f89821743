"""A voice that is in several recordings of a job has one name in all of them."""

from dataclasses import replace

import numpy as np

from tamarind.job.store import JobStore
from tamarind.speech.diarisation.likeness import same_voices, voiceprint_of
from tamarind.speech.diarisation.voiceprint import Voiceprint
from tamarind.transcript.model import Speaker
from tests.application.support import SessionTest

CHANCE = np.random.default_rng(7)
ANNA, BEN, ELSE = (
    (vector / np.linalg.norm(vector)).astype(np.float32)
    for vector in CHANCE.standard_normal((3, 256))
)


def alike(vector, how_much):
    """A vector of that likeness to another."""
    off = CHANCE.standard_normal(256)
    off -= (off @ vector) * vector
    made = how_much * vector + (1 - how_much**2) ** 0.5 * off / np.linalg.norm(off)
    return made.astype(np.float32)


def give_voices(session):
    """Two recordings with a text and two voices each, of which one is in both."""
    texts, recordings = session.texts, session.recordings
    keys = [one.id for one in recordings.all() if texts.transcript(one.id).cues][:2]
    for key, prints in zip(
        keys,
        (
            (voiceprint_of(1, ANNA), voiceprint_of(2, BEN)),
            (voiceprint_of(1, ELSE), voiceprint_of(2, alike(ANNA, 0.97))),
        ),
        strict=True,
    ):
        recordings.change(replace(recordings.get(key), voices=prints))
        text = texts.transcript(key)
        cues = tuple(replace(cue, speaker=place % 2 + 1) for place, cue in enumerate(text.cues))
        texts.edit(
            key, "voices", replace(text, cues=cues, speakers=(Speaker(1, ""), Speaker(2, "")))
        )
    return keys


class SameVoices(SessionTest):
    def setUp(self):
        super().setUp()
        self.one, self.other = give_voices(self.session)
        self.session.show(self.one)

    def names(self, key):
        return [speaker.name for speaker in self.session.texts.transcript(key).speakers]

    def test_a_name_that_is_there_stays(self):
        self.session.same_voices.name(self.other, 2, "Anna")
        self.assertEqual(self.session.same_voices.name(self.one, 1, "Anna Voss"), 0)
        self.assertEqual(self.names(self.other)[1], "Anna")

    def test_a_recording_heard_later_has_the_names_of_earlier_ones(self):
        texts = self.session.texts
        texts.edit(self.one, "name", self.with_first_called(self.one, "Anna Voss"))
        recording = self.session.recordings.get(self.other)
        named = self.session.same_voices.named(recording, texts.transcript(self.other))
        self.assertEqual([speaker.name for speaker in named.speakers], ["", "Anna Voss"])

    def with_first_called(self, key, name):
        text = self.session.texts.transcript(key)
        return replace(text, speakers=(Speaker(1, name), *text.speakers[1:]))

    def test_voices_are_kept_in_the_job(self):
        before = self.session.recordings.get(self.one).voices
        path = self.folder / "copy.tamarind"
        self.session.save_copy(path)
        store = JobStore(path)
        self.addCleanup(store.close)
        kept = {recording.id: recording for recording in store.recordings()}
        self.assertEqual(kept[self.one].voices, before)

    def test_what_is_alike_to_two_is_neither(self):
        mine = [voiceprint_of(1, ANNA)]
        self.assertEqual(same_voices(mine, [voiceprint_of(4, alike(ANNA, 0.96))]), {1: 4})
        self.assertEqual(same_voices(mine, [voiceprint_of(4, alike(ANNA, 0.85))]), {})
        two = [voiceprint_of(4, alike(ANNA, 0.97)), voiceprint_of(5, alike(ANNA, 0.96))]
        self.assertEqual(same_voices(mine, two), {})
        self.assertEqual(same_voices(mine, []), {})

    def test_a_voice_that_an_earlier_version_kept_is_like_no_other(self):
        new = voiceprint_of(1, ANNA)
        old = Voiceprint(2, new.packed.removeprefix("2:"))
        self.assertEqual((old.data, same_voices([new], [old])), (new.data, {}))

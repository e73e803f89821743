import random
from itertools import pairwise
from types import SimpleNamespace
from unittest.mock import patch

from tamarind.audio.media import frame_rate_of
from tamarind.batch import bookmarks, transcribing
from tamarind.batch.messages import Hear, Heard
from tamarind.batch.work import do
from tamarind.captions.frames import is_on_frame
from tamarind.captions.layout import lay_out
from tamarind.captions.limits import Limits
from tamarind.picture.shots import kept_shots
from tamarind.speech.hearing import Stretch
from tamarind.speech.hearingoptions import Care, HearingOptions
from tamarind.transcript.model import Word
from tests.batch.test_bookmarks import place
from tests.support import DEMO, FolderTest, tone, write_wav


def spoken(count, seed=5):
    """Sentences of made-up words at the pace of speech, in two voices."""
    rng = random.Random(seed)
    words, voices, time, voice = [], [], 300, 1
    for number in range(count):
        text = "the water behind it was cold and as deep as the old dam".split()[number % 13]
        ends = rng.random() < 0.08
        words.append(Word(text + "." * ends, time, time + 220, 0.9))
        voices.append(voice)
        time += 240 + (rng.choice([80, 500, 2_500]) if ends else 0)
        voice = 3 - voice if ends and rng.random() < 0.2 else voice
    return words, voices


NOTHING = SimpleNamespace(recogniser=None)
"""Tools that are not asked for anything."""


class CuesOfStretches(FolderTest):
    def heard(self, words, voices, borders, bookmark=""):
        """The cues of words that are heard in stretches, and the bookmarks."""
        end = words[-1].end
        path = write_wav(self.folder / "a.wav", tone(end / 1000 + 1))
        edges = [0, *borders, len(words)]
        stretches = [
            Stretch(tuple(words[a:b]), tuple(voices[a:b]), words[b - 1].end,
            is_last=b == len(words), unheard=(),
                    bookmark=place().sound)
            for a, b in pairwise(edges)
        ]  # fmt: skip
        task = Hear(1, path, HearingOptions(), bookmark=bookmark)
        with (
            patch.object(transcribing, "hear", lambda *_: iter(stretches)),
            patch.object(transcribing, "finder_for", lambda *_: None),
        ):
            events = list(transcribing.hear_recording(task, lambda _: NOTHING))
        found = [event for event in events if isinstance(event, Heard)]
        return [cue for event in found for cue in event.cues], [e.bookmark for e in found]

    def test_cues_are_those_of_the_whole_however_the_sound_was_parted(self):
        for seed in range(4):
            words, voices = spoken(260, seed)
            whole = lay_out(words, Hear(1, self.folder, HearingOptions()).limits, 1, 0, voices)
            self.assertTrue(4 < sum(cue.opens_paragraph for cue in whole) < len(whole))
            for borders in ([], [90], [70, 141, 200], [12, 20, 110], range(1, 260, 7)):
                cues, _ = self.heard(words, voices, borders)
                self.assertEqual(cues, whole, (seed, borders))

    def test_without_pauses_and_marks_cues_do_not_wait_for_ever(self):
        words = [Word("waters"[: 2 + n * 7 % 5], n * 270, n * 270 + 250, 0.9) for n in range(900)]
        cues, marks = self.heard(words, [None] * 900, [300, 600])
        for mark, until in zip(marks, (300, 600), strict=False):
            waiting = bookmarks.read(mark).waiting
            self.assertLess(len(waiting), 260)
            self.assertEqual(waiting[-1][0], words[until - 1])
        self.assertEqual([word.start for c in cues for word in c.words], [w.start for w in words])

    def test_whoever_goes_on_from_a_bookmark_makes_the_same_cues(self):
        words, voices = spoken(240)
        whole, marks = self.heard(words, voices, [80, 150])
        begun = [c for c in whole if c.id < bookmarks.read(marks[1]).next_id]
        rest, _ = self.heard(words[150:], voices[150:], [], marks[1])
        self.assertEqual(begun + rest, whole)


class OnThePicture(FolderTest):
    def test_a_draft_keeps_to_frames_and_shots_where_the_style_wishes_it(self):
        video = DEMO / "media" / "Water table lecture.mp4"
        how = HearingOptions(care=Care.QUICK)
        found = {}
        for limits in (Limits(), Limits(own_frames=True, to_shots=True)):
            events = do(Hear(1, video, how, (0, 50_000), limits))
            cues = [cue for event in events if isinstance(event, Heard) for cue in event.cues]
            found[limits.to_shots] = [cue.start for cue in cues]
        rate = frame_rate_of(video)
        on_frames = {
            wished: sum(is_on_frame(start, rate) for start in starts) / len(starts)
            for wished, starts in found.items()
        }
        # With five frames a second there is not always one before the word.
        self.assertGreater(on_frames[True], 0.8)
        self.assertLess(on_frames[False], 0.2)
        shot = kept_shots(video)[0]
        self.assertIn(shot, found[True])
        self.assertNotIn(shot, found[False])

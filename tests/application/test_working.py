"""What can be written can be read.

Whatever chance does through the application's own acts, a job that is closed and opened again is
the same, nothing of it is damaged, and undo goes to the start.
"""

import random
import unittest
from functools import partial

from tamarind.application.describing import Describing
from tamarind.application.excerpting import Excerpting
from tamarind.application.jobsettings import JobSettings
from tamarind.application.recordings import Recordings
from tamarind.application.sounds import Sounds
from tamarind.application.texts import Texts
from tamarind.captions.limits import Limits
from tamarind.captions.relayout import Reshaping, reshape
from tamarind.job.jobfile import examine
from tamarind.job.settings import USUAL
from tamarind.job.store import JobStore
from tamarind.transcript import edits
from tamarind.transcript.model import Cue, Speaker, Transcript, Word
from tamarind.translation import tracks
from tamarind.translation.tracks import Track
from tests.chance import WORDS, edit
from tests.doses import dose
from tests.support import FolderTest

PASTED = "a\x00b\x0bc\x1bd\ud800 \ufffe\nthe mire\t, again,"
"""What a person may paste from anywhere."""


def overlapping(chance):
    """A text as a caption file may bring it: captions overlap, lie in others, have no words."""
    cues, at = [], 0
    for number in range(1, chance.randrange(4, 9)):
        start = max(at + chance.randrange(-2_500, 1_500), 0)
        words, time = [], start
        for _ in range(chance.randrange(0, 7)):
            end = time + chance.randrange(1, 400)
            words.append(Word(chance.choice(WORDS), time, end, round(chance.random(), 3)))
            time = end + chance.randrange(0, 200)
        at = max(time, start + 1) + chance.randrange(0, 300)
        cues.append(Cue(number, start, at, tuple(words)))
    cues.sort(key=lambda cue: cue.start)
    return Transcript("en", tuple(cues), (Speaker(1, "Warden"), Speaker(2, "")))


class Desk:
    """A job as it is worked at, without a window and without workers."""

    def __init__(self, path):
        self.store = JobStore(path)

        def write(action):
            action()
            return True

        self.settings = JobSettings(self.store, write)
        self.recordings = Recordings(self.store, write)
        self.texts = Texts(self.store, write, self.recordings)
        self.sounds = Sounds(self.recordings, lambda key: None)
        self.excerpts = Excerpting(self.recordings, self.texts, self.sounds)
        self.describing = Describing(self.recordings, self.texts)

    def documents(self):
        return {one.id: self.texts.document(one.id) for one in self.recordings.all()}


class Working(FolderTest):
    def session(self, seed, acts):
        chance = random.Random(seed)
        path = self.folder / f"{seed}.tamarind"
        desk = Desk(path)
        names = [self.folder / f"{seed} {number}.wav" for number in range(2)]
        keys = [one.id for one in desk.recordings.add_files(names, desk.settings.get(USUAL))]
        empty = desk.documents()
        for key in keys:
            desk.texts.take(key, overlapping(chance), "text from elsewhere")
        for number in range(acts):
            self.act(desk, chance, chance.choice(keys))
            if number % 97 == 96:
                desk = self.again(desk, path)
        return self.again(desk, path), empty

    def act(self, desk, chance, key):
        document = desk.texts.document(key)
        text = document.transcript
        kind = chance.randrange(14)
        if kind < 5:
            desk.texts.edit(key, "edit", edit(Lenient(), text, text, chance))
        elif kind == 5:
            new = reshape(text, 0, len(text.cues), chance.choice(list(Reshaping)), Limits(), True)
            desk.texts.edit(key, "lay out", new)
        elif kind == 6 and text.cues:
            place = chance.randrange(len(text.cues))
            acts = (
                lambda: edits.set_text(text, place, PASTED),
                lambda: edits.set_heading(text, place, PASTED),
                lambda: edits.name_speaker(text, 1, PASTED),
                lambda: edits.add_speaker(text, PASTED)[0],
                lambda: edits.set_look(text, place, place + 1, "torch"),
                lambda: edits.insert_cue(text, chance.randrange(30_000), 31_000, PASTED),
            )
            desk.texts.edit(key, "typed", chance.choice(acts)())
        elif kind == 7 and any(cue.words for cue in text.cues):
            spots = [(p, w) for p, cue in enumerate(text.cues) for w in range(len(cue.words))]
            first, last = sorted(chance.choices(spots, k=2))
            desk.excerpts.keep(key, first, last)
        elif kind in (8, 9) and document.excerpts:
            self.excerpt(desk, chance, (key, chance.choice(document.excerpts).id))
        elif kind == 10:
            desk.describing.write(key, chance.randrange(60_000), chance.choice((PASTED, "")))
        elif kind == 11 and text.cues:
            self.translate(desk, chance, key)
        elif kind == 12:
            desk.texts.undo()
        elif kind == 13:
            desk.texts.redo()

    def excerpt(self, desk, chance, key):
        one = desk.excerpts.find(key).excerpt
        start = chance.randrange(-50, one.end + 50)
        end = start + chance.choice((0, 1, 19, 20, 4_000))
        try:
            chance.choice((
                lambda: desk.excerpts.describe(key, name=PASTED),
                lambda: desk.excerpts.describe(key, note=PASTED, tags=(PASTED, "wet, dry")),
                lambda: desk.excerpts.set_points(key, start, end),
                lambda: desk.excerpts.cut(key, [(start, end)]),
                lambda: desk.excerpts.restore(key, start, end),
                lambda: desk.excerpts.split(key, start),
                lambda: desk.excerpts.move(key, None),
                lambda: desk.excerpts.accept(key),
                lambda: desk.excerpts.take_out([key]),
            ))()  # fmt: skip
        except ValueError as error:
            self.assertTrue(str(error), "refused without a sentence")

    def translate(self, desk, chance, key):
        document = desk.texts.document(key)
        track = document.track(chance.choice(("pt", "es", "ar")))
        cue = chance.choice(document.transcript.cues)
        new = chance.choice((
            lambda: tracks.with_edit(track, cue, PASTED),
            lambda: tracks.with_comment(track, cue, PASTED),
            lambda: tracks.with_doubt(track, cue, True),
            lambda: tracks.with_texts(track, [cue], [PASTED]),
            lambda: Track(track.language),
        ))()  # fmt: skip
        desk.texts.edit_document(key, "translated", document.with_track(new))

    def again(self, desk, path):
        """Close and open: nothing is damaged, and all is as it was."""
        before, labels = desk.documents(), desk.texts.undo_labels()
        desk.store.close()
        self.assertEqual(examine(path, drafts=True).damage, [])
        opened = Desk(path)
        self.assertEqual(opened.documents(), before)
        self.assertEqual(opened.texts.undo_labels(), labels)
        return opened

    def test_sessions_of_chance(self):
        for seed in range(dose(6, 50)):
            with self.subTest(seed=seed):
                desk, empty = self.session(seed, dose(150, 500))
                misfits = []
                desk.texts.misfit.connect(partial(misfits.append, seed))
                while desk.texts.undo_labels()[0] is not None:
                    desk.texts.undo()
                self.assertEqual(misfits, [])
                self.assertEqual(desk.documents(), empty)
                desk.store.close()


class Lenient(unittest.TestCase):
    """Takes what ``edit`` says of texts whose captions are apart, which these are not."""

    def runTest(self):
        pass

    def assertEqual(self, *_):
        pass


class Numbers(FolderTest):
    def test_a_number_is_never_given_again(self):
        path = self.folder / "job.tamarind"
        desk = Desk(path)
        usual = desk.settings.get(USUAL)
        first, second = desk.recordings.add_files([self.folder / "a", self.folder / "b"], usual)
        desk.recordings.remove(second.id)
        (third,) = desk.recordings.add_files([self.folder / "c"], usual)
        self.assertNotIn(third.id, (first.id, second.id))
        desk.recordings.remove(third.id)
        desk.store.close()
        desk = Desk(path)
        (fourth,) = desk.recordings.add_files([self.folder / "d"], usual)
        self.assertGreater(fourth.id, third.id)
        desk.store.close()

    def test_translations_stay_in_their_order(self):
        path = self.folder / "job.tamarind"
        desk = Desk(path)
        (one,) = desk.recordings.add_files([self.folder / "a"], desk.settings.get(USUAL))
        for language in ("pt", "ar", "es"):
            document = desk.texts.document(one.id).with_track(Track(language))
            desk.texts.edit_document(one.id, "translation", document)
        desk.store.close()
        desk = Desk(path)
        tags = [track.language for track in desk.texts.document(one.id).tracks]
        self.assertEqual(tags, ["pt", "ar", "es"])
        desk.store.close()


if __name__ == "__main__":
    unittest.main()

"""Jobs whose times still count from the sound: in the window they move once, and it is said."""

from dataclasses import replace
from unittest.mock import patch

from tamarind.desktop.widgets.notice import Notice
from tests.desktop.support import WindowTest
from tests.flashes import Flashes, write_flashes
from tests.support import moor


class OldTimes(WindowTest):
    demo = False

    def test_times_move_once_it_is_said_and_undone(self):
        media = write_flashes(self.folder / "site visit.mp4", Flashes(sound_from=1_500))
        self.session.add_files([media])
        (one,) = self.session.recordings.all()
        self.wait(lambda: self.session.recordings.get(one.id).info is not None)
        self.session.texts.take(one.id, moor(), "text")
        self.session.recordings.change(
            replace(self.session.recordings.get(one.id), from_sound=True)
        )
        before = moor().cues[0].start
        said = self.enterContext(patch.object(Notice, "say"))
        for number in range(2):
            self.reopen()
            self.wait(lambda: not self.session.recordings.get(one.id).from_sound)
            start = self.session.texts.transcript(one.id).cues[0].start
            self.assertLess(abs(start - before - 1_500), 30, number)
        told = [call.args[0] for call in said.call_args_list if "site visit" in call.args[0]]
        self.assertEqual(len(told), 1, told)
        self.session.texts.undo()
        self.assertEqual(self.session.texts.transcript(one.id).cues[0].start, before)

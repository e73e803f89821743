import threading

import shiboken6
from PySide6.QtCore import QObject
from PySide6.QtWidgets import QPushButton

from tamarind.desktop.qtloop import tasks_of
from tests.desktop.support import WindowTest
from tests.support import human_recording


class WorkInTheBackground(WindowTest):
    def test_only_what_was_asked_for_last_is_told_of(self):
        tasks, told, go = tasks_of(self.window, "test"), [], threading.Event()
        tasks.run(lambda: go.wait(10) and "first", told.append)
        tasks.run(lambda: "second", told.append)
        tasks.run(lambda: "third", told.append)
        go.set()
        self.wait(lambda: told, 10)
        tasks.run(lambda: "last", told.append)
        self.wait(lambda: len(told) > 1, 10)
        self.assertEqual(told, ["third", "last"])

    def test_the_window_goes_on_meanwhile(self):
        tasks, told, go = tasks_of(self.window, "test"), [], threading.Event()
        threads = []
        tasks.run(lambda: threads.append(threading.current_thread()) or go.wait(10),
                      lambda _: threads.append(threading.current_thread()))  # fmt: skip
        self.session.show(self.named("Warden interview"))
        self.assertEqual(told, [])
        go.set()
        self.wait(lambda: len(threads) == 2, 10)
        self.assertIsNot(threads[0], threads[1])
        self.assertIs(threads[1], threading.main_thread())

    def test_whoever_asked_may_be_gone_by_then(self):
        parent, go, told = QObject(), threading.Event(), []
        tasks_of(parent, "test").run(lambda: go.wait(10), told.append)
        shiboken6.delete(parent)
        go.set()
        self.wait(lambda: True)
        self.assertEqual(told, [])


class HearingAside(WindowTest):
    demo = False

    def first(self):
        return self.session.recordings.all()[0].id

    def setUp(self):
        super().setUp()
        self.window.intake.add([human_recording("beckett.wav")])
        self.wait(
            lambda: self.session.recordings.all() and self.session.sounds.has(self.first()), 60
        )
        self.key = self.first()
        self.session.show(self.key)
        self.told, self.troubles = [], []
        self.session.trouble.connect(self.troubles.append)

    def hear(self, script=()):
        self.window.hearing_dialog.hear(self.key, "Listening…", self.told.append, script)

    def test_how_far_it_is_and_how_long_it_takes_is_shown_until_it_is_done(self):
        shown = []
        self.session.on_demand.listened.connect(
            lambda *_: shown.append(self.window.hearing_dialog.progress.labelText())
        )
        self.hear()
        self.assertTrue(self.window.hearing_dialog.progress.isVisible())
        self.wait(lambda: self.told, 90)
        self.assertTrue(shown and all(text.endswith(" left") for text in shown), shown)
        self.assertIsNone(self.window.hearing_dialog.progress)
        self.assertGreater(len(self.told[0]), 8)

    def test_who_cancels_is_not_told_and_may_ask_again(self):
        self.hear()
        self.window.hearing_dialog.progress.findChild(QPushButton).click()
        self.assertFalse(self.window.hearing_dialog.is_busy())
        self.hear(("Ever", "tried"))
        self.wait(lambda: self.told, 90)
        self.assertEqual([word.text for word in self.told[0]], ["Ever", "tried"])
        self.assertEqual(len(self.told), 1)

    def test_a_failure_is_a_sentence_and_the_text_stays(self):
        before = self.session.texts.transcript(self.key)
        self.hear()
        self.session.on_demand.heard.emit(self.key, "The sound cannot be read.")
        self.assertEqual(self.troubles, ["The sound cannot be read."])
        self.assertFalse(self.window.hearing_dialog.is_busy())
        self.assertEqual(self.told, [])
        self.assertIs(self.session.texts.transcript(self.key), before)

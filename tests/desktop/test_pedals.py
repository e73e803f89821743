"""Foot pedals with the sound, and the dialog that teaches them."""

from unittest.mock import patch

from PySide6.QtTest import QTest

from tamarind.application import personal
from tamarind.desktop.pedals import PedalDialog, Pedals
from tamarind.pedal.acts import Meaning, PedalAct
from tamarind.pedal.device import FoundPedals, find
from tamarind.pedal.pretended import CODES, PretendedPedal
from tests.support import FolderTest


class Sound:
    """What pedals ask of a player."""

    def __init__(self):
        self.is_playing, self.position = False, 10_000

    def play(self):
        self.is_playing = True

    def seek(self, position):
        self.position = position


class WithFeet(FolderTest):
    def setUp(self):
        super().setUp()
        from tamarind.desktop.app import make_application

        self.app = make_application()
        self.sound = Sound()
        self.pedals = Pedals(self.sound, self.toggle, self.app, looks=False)
        self.pedal = PretendedPedal()
        self.taken = []
        self.pedals.pressed.connect(lambda _pedal, press: self.taken.append(press))
        self.pedals.add(self.pedal)
        self.addCleanup(self.pedals.close)

    def toggle(self):
        self.sound.is_playing = not self.sound.is_playing

    def press(self, code, down=True):
        self.after((lambda: self.pedal.press(code)) if down else lambda: self.pedal.release(code))

    def after(self, act):
        """Do something with the pedal and wait until the window has taken it."""
        before = len(self.taken)
        act()
        for _ in range(500):
            QTest.qWait(10)
            if len(self.taken) > before:
                return
        self.fail("the press never came")

    def test_it_plays_while_the_pedal_is_held(self):
        self.press(CODES[1])
        self.assertTrue(self.sound.is_playing)
        self.press(CODES[1], down=False)
        self.assertFalse(self.sound.is_playing)

    def test_or_from_one_press_to_the_next(self):
        self.pedals.set_holds(False)
        for playing in (True, False):
            self.press(CODES[1])
            self.press(CODES[1], down=False)
            self.assertEqual(self.sound.is_playing, playing)
        self.assertFalse(Meaning.from_data(personal.read(personal.PEDALS)).holds)

    def test_back_and_forward_go_on_while_held(self):
        with patch.object(self.pedals.repeat, "start", lambda: None):
            self.press(CODES[0])
        self.assertEqual(self.sound.position, 8_000)
        self.pedals.skip()
        self.assertEqual(self.sound.position, 6_000)
        self.press(CODES[0], down=False)
        self.press(CODES[2])
        self.assertEqual(self.sound.position, 8_000)
        self.press(CODES[2], down=False)
        self.assertFalse(self.pedals.repeat.isActive())

    def test_a_pedal_is_taught_by_pressing_and_does_nothing_meanwhile(self):
        dialog = PedalDialog(self.pedals)
        self.pedals.teach(PedalAct.PLAY)
        self.assertIn("Press the pedal for “play” now", dialog.state.text())
        self.press(CODES[2])
        self.assertFalse(self.sound.is_playing)
        self.assertIn("key 3", self.pedals.key_of(PedalAct.PLAY))
        self.press(CODES[2], down=False)
        self.press(CODES[2])
        self.assertTrue(self.sound.is_playing)
        dialog.reject()
        self.assertEqual(Pedals(self.sound, self.toggle, self.app, False).meaning,
                         self.pedals.meaning)  # fmt: skip

    def test_pulled_out_it_stops_and_is_gone(self):
        self.press(CODES[1])
        self.after(self.pedal.close)
        self.assertFalse(self.sound.is_playing)
        self.assertEqual(self.pedals.pedals, [])

    def test_what_stands_in_the_way_is_said(self):
        self.after(self.pedal.close)
        self.pedals.take_found(FoundPedals((), "3 input devices may not be read."))
        dialog = PedalDialog(self.pedals)
        self.assertIn("No pedal is connected", dialog.state.text())
        self.assertIn("may not be read", dialog.state.text())
        dialog.pretend()
        self.assertIn("Simulated pedal", dialog.state.text())
        dialog.reject()
        with patch.dict("sys.modules", {"evdev": None}):
            self.assertIn("evdev", find().problem)

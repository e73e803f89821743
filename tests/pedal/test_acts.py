import unittest

from tamarind.pedal.acts import Meaning, PedalAct
from tamarind.pedal.device import is_pedal


class Meanings(unittest.TestCase):
    def test_keys_mean_what_they_mostly_do_by_where_they_lie(self):
        for codes, acts in (
            ((30,), [PedalAct.PLAY]), ((30, 48), [PedalAct.BACK, PedalAct.PLAY]),
            ((48, 30, 46), [PedalAct.BACK, PedalAct.PLAY, PedalAct.FORWARD]),
        ):  # fmt: skip
            found = [Meaning().act("P", codes, code) for code in sorted(codes)]
            self.assertEqual(found, acts)
        self.assertIsNone(Meaning().act("P", (1, 2, 3, 4), 4))

    def test_what_was_taught_counts_and_is_kept(self):
        meaning = Meaning().with_taught("P", PedalAct.PLAY, 30).with_taught("P", PedalAct.BACK, 46)
        self.assertEqual(meaning.act("P", (30, 46), 30), PedalAct.PLAY)
        self.assertEqual(meaning.act("Other", (1,), 1), PedalAct.PLAY)
        again = meaning.with_taught("P", PedalAct.PLAY, 46)
        self.assertEqual(dict(again.taught["P"]), {46: PedalAct.PLAY})
        self.assertEqual(Meaning.from_data(meaning.data()), meaning)
        for odd in (None, 3, {"taught": 3}, {"taught": {"P": {"x": "play"}}}, {"taught": {"P": 1}}):
            self.assertEqual(Meaning.from_data(odd), Meaning())

    def test_keyboards_mice_and_power_buttons_are_no_pedals(self):
        self.assertTrue(is_pedal("USB Footpedal", [256, 257, 258], True))
        self.assertTrue(is_pedal("Three keys", [30, 48, 46], False))
        self.assertFalse(is_pedal("Keyboard", list(range(1, 100)), False))
        self.assertFalse(is_pedal("Mouse", [272, 273, 274], True))
        self.assertFalse(is_pedal("Power Button", [116], False))
        self.assertFalse(is_pedal("Lid", [], False))

"""Capitals as languages have them."""

import unittest

from tamarind.formats.reading.paragraphs import SpeakerForm, speaker_label
from tamarind.transcript.capitals import capitals, with_capital


class Capitals(unittest.TestCase):
    def test_a_turkish_i_keeps_its_dot(self):
        self.assertEqual(capitals("işçi ılık", "tr"), "İŞÇİ ILIK")
        self.assertEqual(with_capital("işte", "tr-TR"), "İşte")
        self.assertEqual(capitals("işçi", "en"), "IŞÇI")
        self.assertEqual(speaker_label("İnci", SpeakerForm.CAPITALS, "tr"), "İNCİ:")

    def test_what_has_no_single_capital_stays(self):
        self.assertEqual(with_capital("ßa", "de"), "ßa")
        self.assertEqual(with_capital("", "de"), "")


if __name__ == "__main__":
    unittest.main()

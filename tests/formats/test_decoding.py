"""Which encoding a file is in is told from its bytes, and what is not clear is said."""

import unittest

from tamarind.formats import documents
from tamarind.formats.captionfile import FormatError
from tamarind.formats.decoding import decode, known_encoding, told_of
from tests.support import FolderTest

SAID = {
    "ru": ("Добрый день. Сегодня мы говорим о торфяных болотах и об уровне воды.",
           "cp1251 koi8-r cp866 iso8859-5"),
    "uk": ("Добрий день. Сьогодні ми говоримо про торфовища та рівень води.", "cp1251 koi8-u"),
    "el": ("Καλημέρα. Σήμερα μιλάμε για τους τυρφώνες και τη στάθμη του νερού.",
           "cp1253 iso8859-7"),
    "he": ("בוקר טוב. היום נדבר על אדמות כבול ועל מפלס המים.", "cp1255"),
    "ar": ("صباح الخير. اليوم سنتحدث عن مستوى المياه في أراضي الخث وكيف تغير.", "cp1256"),
    "th": ("สวัสดีครับ วันนี้เราจะพูดถึงระดับน้ำในพื้นที่พรุ และขอบคุณที่มา", "cp874"),
    "ja": ("おはようございます。今日は泥炭地の水位についてお話しします。ありがとうございました。",
           "shift_jis euc-jp iso2022-jp"),
    "zh": ("早上好。今天我们来谈谈泥炭地的水位。谢谢大家的到来，我们开始吧。", "gb18030 gbk"),
    "zh-TW": ("早安。今天我們來談談泥炭地的水位。謝謝大家的到來，我們開始吧。", "big5"),
    "ko": ("안녕하세요. 오늘은 이탄지의 수위에 대해 이야기하겠습니다.", "cp949 euc-kr"),
    "de": ("Guten Tag. Heute sprechen wir über Moore und ihren Wasserstand. Schön, größer.",
           "cp1252"),
    "fr": ("Bonjour. Aujourd'hui nous parlons des tourbières, ça a changé à cet été.", "cp1252"),
}  # fmt: skip
"""What is clear without knowing the language."""

ALIKE = {
    "pl": ("Dzień dobry. Dziś mówimy o torfowiskach i poziomie wody. Źródło, żółć, łąka.",
           "cp1250 iso8859-2"),
    "tr": ("Günaydın. Bugün turbalıkları konuşacağız. Şöyle ki, ığdır çalışıyor.", "cp1254"),
}  # fmt: skip
"""What needs the language: the same bytes make sense in Western too."""


def captions(text, encoding):
    parts = [
        f"{n}\r\n00:00:0{n},000 --> 00:00:0{n + 1},000\r\n{part}\r\n\r\n"
        for n, part in enumerate(text.split(". "), 1)
    ]
    return "".join(parts).encode(encoding)


class Encodings(unittest.TestCase):
    def test_files_from_all_over_the_world(self):
        for language, (text, encodings) in SAID.items():
            for encoding in encodings.split():
                data = captions(text, encoding)
                right = data.decode(encoding).replace("\r\n", "\n")
                for hint in ("", "en", language):
                    with self.subTest(language=language, encoding=encoding, hint=hint):
                        self.assertEqual(decode(data, hint).text, right)

    def test_what_makes_sense_in_several_is_right_with_its_language_and_not_clear_without(self):
        for language, (text, encodings) in ALIKE.items():
            for encoding in encodings.split():
                data = captions(text, encoding)
                right = data.decode(encoding).replace("\r\n", "\n")
                with self.subTest(language=language, encoding=encoding):
                    self.assertEqual(decode(data, language).text, right)
                    without = decode(data, "en")
                    texts = [without.text, *(data.decode(o).replace("\r\n", "\n")
                                             for o in without.others)]  # fmt: skip
                    self.assertIn(right, texts)

    def test_a_single_foreign_letter_is_western(self):
        self.assertEqual(decode("The café is shut.\n".encode("cp1252")).text, "The café is shut.\n")

    def test_a_named_encoding_is_taken_or_refused(self):
        data = "Добрый день".encode("koi8-r")
        self.assertEqual(decode(data, "en", "koi8-r").text, "Добрый день")
        with self.assertRaisesRegex(FormatError, "not in UTF-8"):
            decode(data, "ru", "utf-8")
        self.assertEqual(known_encoding("Shift-JIS"), "shift_jis")
        for none in ("nonsense", "rot13", "base64", "a" * 500, "\0"):
            self.assertIsNone(known_encoding(none))


class PlacedFinding(FolderTest):
    def test_what_a_file_was_taken_for_is_said(self):
        path = self.folder / "a.srt"
        path.write_bytes(captions(SAID["ru"][0], "koi8-r"))
        read = documents.read(path, "en")
        self.assertIn("KOI8-R (Russian)", read.repairs[0])
        self.assertEqual(told_of(read.decoded), "KOI8-R (Russian)")
        self.assertEqual(documents.read(path, "en", "koi8-r").repairs, [])
        path.write_bytes(captions(SAID["ru"][0], "utf-8"))
        self.assertEqual(documents.read(path, "en").repairs, [])

    def test_a_french_file_in_western_bytes_is_french_and_western(self):
        text = "Tous les étés, l'eau s'en allait. Elle était très haute à Noël. Où qu'on aille."
        path = self.folder / "f.srt"
        path.write_bytes(captions(text, "cp1252"))
        read = documents.read(path, None)
        self.assertEqual((read.transcript.language, read.decoded.encoding), ("fr", "cp1252"))

    def test_encodings_of_seven_bits(self):
        for encoding, language in (("hz", "zh"), ("utf-7", "ru")):
            path = self.folder / "s.srt"
            path.write_bytes(captions(SAID[language][0], encoding))
            self.assertEqual(documents.read(path, None).transcript.language, language)
        self.assertEqual(decode(b"1+1=2, a+b- and c~{d}").encoding, "utf_8")

    def test_a_text_that_does_not_say_its_language_is_in_its_likely_one(self):
        for language, (text, _) in SAID.items():
            path = self.folder / "b.srt"
            path.write_bytes(captions(text, "utf-8"))
            expected = {"zh-TW": "zh"}.get(language, language)
            self.assertEqual(documents.read(path, None).transcript.language, expected)
            self.assertEqual(documents.read(path, "cy").transcript.language, "cy")

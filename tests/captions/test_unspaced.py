"""Captions of text without spaces between its words."""

import unittest
from dataclasses import replace

from tamarind.captions.limits import Limits
from tamarind.captions.lines import with_breaks
from tamarind.captions.relayout import relay
from tamarind.checks.check import CheckContext
from tamarind.checks.checker import Checker
from tamarind.formats.captions import srt
from tamarind.language.housestyle import HouseStyle
from tamarind.transcript.unspaced import phrases_of

TEXTS = {
    "ja": "私たちは春に最初の排水溝を手で掘りました。とても湿っていて、膝まで水に浸かりました。"
    "泥炭地の水位は昨年より二十センチ上がっています。次の年には苔が戻ってきました。",
    "zh": "我们在春天用手挖了第一条排水沟，非常潮湿，水深及膝。第二年，苔藓回来了，"
    "水位比去年高了二十厘米，大家都很高兴，继续挖掘，直到秋天的第一场雪。",
    "th": "เราขุดร่องน้ำแรกด้วยมือในฤดูใบไม้ผลิมันเปียกมากน้ำสูงถึงเข่าของเราทุกคนในวันนั้น",
}


def read(text, language, seconds=12):
    text = srt.read(f"1\n00:00:01,000 --> 00:00:{1 + seconds:02},000\n{text}\n", language)
    return replace(text, cues=(replace(text.cues[0], breaks=None),))


class Unspaced(unittest.TestCase):
    def test_phrases_are_the_text_again_and_begin_with_no_closing_mark(self):
        for text in TEXTS.values():
            parts = phrases_of(text)
            self.assertEqual("".join(parts), text)
            self.assertGreater(len(parts), 5)
            self.assertFalse([part for part in parts if part[0] in "。，、」ー"])

    def test_cues_and_lines_are_within_the_limits_and_no_space_comes_in(self):
        limits = Limits(line_length=20, reading_speed=12)
        for language, text in TEXTS.items():
            for laid in (
                with_breaks(relay(read(text, language), 0, 1, limits, also_locked=True), limits),
                with_breaks(read(text, language), limits),
            ):
                lines = [line for cue in laid.cues for line in cue.lines]
                self.assertTrue(all(len(line) <= 20 for line in lines), lines)
                self.assertEqual("".join(lines), text)
            self.assertGreater(len(laid.cues[0].lines), 2)

    def test_a_text_that_fits_stays_as_it_is(self):
        text = read("水位は上がっています。", "ja", 3)
        self.assertEqual(with_breaks(text, Limits()).cues[0].words, text.cues[0].words)

    def test_words_with_spaces_among_them_keep_these(self):
        text = read("Peat 泥炭地の水位は昨年より二十センチ上がっています OK moss.", "ja", 9)
        limits = Limits(line_length=18)
        laid = with_breaks(relay(text, 0, 1, limits, also_locked=True), limits)
        said = " ".join(line for cue in laid.cues for line in cue.lines)
        self.assertEqual(said.replace(" ", ""), text.cues[0].text.replace(" ", ""))
        self.assertIn("OK moss.", said)

    def test_no_sentence_end_is_missed_where_it_is_there_or_not_usual(self):
        for language, text in (
            ("ja", "水位は上がっています"), ("zh", "苔藓回来了。"), ("ar", "هل عاد الماء؟"),
            ("hi", "पानी वापस आया।"), ("ko", "물이 돌아왔습니다"),
        ):  # fmt: skip
            found = Checker().check(read(text, language, 3), CheckContext(HouseStyle("Client")))
            self.assertNotIn("sentence-end", [one.finding.rule for one in found], language)

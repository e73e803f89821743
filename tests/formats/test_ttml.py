import unittest

from tamarind.formats.captionfile import FormatError, Repairs
from tamarind.formats.captions import ttml

HEAD = '<tt xmlns="http://www.w3.org/ns/ttml" xml:lang="en"><body'


def read(body: str, repairs: Repairs | None = None):
    """Times and texts of a file with this body."""
    text = ttml.read(f"{HEAD}{body}</body></tt>", "en", Repairs() if repairs is None else repairs)
    return [(c.start, c.end, c.text) for c in text.cues]


class Nested(unittest.TestCase):
    def test_times_count_from_the_part_that_they_stand_in(self):
        told = read(
            '><div begin="10s" end="30s"><p begin="2s" end="5s">Dry.</p>'
            '<p begin="6s" end="25s">Wet.</p></div>'
        )
        self.assertEqual(told, [(12_000, 15_000, "Dry."), (16_000, 30_000, "Wet.")])

    def test_times_that_make_sense_only_from_the_start_of_the_file_count_from_there(self):
        repairs = Repairs()
        told = read(
            ' dur="100s"><div begin="20s" end="40s"><p begin="20s" end="22s">'
            '<span begin="20s" end="21s">We</span> <span begin="21s" end="22s">dug</span></p>'
            '<p begin="24s" end="30s">a drain.</p></div>'
            '<div begin="50s" end="60s"><p begin="51s" end="55s">It ran.</p></div>',
            repairs,
        )
        self.assertEqual(
            told,
            [(20_000, 22_000, "We dug"), (24_000, 30_000, "a drain."), (51_000, 55_000, "It ran.")],
        )
        self.assertTrue(any("from the start of the file" in one for one in repairs))

    def test_one_that_lies_past_its_part_both_ways_does_not_turn_the_others(self):
        repairs = Repairs()
        told = read(
            '><div begin="10s" end="20s"><p begin="2s" end="5s">Dry.</p>'
            '<p begin="30s" end="31s">Wet.</p></div>',
            repairs,
        )
        self.assertIn((12_000, 15_000, "Dry."), told)
        self.assertFalse(any("from the start of the file" in one for one in repairs))

    def test_spans_with_times_of_their_own_are_cues(self):
        told = read(
            '><div><p><span begin="1s" end="2s">Dry.</span>'
            '<span begin="3s" end="4s">Wet.</span></p></div>'
        )
        self.assertEqual(told, [(1_000, 2_000, "Dry."), (3_000, 4_000, "Wet.")])
        mixed = read('><div><p end="9s">All: <span begin="1s" end="2s">dry</span></p></div>')
        self.assertEqual(mixed, [(0, 9_000, "All: dry")])


class Odd(unittest.TestCase):
    def test_durations_frames_and_ticks_are_times_too(self):
        told = read('><div><p begin="00:00:01.500" dur="2s">Dry.</p></div>')
        self.assertEqual(told, [(1_500, 3_500, "Dry.")])
        framed = HEAD.replace("<tt", '<tt xmlns:ttp="http://www.w3.org/ns/ttml#parameter"'
                              ' ttp:frameRate="25" ttp:tickRate="1000"')  # fmt: skip
        text = ttml.read(
            framed + '><div><p begin="00:00:01:05" end="50f">A.</p>'
            '<p begin="2500t" end="3500t">B.</p></div></body></tt>', "en"
        )  # fmt: skip
        self.assertEqual([(c.start, c.end) for c in text.cues], [(1_200, 2_000), (2_500, 3_500)])

    def test_what_has_no_end_stands_for_two_seconds_and_is_told(self):
        repairs = Repairs()
        self.assertEqual(read('><div><p begin="1s">Dry.</p></div>', repairs)[0][:2], (1_000, 3_000))
        self.assertTrue(any("no end" in one for one in repairs))

    def test_text_that_is_not_escaped_is_read_and_told(self):
        repairs = Repairs()
        told = read('><div><p begin="1s" end="2s">peat & moss < 5 cm</p></div>', repairs)
        self.assertEqual(told[0][2], "peat & moss < 5 cm")
        self.assertTrue(any("XML" in one for one in repairs))

    def test_looks_are_read_from_tags_styles_and_what_stands_around(self):
        text = (
            '<tt xmlns="http://www.w3.org/ns/ttml" xmlns:tts="http://www.w3.org/ns/ttml#styling">'
            '<head><styling><style xml:id="far" tts:fontStyle="italic" tts:color="no colour"/>'
            '<style xml:id="loud" style="far" tts:fontWeight="bold"/></styling></head>'
            '<body><div style="far"><p begin="1s" end="2s">Wet'
            ' <span tts:fontStyle="normal">peat, <span style="loud">all</span></span></p>'
            '<p begin="3s" end="4s" tts:fontStyle="leaning" tts:textDecoration="underline">Dry</p>'
            "</div></body></tt>"
        )
        one, two = ttml.read(text, "en").cues
        self.assertEqual([word.spans for word in one.words], [("i",), (), ("i", "b")])
        self.assertEqual(two.words[0].spans, ("i", "u"))

    def test_an_attribute_that_stands_twice_counts_once(self):
        repairs = Repairs()
        told = read('><div><p begin="1s" end="2s" begin="7s">peat & moss</p></div>', repairs)
        self.assertEqual(told, [(1_000, 2_000, "peat & moss")])
        self.assertEqual(len(repairs), 1)

    def test_other_xml_and_broken_xml_are_told_apart(self):
        for text, said in (
            ("<svg xmlns='http://www.w3.org/2000/svg'/>", "no TTML"),
            ("<tt xmlns='http://www.w3.org/ns/ttml'><body>", "no whole XML"),
            (f"{HEAD}><div/></body></tt>", "no TTML paragraph"),
        ):
            with self.assertRaisesRegex(FormatError, said):
                ttml.read(text, "en")

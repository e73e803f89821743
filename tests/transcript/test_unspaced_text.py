"""Texts of scripts without spaces: read, edited, found in, counted, and written as they were."""

import unittest
from dataclasses import replace

from tamarind.captions.limits import Limits
from tamarind.captions.lines import with_breaks
from tamarind.captions.relayout import relay
from tamarind.formats import documents
from tamarind.formats.captions import srt, vtt
from tamarind.formats.format import Options, Origin
from tamarind.job.cuedata import cue_of, row_of
from tamarind.speech.recognisers.vocabulary import words_of
from tamarind.transcript import edits
from tamarind.transcript.find import Wanted, find, replace_all
from tamarind.transcript.reconcile import retext
from tamarind.transcript.survey import Survey
from tamarind.transcript.tokens import Glued, joined, spans_of, tokens_of

JAPANESE = "溝の水は去年より高くなっています。私たちは毎朝、風が吹く前にそれを測ります。"
CHINESE = "沟里的水位比去年高。我们每天早上在起风之前测量。"
THAI = "น้ำในคูสูงกว่าปีที่แล้ว เราวัดทุกเช้าก่อนลมจะพัดแรง"
MIXED = "NHK のニュースで「泥炭地」は ２０２６年 OK だと言いました。"
CAPTIONS = (
    "1\n00:00:01,000 --> 00:00:04,000\n溝の水は　去年より\n高くなっています。\n\n"
    "2\n00:00:05,000 --> 00:00:09,000\n私たちは 毎朝、NHKを見る前に測る\n\n"
    "3\n00:00:10,000 --> 00:00:12,000\nالماء في الخندق أعلى\nمن العام الماضي.\n"
)


def heard(text, confidence=0.6):
    """A cue as it was heard: a phrase every half second."""
    read = srt.read(f"1\n00:00:01,000 --> 00:00:20,000\n{text}\n", "ja").cues[0]
    words = tuple(
        replace(word, start=1_000 + 500 * n, end=1_400 + 500 * n, confidence=confidence)
        for n, word in enumerate(read.words)
    )
    return replace(read, words=words, breaks=None)


class Tokens(unittest.TestCase):
    def test_tokens_are_the_text_again_with_its_spaces(self):
        for text in (JAPANESE, CHINESE, THAI, MIXED, "The peat 泥炭 is wet.", "Wet peat."):
            tokens = tokens_of(text)
            self.assertEqual(joined(tokens), text)
            self.assertEqual([text[a:b] for a, b in spans_of(text, tokens)], tokens)
        self.assertGreater(len(tokens_of(JAPANESE)), 8)
        self.assertEqual([type(one) for one in tokens_of("Wet peat.")], [str, str])

    def test_no_phrase_begins_with_what_closes_nor_ends_with_what_opens(self):
        for token in tokens_of("彼は「溝の水は（去年より）高い」とノートに書いたー。"):
            self.assertNotIn(token[0], "」）。ーょっ")
            self.assertNotIn(token[-1], "「（")


class NoBreakSpaces(unittest.TestCase):
    def test_they_stay_where_they_keep_a_mark_or_figure_and_are_spaces_elsewhere(self):
        text = "Il dit «\u202foui\u202f»\u00a0: 10\u202f000 m à 5\u00a0%\u202f!"
        self.assertEqual(joined(tokens_of(text)), text)
        self.assertIn("10\u202f000", tokens_of(text))
        self.assertEqual(tokens_of("the\u00a0wet\u00a0peat"), ["the", "wet", "peat"])


class Kept(unittest.TestCase):
    def test_files_that_nothing_happened_to_are_the_same_to_the_byte(self):
        text = srt.read(CAPTIONS, "ja")
        self.assertEqual(srt.write(text), CAPTIONS)
        as_vtt = vtt.write(text)
        self.assertEqual(vtt.write(vtt.read(as_vtt, "ja")), as_vtt)

    def test_rows_of_a_job_keep_what_is_glued(self):
        cue = heard(JAPANESE)
        self.assertEqual(cue_of(row_of(cue)), cue)
        self.assertEqual(cue_of(row_of(cue)).text, JAPANESE)

    def test_documents_have_no_space_between_cues(self):
        text = srt.read(CAPTIONS, "ja")
        text = replace(text, cues=tuple(replace(c, opens_paragraph=c.id != 2) for c in text.cues))
        plain = documents.write("txt", text, Origin("a", 20_000), Options()).decode()
        self.assertIn("高くなっています。私たちは 毎朝、", plain)


class Edited(unittest.TestCase):
    def test_what_nothing_happened_to_keeps_times_and_certainty(self):
        cue = heard(JAPANESE)
        new = retext(cue, JAPANESE.replace("去年", "一昨年"))
        self.assertEqual(new.text, JAPANESE.replace("去年", "一昨年"))
        kept = [word for word in new.words if word in cue.words]
        self.assertGreaterEqual(len(kept), len(cue.words) - 2)
        self.assertEqual(retext(new, JAPANESE).text, JAPANESE)

    def test_typing_letter_by_letter_costs_no_other_word_anything(self):
        cue = heard(JAPANESE)
        typed = cue
        for count in range(1, 6):
            typed = retext(typed, JAPANESE[:10] + "とても高い"[:count] + JAPANESE[10:])
        kept = [word for word in typed.words if word in cue.words]
        self.assertGreaterEqual(len(kept), len(cue.words) - 2)
        self.assertEqual(typed.text, JAPANESE[:10] + "とても高い" + JAPANESE[10:])

    def test_a_space_put_in_or_taken_out_is_all_that_changes(self):
        cue = heard("溝の水は去年より高い。")
        spaced = retext(cue, "溝の水は 去年より高い。")
        self.assertEqual(spaced.text, "溝の水は 去年より高い。")
        self.assertEqual(
            [(w.start, w.confidence) for w in spaced.words],
            [(w.start, w.confidence) for w in cue.words],
        )
        self.assertEqual(retext(spaced, cue.text), cue)

    def test_a_word_settled_as_another_stays_where_it_was(self):
        text = replace(srt.read(CAPTIONS, "ja"), cues=(heard(JAPANESE),))
        settled = edits.settle_word(text, 0, 2, "昨年より")
        self.assertIn("水は昨年より", settled.cues[0].text)
        self.assertNotIn(" ", settled.cues[0].text)

    def test_cues_are_split_and_joined_without_a_space(self):
        text = replace(srt.read(CAPTIONS, "ja"), cues=(heard(JAPANESE),))
        parts = edits.split(text, 0, 4)
        self.assertEqual(len(parts.cues), 2)
        self.assertEqual(parts.cues[0].text + parts.cues[1].text, JAPANESE)
        self.assertEqual(edits.join(parts, 0).cues[0].text, JAPANESE)

    def test_found_and_replaced_across_phrases(self):
        text = replace(srt.read(CAPTIONS, "ja"), cues=(heard(JAPANESE),))
        self.assertEqual(len(find(text, Wanted("水は去年"))), 1)
        new, count = replace_all(text, Wanted("毎朝、風"), "毎晩、雨")
        self.assertEqual((count, new.cues[0].text), (1, JAPANESE.replace("毎朝、風", "毎晩、雨")))


class Counted(unittest.TestCase):
    def test_every_letter_is_a_word(self):
        text = replace(srt.read(CAPTIONS, "ja"), cues=(heard("溝の水は高い。OK peat"),))
        self.assertEqual(Survey().follow(text).words(), 6 + 2)

    def test_a_line_has_sixteen_letters_of_full_width_or_forty_two_others(self):
        limits = Limits()
        text = replace(srt.read(CAPTIONS, "ja"), cues=(heard(JAPANESE * 2),))
        laid = with_breaks(relay(text, 0, 1, limits, also_locked=True), limits)
        lines = [line for cue in laid.cues for line in cue.lines]
        self.assertLessEqual(max(map(len, lines)), 16)
        self.assertEqual("".join(lines), JAPANESE * 2)
        self.assertFalse([line for line in lines if line[0] in "。、」ー"])
        self.assertEqual(limits.width("peat" * 5), 20)
        self.assertEqual(limits.width("泥" * 16), 42)


class Heard(unittest.TestCase):
    def test_phrases_know_the_tokens_that_they_came_of(self):
        pieces = [b"\xe6\xba\x9d\xe3", b"\x81\xae", "水は".encode(), "去年より".encode(),
                  "高く".encode(), "なって".encode(), "います。".encode()]  # fmt: skip
        found = words_of(list(range(len(pieces))), pieces.__getitem__)
        self.assertEqual(joined(text for text, _ in found), "溝の水は去年より高くなっています。")
        self.assertEqual(found[0], ("溝の", range(2)))
        self.assertEqual(found[1], ("水は", range(2, 3)))
        self.assertTrue(isinstance(found[1][0], Glued) and not isinstance(found[0][0], Glued))
        self.assertTrue(all(len(places) for _, places in found))


if __name__ == "__main__":
    unittest.main()

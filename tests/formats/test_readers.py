"""Every reader: byte-exact round trips, damaged files, and any bytes at all."""

import json
import os
import unittest
from dataclasses import replace
from itertools import pairwise
from pathlib import Path
from unittest.mock import patch

import pysubs2
from hypothesis import given, settings
from hypothesis import strategies as st

from tamarind.captions.limits import ORDINARY
from tamarind.captions.lines import with_breaks
from tamarind.formats import documents
from tamarind.formats.captionfile import FormatError, Repairs
from tamarind.formats.captions import srt, substation, ttml, vtt
from tamarind.formats.data import everything
from tamarind.formats.decoding import decode
from tamarind.formats.format import Details, Origin
from tamarind.formats.reading import plaintext
from tamarind.transcript.model import Speaker, Transcript
from tests.formats.test_formats import awkward
from tests.support import FolderTest, cue, moor, words_of

READERS = {
    "srt": srt.read, "vtt": vtt.read, "json": everything.read, "txt": plaintext.read,
    "ttml": ttml.read, "ass": substation.read,
}  # fmt: skip

PIECES = st.sampled_from([
    "WEBVTT\n", "\n", "\n\n", "1\n", "2", "00:00:01,000 --> 00:00:02,500\n", "-->", "text ",
    "<v A>", "</v>", "<00:00:01.500>", "<c.loud>", "&amp;", "&", "<", ">", "NOTE\n", "STYLE\n",
    "REGION\n",
    "00:01.000 --> 00:00.500 line:0 odd\n", "99999999999999999999:00:00.000 --> 1:0:0.0\n",
    "{\\an8}",
    "[Events]\n", "Dialogue: 0,0:00:01.00,0:00:02.00,Default,A,0,0,0,,Hello\\Nyou\n",
    "Format: Layer, Start, End, Style, Name, MarginL, MarginR, MarginV, Effect, Text\n",
    '<tt xmlns="http://www.w3.org/ns/ttml"><body><div>',
    '<p begin="1s" end="2.5s">Wet<br/>peat</p>', '<p begin="x" dur="-3q">', "</p>",
    "</div></body></tt>", "[00:00:05] ", "WARDEN: ", "\x0c", "\u2028",
    '{"format": "tamarind-transcript", "version": 1, "cues": [', '{"start": 1, "end": "x"}', "]}",
])  # fmt: skip


def rich() -> Transcript:
    """A text with all that WebVTT can hold of one."""
    text = with_breaks(moor(), ORDINARY)
    first, second, *rest = text.cues
    spoken = [replace(word, spans=("c.loud", "i")) for word in second.words[:4]]
    spoken.append(replace(second.words[4], spans=("c.loud",)))
    cues = (
        replace(first, placement="line:0 align:start", note="Who asks?\n\n\nTwo\nlines"),
        replace(second, words=(*spoken, *second.words[5:])),
        *rest,
    )
    style = "STYLE\n::cue { color: teal }\n\nNOTE By hand\n\nREGION\nid:top\nwidth:40%"
    return replace(text, cues=cues, preamble=style)


class RoundTrips(unittest.TestCase):
    def test_what_is_written_comes_back_to_the_byte(self):
        for text in (rich(), awkward()):
            for suffix, read in READERS.items():
                if suffix == "ass":
                    continue
                with self.subTest(suffix, text=text.cues[0].text):
                    source = Origin("moor.wav", 12_500)
                    first = documents.write(suffix, text, source)
                    repairs = Repairs()
                    again = read(decode(first).text, "en", repairs)
                    self.assertEqual(documents.write(suffix, again, source), first)
                    self.assertEqual(repairs, [])

    def test_times_of_words_come_back_too(self):
        timed = Details(word_times=True)
        first = vtt.write(rich(), timed)
        self.assertIn("<00:00:01.300>did", first)
        again = vtt.read(first, "en")
        self.assertEqual(vtt.write(again, timed), first)
        starts = [word.start for each in rich().cues for word in each.words]
        self.assertEqual([w.start for each in again.cues for w in each.words], starts)


class Readers(unittest.TestCase):
    @settings(max_examples=150)
    @given(st.binary(max_size=400) | st.lists(PIECES, max_size=25).map("".join).map(str.encode))
    def test_any_bytes_get_an_answer_or_a_clear_error(self, data):
        for suffix, read in READERS.items():
            try:
                text = read(decode(data).text, "en")
            except FormatError as error:
                self.assertTrue(str(error).endswith((".", ".)")), error)
                continue
            for before, after in zip(text.cues, text.cues[1:], strict=False):
                self.assertLessEqual(before.start, after.start, suffix)
            for each in text.cues:
                self.assertTrue(0 <= each.start < each.end and each.words, (suffix, each))
                self.assertTrue(all(w.start < w.end for w in each.words), (suffix, each))

    def test_long_lines_of_marks_are_read_in_no_time(self):
        hard = (
            "<" * 60_000, "&" * 60_000, "{\\" * 40_000, "<00:00:01.100>a" * 8_000,
            "\n" * 80_000, "[0:00:01] " * 8_000, " \t" * 50_000,
        )  # fmt: skip
        for piece in hard:
            body = f"WEBVTT\n\n00:00:01.000 --> 00:00:09.000\n{piece}\n"
            for suffix, read in READERS.items():
                try:
                    text = read(decode(body.encode()).text, "en")
                except FormatError as error:
                    self.assertTrue(str(error).endswith((".", ".)")), (suffix, error))
                    continue
                said = "".join(piece.split())
                kept = sum(len(cue.text.replace(" ", "")) for cue in text.cues)
                self.assertLessEqual(kept, len(said) + len(body) - len(piece), suffix)
                if suffix == "vtt" and said.startswith("["):
                    self.assertEqual(kept, len(said), suffix)

    def test_webvtt_keeps_settings_styles_and_words_that_look_like_tags(self):
        text = (
            "WEBVTT\n\nSTYLE\n::cue { color: teal }\n\n"
            "00:01.000 --> 00:03.000 line:0 align:start nonsense\n"
            "<c.loud>Wet</c> <LAUGHS> 3 < 4 <00:00:02.500>peat\n"
        )
        repairs = Repairs()
        read = vtt.read(text, "en", repairs)
        (one,) = read.cues
        self.assertEqual(one.text, "Wet <LAUGHS> 3 < 4 peat")
        self.assertEqual(one.placement, "line:0 align:start")
        self.assertEqual(one.words[-1].start, 2500)
        self.assertEqual(read.preamble, "STYLE\n::cue { color: teal }")
        self.assertEqual(repairs, ["Line 6 has a setting that is none."])
        self.assertEqual([word.spans for word in one.words[:2]], [("c.loud",), ()])

    def test_webvtt_keeps_notes_and_spans_where_they_stood(self):
        text = (
            "WEBVTT\n\nNOTE Language: en\n\nNOTE For the trust\n\nSTYLE\n::cue { color: teal }\n\n"
            "NOTE\nAsk who\nthis is\n\nNOTE twice\n\n"
            "00:00:01.000 --> 00:00:03.000\n"
            "<v Ann>We <i>dug <b>it</b>\nup</i> <lang es>solos</lang></v>\n\n"
            "00:00:03.000 --> 00:00:04.000\n<c.loud.red>Wet</c> peat\n\n"
            "NOTE The end\n"
        )
        read = vtt.read(text, "en")
        one, two = read.cues
        spans = [(), ("i",), ("i", "b"), ("i",), ("lang es",)]
        self.assertEqual([word.spans for word in one.words], spans)
        self.assertEqual(one.note, "\nAsk who\nthis is\n\ntwice")
        self.assertEqual(two.words[0].spans, ("c.loud.red",))
        last = "NOTE The end\n"
        self.assertEqual(vtt.write(read), text.replace(f"\n{last}", "").replace(
            "NOTE\nAsk", f"{last}\nNOTE\nAsk"))  # fmt: skip
        plain = vtt.write(read, Details(kept=False))
        for tag in ("<i>", "<c", "NOTE Ask", "STYLE", "<lang"):
            self.assertNotIn(tag, plain)

    def test_tags_that_do_not_close_or_cross_lose_no_word(self):
        for body, spans in (
            ("<i>We dug", [("i",), ("i",)]),
            ("<i>We <b>dug</i> it</b> up", [("i",), ("i", "b"), ("b",), ()]),
            ("We</i> <font color=red>dug</font>", [(), ()]),
            ("<c>We</c> <b.loud>dug", [(), ("b.loud",)]),
            ("<i>pe</i>at <ruby>bog<rt>moor</rt></ruby>", [("i",), ("rt 0 3 moor",)]),
            ("<ruby>bog<rt>moor", [()]),
        ):
            (one,) = vtt.read(f"WEBVTT\n\n00:01.000 --> 00:02.000\n{body}\n", "en").cues
            self.assertEqual([word.spans for word in one.words], spans, body)

    def test_substation_keeps_italics_of_tags_and_styles(self):
        file = pysubs2.SSAFile()
        file.styles = {
            "Default": pysubs2.SSAStyle(bold=True), "Thought": pysubs2.SSAStyle(italic=True)
        }  # fmt: skip
        for style, body, spans in (
            ("Default", "We {\\i1}dug\\Nit{\\i0} up", [(), ("i",), ("i",), ()]),
            ("Thought", "Wet {\\i0}peat", [("i",), ()]),
            ("Default", "Wet {\\u1}peat", [(), ("u",)]),
        ):
            file.events = [pysubs2.SSAEvent(1000, 2000, body, style=style)]
            (one,) = substation.read(file.to_string("ass"), "en").cues
            self.assertEqual([word.spans for word in one.words], spans)

    def test_srt_keeps_italics_bold_and_underlined(self):
        text = "1\n00:00:01,000 --> 00:00:02,000\n<i>We dug</i>\n<b><u>it</u></b> up\n"
        read = srt.read(text.replace("<i>", "{\\an2}<I >"), "en")
        self.assertEqual(srt.write(read), text)
        (one,) = vtt.read("WEBVTT\n\n00:01.000 --> 00:02.000\n<c.a><i.b>Wet</i></c>\n", "en").cues
        self.assertIn("\n<i>Wet</i>\n", srt.write(replace(read, cues=(one,))))

    def test_ttml_with_other_peoples_times_and_speakers(self):
        text = (
            '<tt xmlns="http://www.w3.org/2006/10/ttaf1" xml:lang="en"'
            ' xmlns:ttp="http://www.w3.org/2006/10/ttaf1#parameter" ttp:frameRate="25">'
            '<head><styling><style xml:id="s" fontSize="3cubits"/></styling></head><body><div>'
            '<p begin="0:00:01.5" end="0:00:02.5">Wet & cold<br/>peat</p>'
            '<p begin="00:00:03:05" dur="25f">by frames</p>'
            '<p begin="4.5" end="6">plain seconds</p></div></body></tt>'
        )
        repairs = Repairs()
        read = ttml.read(text, "en", repairs)
        self.assertEqual(
            [(c.start, c.end, c.lines) for c in read.cues],
            [
                (1500, 2500, ("Wet & cold", "peat")),
                (3200, 4200, ("by frames",)),
                (4500, 6000, ("plain seconds",)),
            ],
        )
        self.assertEqual(len(repairs), 2)
        again = ttml.read(ttml.write(moor()), "en")
        self.assertEqual(again.speakers, (Speaker(1, "Interviewer"), Speaker(2, "Warden")))

    def test_substation_takes_speakers_and_leaves_drawings(self):
        head = (
            "[Script Info]\nScriptType: v4.00+\n\n[V4+ Styles]\nFormat: Name\nStyle: Default\n\n"
            "[Events]\nFormat: Layer, Start, End, Style, Name, MarginL, MarginR, MarginV,"
            " Effect, Text\n"
        )
        line = "{}: 0,0:00:0{}.00,0:00:0{}.50,Default,{},0,0,0,,{}\n"
        text = head + "".join((
            line.format("Dialogue", 1, 2, "Warden", "{\\i1}Dry.{\\i0}\\NAll dry."),
            line.format("Comment", 3, 4, "", "not shown"),
            line.format("Dialogue", 5, 6, "", "{\\p1}m 0 0 l 10 10{\\p0}"),
        ))  # fmt: skip
        repairs = Repairs()
        read = substation.read(text, "en", repairs)
        (one,) = read.cues
        self.assertEqual((one.start, one.end, one.lines), (1000, 2500, ("Dry.", "All dry.")))
        self.assertEqual(read.speaker(one.speaker).name, "Warden")
        self.assertEqual(repairs, ["1 drawings were left out."])

    def test_srt_says_what_it_mended(self):
        text = (
            "a title\n\n1\n00:00:05,000 --> 00:00:04,000\nreversed\n2\n"
            "00:00:01,000 --> 00:00:02,000\n< i >early< /i >\n\n00:00:08,0 --> 00:00:09,0\n\n"
        )
        repairs = Repairs()
        read = srt.read(text, "en", repairs)
        self.assertEqual([c.text for c in read.cues], ["early", "reversed"])
        said = " ".join(repairs)
        for what in (
            "before the first",
            "no number",
            "not in the order",
            "ended before",
            "no text",
        ):
            self.assertIn(what, said)

    def test_a_plain_transcript_has_speakers_and_times_if_it_says_so(self):
        text = (
            "[00:00:05] Warden: It was dry.\n\n[00:00:09] Ann Lee: Was it?\n\nWarden: Note: it was."
            "\n\nAnn Lee: Yes."
        )
        read = plaintext.read(text, "en")
        self.assertEqual([c.start for c in read.cues[:2]], [5000, 9000])
        names = [read.speaker(c.speaker).name for c in read.cues]
        self.assertEqual(names, ["Warden", "Ann Lee", "Warden", "Ann Lee"])
        self.assertEqual(read.cues[2].text, "Note: it was.")


class BigFiles(FolderTest):
    def test_a_file_beyond_all_reason_is_refused_before_it_is_read(self):
        path = self.folder / "big.srt"
        path.write_text("1\n00:00:01,000 --> 00:00:02,000\nwet\n")
        with (
            patch.object(documents, "LARGEST_FILE", 10),
            self.assertRaisesRegex(FormatError, "larger than"),
        ):
            documents.read(path, "en")

    def test_a_missing_file_is_told(self):
        with self.assertRaisesRegex(FormatError, "cannot be read"):
            documents.read(Path(self.folder / "none.vtt"), "en")

    def test_many_speakers_and_cues_keep_their_order(self):
        cues = tuple(
            cue(n, f"word{n} again", n * 2_000, speaker=n % 300 + 1) for n in range(1, 3_000)
        )
        speakers = tuple(Speaker(n, f"Speaker {n}") for n in range(1, 301))
        text = Transcript("en", cues, speakers)
        read = vtt.read(vtt.write(text), "en")
        self.assertEqual([c.text for c in read.cues], [c.text for c in cues])
        self.assertEqual(len(read.speakers), 300)
        self.assertEqual(read.cues[0].words[0].text, words_of("word1")[0].text)


class FromAnywhere(FolderTest):
    def read(self, name, text):
        path = self.folder / name
        path.write_text(text)
        return documents.read(path, "en")

    def test_a_place_or_a_name_in_json_writes_no_cue_of_its_own(self):
        owned = "\n\n00:00:01.000 --> 00:00:02.000\nowned"
        data = {
            "format": "tamarind-transcript", "version": 1, "language": f"en{owned}",
            "preamble": f"STYLE\n{owned}\n\nNOTE fine", "speakers": [f"Ann{owned}"],
            "cues": [{"start": 1, "end": 2, "text": "Hello", "speaker": f"Ann{owned}",
                      "placement": f"line:0{owned}", "note": f"x{owned}"}],
        }  # fmt: skip
        read = self.read("a.json", json.dumps(data))
        text = documents.write("vtt", read.transcript, read.source).decode()
        again = self.read("a.vtt", text).transcript
        self.assertEqual([cue.text for cue in again.cues], ["Hello"])
        self.assertEqual(read.transcript.cues[0].placement, "")

    def test_a_setting_that_is_none_is_left_out(self):
        for setting in ("line:<tt0", "line:>0", "position:&5", "line:" + "9" * 200):
            read = self.read("a.vtt", f"WEBVTT\n\n00:01.000 --> 00:02.000 {setting}\nHello\n")
            self.assertEqual(read.transcript.cues[0].placement, "")
            self.assertIn("a setting that is none", " ".join(read.repairs))

    def test_values_of_another_kind_are_a_sentence(self):
        good = {"start": 1, "end": 2, "text": "Hello"}
        for odd in ({"start": 1e308}, {"start": float("nan")}, {"end": True}, {"text": 5},
                    {"words": [{"text": "Hello", "start": 1, "end": 2, "certainty": 7}]},
                    {"text": None}):  # fmt: skip
            data = {"format": "tamarind-transcript", "version": 1, "cues": [{**good, **odd}]}
            with self.assertRaisesRegex(FormatError, "Cue 1 of the file"):
                self.read("odd.json", json.dumps(data))
        data = {"format": "tamarind-transcript", "version": 1, "cues": [good], "media": 7}
        self.assertEqual(len(self.read("media.json", json.dumps(data)).transcript.cues), 1)
        half = {**good, "text": "half \ud800 letter"}
        data = {"format": "tamarind-transcript", "version": 1, "cues": [half]}
        self.assertEqual(self.read("h.json", json.dumps(data)).transcript.cues[0].text,
                         "half letter")  # fmt: skip

    def test_times_beyond_any_recording_are_left_out_and_told(self):
        text = "WEBVTT\n\n9999:00:00.000 --> 9999:00:02.000\nfar\n\n00:01.000 --> 00:02.000\nnear\n"
        read = self.read("far.vtt", text)
        self.assertEqual([cue.text for cue in read.transcript.cues], ["near"])
        self.assertIn("beyond the end of any recording", " ".join(read.repairs))

    def test_stamped_paragraphs_begin_when_they_say_however_fast_they_are_said(self):
        long = "Wet peat keeps what fell on it. " * 20
        text = (
            f"[00:01] {long}\n\n[00:05] {long}\n\nWithout a time.\n\n[00:09] Yes, dams.\n\n"
            "[00:09] No.\n\n[00:03] Earlier.\n\n[99999:00:00] Far."
        )
        read = self.read("fast.txt", text)
        starts = [cue.start for cue in read.transcript.cues]
        self.assertEqual([starts[at] for at in (0, 1, 3, 4, 5)], [1000, 5000, 9000, 9002, 9003])
        self.assertTrue(5000 < starts[2] < 9000)
        for one, after in pairwise(read.transcript.cues):
            self.assertLessEqual(one.end, after.start)
        self.assertEqual(len(read.repairs), 2)
        self.assertIn("beyond the end of any recording", read.repairs[0])
        self.assertIn("stamped 00:00:03.000 stands after a later one", read.repairs[1])

    def test_captions_that_run_into_an_earlier_one_or_last_no_time_are_told(self):
        times = ("01,000 --> 00:00:09,000", "02,000 --> 00:00:03,000", "05,000 --> 00:00:05,000",
                 "09,000 --> 00:00:10,000")  # fmt: skip
        text = "\n".join(f"{n}\n00:00:{time}\nThree short words\n" for n, time in enumerate(times))
        read = self.read("within.srt", text)
        self.assertEqual(
            [(cue.start, cue.end) for cue in read.transcript.cues],
            [(1000, 9000), (2000, 3000), (5000, 5003), (9000, 10_000)],
        )
        told = [(fault.number, fault.reason) for fault in read.repairs.faults]
        early = "it begins before the one before has ended"
        self.assertEqual(told, [(2, early), (3, "it is too short for its words"), (3, early)])
        self.assertIn("shown for 0 ms, too short for its words: it is 3 ms", " ".join(read.repairs))

    def test_a_pipe_or_a_device_is_no_caption_file(self):
        os.mkfifo(self.folder / "pipe.srt")
        (self.folder / "device.srt").symlink_to("/dev/zero")
        (self.folder / "kernel.srt").symlink_to("/proc/kmsg")
        for name in ("pipe.srt", "device.srt", "kernel.srt"):
            with self.assertRaises(FormatError):
                documents.read(self.folder / name, "en")

    def test_words_of_a_megabyte(self):
        read = self.read("long.srt", f"1\n00:00:01,000 --> 00:00:02,000\n{'w' * 1_000_000}\n")
        words = read.transcript.cues[0].words
        self.assertEqual("".join(word.text for word in words), "w" * 1_000_000)
        self.assertLessEqual(max(len(word.text) for word in words), 1_000)

import json
import random
import unittest
from pathlib import Path
from unittest.mock import patch

import pysubs2
import webvtt

from tamarind.captions.limits import ORDINARY
from tamarind.captions.lines import with_breaks
from tamarind.formats import documents
from tamarind.formats.captionfile import FormatError, Repairs
from tamarind.formats.captions import srt, ttml, vtt
from tamarind.formats.data import everything
from tamarind.formats.decoding import decode
from tamarind.formats.reading import plaintext
from tamarind.formats.reading.paragraphs import SpeakerForm, Stamps, TextOptions
from tamarind.formats.reading.parts import Reading
from tamarind.formats.timecode import clock, parse_time
from tamarind.job.store import JobStore
from tamarind.system.files import write_whole
from tamarind.transcript.model import Transcript
from tests.doses import dose
from tests.support import FolderTest, cue, moor


def shape(transcript, speakers=True):
    """What a caption file holds of a text."""
    return [
        (
            c.start,
            c.end,
            c.lines,
            transcript.speaker(c.speaker).name if c.speaker and speakers else None,
        )
        for c in transcript.cues
    ]


def awkward():
    """A text with all that caption files trip over."""
    texts = (
        "It is < 10 cm & > 5 cm – honestly!",
        "00:00:01 --> is no time here",
        "1952",
        "naïve Ünïcode “quotes” 水苔 مستنقع",
        "a rather long cue that will need to be broken into two lines by the layout",
    )
    cues = tuple(cue(n, text, n * 10_000 + n) for n, text in enumerate(texts, 1))
    return with_breaks(Transcript("en", cues), ORDINARY)


class RoundTrips(FolderTest):
    def test_srt_and_webvtt_come_back_the_same(self):
        for text in (with_breaks(moor(), ORDINARY), awkward()):
            self.assertEqual(shape(srt.read(srt.write(text), "en")), shape(text, False))
            self.assertEqual(shape(vtt.read(vtt.write(text), "en")), shape(text))
            again = vtt.read(vtt.write(text), "en")
            self.assertEqual(vtt.write(again), vtt.write(text))

    def test_two_libraries_read_them_without_complaint(self):
        for text in (with_breaks(moor(), ORDINARY), awkward()):
            path = self.folder / "text.srt"
            path.write_text(srt.write(text))
            for events in (pysubs2.load(str(path)), webvtt.from_srt(str(path))):
                self.assertEqual(len(events), len(text.cues))
            first = pysubs2.load(str(path))[0]
            self.assertEqual((first.start, first.end), (text.cues[0].start, text.cues[0].end))
            self.assertEqual(first.plaintext, "\n".join(text.cues[0].lines))
            path = self.folder / "text.vtt"
            path.write_text(vtt.write(text))
            read = webvtt.read(str(path))
            self.assertEqual([clock(c.start) for c in text.cues], [c.start for c in read])
            self.assertEqual(len(pysubs2.load(str(path))), len(text.cues))
        self.assertEqual(webvtt.from_string(vtt.write(moor()))[1].voice, "Warden")
        file = pysubs2.SSAFile.from_string(ttml.write(moor()), format_="ttml")
        self.assertEqual([e.start for e in file], [c.start for c in moor().cues])
        self.assertEqual(file[1].plaintext, moor().cues[1].text)

    def test_json_keeps_words_confidence_and_paragraphs(self):
        text = with_breaks(moor(), ORDINARY)
        data = json.loads(
            everything.write(text, "moor.wav", 12_500, {"es": ["¿Cómo?", None, None]})
        )
        self.assertEqual(data["format"], "tamarind-transcript")
        self.assertEqual(data["media"], {"name": "moor.wav", "duration": 12.5})
        self.assertEqual(data["cues"][1]["speaker"], "Warden")
        self.assertEqual(data["cues"][1]["words"][6]["certainty"], 0.3)
        self.assertEqual(data["translations"]["es"], ["¿Cómo?", None, None])
        again = everything.read(json.dumps(data), "en")
        self.assertEqual([c.words for c in again.cues], [c.words for c in text.cues])
        self.assertEqual([c.opens_paragraph for c in again.cues], [True, True, False])


class ReadTexts(unittest.TestCase):
    def test_lines_whose_times_make_no_sense_are_no_text(self):
        repairs = Repairs()
        text = srt.read(
            "1\n-00:00:01,000 --> 00:00:03,000\nFirst.\n\n2\n00:00:05,000 -->\nSecond.\n\n"
            "3\n00:00:xx,000 --> 00:00:09,000\nThird, a --> b.\n\n4\n0:12,5 → 0:13\nFourth.\n",
            "en", repairs,
        )  # fmt: skip
        said = [(cue.text, cue.start, cue.end) for cue in text.cues]
        self.assertEqual(
            said,
            [("First.", 0, 3_000), ("Second.", 5_000, 7_000), ("Third, a --> b.", 7_000, 9_000),
             ("Fourth.", 12_500, 13_000)],
        )  # fmt: skip
        self.assertEqual(sum("make no sense" in one for one in repairs), 3)
        text = vtt.read("WEBVTT\n\n00:01.000 --> 0:0x\nDry.\n", "en", Repairs())
        self.assertEqual([cue.text for cue in text.cues], ["Dry."])

    def test_srt_with_what_people_send(self):
        text = (
            "\ufeff1\n00:00:01,000 --> 00:00:02,5\n<i>Hello</i> {\\an8}there\n\n"
            "00:00:03.000 --> 00:00:04.000 X1:40\nno number\nand 12\n13\n\n"
            "7\n00:00:09,000 --> 00:00:08,000\nreversed\n\n\n"
            "4\n00:00:05,000 --> 00:00:05,000\n\n"
            "5\n00:00:06,000 --> 00:00:06,000\nno length"
        )
        cues = srt.read(text.lstrip("\ufeff"), "en").cues
        self.assertEqual(
            [(c.start, c.lines) for c in cues],
            [
                (1000, ("Hello there",)),
                (3000, ("no number", "and 12", "13")),
                (6000, ("no length",)),
                (8000, ("reversed",)),
            ],
        )
        self.assertTrue(all(c.end > c.start for c in cues))

    def test_webvtt_with_notes_styles_settings_and_voices(self):
        text = (
            "WEBVTT - a talk\nKind: captions\nLanguage: es\n\nSTYLE\n::cue { color: red }\n\n"
            "NOTE 00:00:00.000 is no cue\nto be read\n\nintro\n"
            "00:01.000 --> 00:02.000 align:start position:10%\n"
            "<v.loud Pat Hill>Good &amp; <b>wet</b></v>\n\n"
            "01:00:00.000 --> 01:00:04.000\n<v Pat>First.<v Robin>Second one."
        )
        read = vtt.read(text, "en")
        self.assertEqual(read.language, "es")
        self.assertEqual(
            shape(read),
            [
                (1000, 2000, ("Good & wet",), "Pat Hill"),
                (3_600_000, 3_601_411, ("First.",), "Pat"),
                (3_601_411, 3_604_000, ("Second one.",), "Robin"),
            ],
        )

    def test_odd_encodings(self):
        text = "1\r\n00:00:01,000 --> 00:00:02,000\r\nnaïve – café\r\n"
        for encoding in ("utf-8", "utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "cp1252"):
            with self.subTest(encoding):
                (read,) = srt.read(decode(text.encode(encoding)).text, "en").cues
                self.assertEqual(read.text, "naïve – café")

    def test_what_is_no_caption_file_is_refused_in_a_sentence(self):
        for read, text in (
            (srt.read, "nothing here"),
            (vtt.read, "WEBVTT\n\nnothing"),
            (everything.read, "{]"),
            (everything.read, '{"format": "other"}'),
            (everything.read, '{"format": "tamarind-transcript", "version": 2}'),
            (everything.read, '{"format": "tamarind-transcript", "version": 1, "cues": [{}]}'),
            (plaintext.read, " \n "),
        ):
            with self.subTest(text), self.assertRaises(FormatError) as caught:
                read(text, "en")
            self.assertTrue(str(caught.exception).endswith("."))
        with self.assertRaises(FormatError):
            decode(bytes(range(256)) * 40)

    def test_any_text_gets_an_answer(self):
        rng = random.Random(8)
        pieces = ["1\n", "00:00:01,000 --> 00:00:02,000\n", "-->", "WEBVTT\n", "\n", "<v ", ">",
                  "text ", "&amp;", "{", "\\", "[", "99:99:99,999 --> 0:0:0,0\n",
                  '"cues"']  # fmt: skip
        for _ in range(dose(120, 5_000)):
            text = "".join(rng.choices(pieces, k=rng.randint(0, 30)))
            for read in (srt.read, vtt.read, everything.read, plaintext.read):
                try:
                    cues = read(text, "en").cues
                except FormatError:
                    continue
                self.assertTrue(all(c.start < c.end and c.words for c in cues))


class PlainTranscripts(unittest.TestCase):
    def test_paragraphs_speakers_and_times_by_choice(self):
        with_all = plaintext.write(moor(), Reading("", 0, TextOptions(stamps=Stamps.PARAGRAPHS)))
        self.assertEqual(
            with_all,
            "[00:00:01] Interviewer: What did the moor look like?\n\n"
            "[00:00:04] Warden: Dry. You could walk to the pines. "
            "Every winter the water ran away.\n",
        )
        bare = plaintext.write(moor(), Reading("", 0, TextOptions(SpeakerForm.NONE)))
        self.assertEqual(bare.splitlines()[0], "What did the moor look like?")
        self.assertNotIn("Warden", bare)


class Times(unittest.TestCase):
    def test_to_and_from_text(self):
        self.assertEqual(clock(3_723_045), "01:02:03.045")
        self.assertEqual(clock(63_950, 1, hours=False), "01:03.9")
        for text, time in (
            ("1:02:03.5", 3_723_500), ("02:03", 123_000), ("83.25", 83_250), ("90m", 5_400_000),
            ("1h30m", 5_400_000), ("1 h 2 min 3.5 s", 3_723_500), ("20s", 20_000), ("250ms", 250),
        ):  # fmt: skip
            self.assertEqual(parse_time(text), time)
        for text in ("", "abc", "1:2:3:4", "-5", "12x", "h", "5s 3m"):
            with self.assertRaises(ValueError):
                parse_time(text)


class Writing(FolderTest):
    def test_a_memory_stick_has_no_second_names(self):
        path = self.folder / "out.srt"
        with patch("os.link", side_effect=PermissionError(1, "Operation not permitted")):
            write_whole(path, b"first", new=True)
            with self.assertRaises(FileExistsError):
                write_whole(path, b"second", new=True)
            JobStore(self.folder / "a.tamarind").close()
        self.assertEqual(path.read_bytes(), b"first")
        self.assertEqual(
            sorted(p.name for p in self.folder.glob("[!X]*")), ["a.tamarind", "out.srt"]
        )

    def test_a_file_is_whole_or_as_it_was(self):
        path = self.folder / "out.srt"
        write_whole(path, b"first")
        write_whole(path, b"second")
        self.assertEqual(path.read_bytes(), b"second")
        with self.assertRaises(OSError):
            write_whole(self.folder / "no such folder" / "out.srt", b"x")
        self.assertEqual([p.name for p in self.folder.glob("*.srt")], ["out.srt"])

    def test_an_unknown_suffix_is_told(self):
        with self.assertRaisesRegex(FormatError, "does not end in"):
            documents.suffix_of(Path("text.doc"))

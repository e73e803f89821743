"""Files for broadcasters: rows and columns, codes and blocks, timecodes, what they cannot hold."""

import random
import unittest
from dataclasses import replace
from fractions import Fraction

from pycaption import SCCReader
from ttconv.time_code import FPS_29_97, SmpteTimeCode

from tamarind.captions.limits import Limits
from tamarind.captions.phrases import in_phrases
from tamarind.formats import documents
from tamarind.formats.broadcast import line21, scc, stl
from tamarind.formats.broadcast.rows import Grid, placement_at, rows_of
from tamarind.formats.broadcast.smpte import CALLED, NTSC, Timecodes
from tamarind.formats.captionfile import FormatError
from tamarind.formats.format import Options, Origin
from tamarind.language.housestyle import HouseStyle
from tamarind.language.publishing import Ways, published
from tamarind.picture.lookbook import SHIPPED
from tamarind.transcript.model import Cue, Transcript
from tests.doses import dose
from tests.support import cue, moor

SOURCE = Origin("Moor talk.wav", 30_000)
STYLE = HouseStyle("Narrow", Limits(line_length=32))
PLAIN = Options()
AT_TEN = Options(timecodes=Timecodes("10:00:00:00"))
LETTERS = "Água é «fria»: ñandú ♪♪ 5 £, “dry”, it's *3* Ünder {x}"


def coloured(text: Transcript, place: int, *spans: str) -> Transcript:
    """A text with the second word of a cue in some spans."""
    cues = list(text.cues)
    words = list(cues[place].words)
    words[1] = replace(words[1], spans=spans)
    cues[place] = replace(cues[place], words=tuple(words))
    return replace(text, cues=tuple(cues))


def written(suffix: str, text: Transcript, options: Options = PLAIN) -> bytes:
    return documents.write(
        suffix, published(text, suffix, STYLE, Ways(options.rows)), SOURCE, options
    )


def read(suffix: str, data: bytes) -> Transcript:
    return documents.read_bytes(data, suffix, "x", "en").transcript


def talk(*lines: tuple[int, int, str]) -> Transcript:
    """Cues with a start, an end and a text."""
    cues = []
    for number, (start, end, text) in enumerate(lines, 1):
        one = cue(number, text, start)
        step = (end - start) // len(one.words)
        words = tuple(
            replace(word, start=start + place * step, end=start + (place + 1) * step)
            for place, word in enumerate(one.words)
        )
        cues.append(replace(one, end=end, words=words, breaks=None))
    return Transcript("en", tuple(cues))


class Counting(unittest.TestCase):
    def test_timecodes_are_those_of_the_standard(self):
        frames = Timecodes("01:00:00;00").at(NTSC)
        rng = random.Random(3)
        for _ in range(dose(300, 20_000)):
            number = rng.randrange(24 * 107_892)
            code = frames.code(number)
            self.assertEqual(code, str(SmpteTimeCode.from_frames(number, FPS_29_97, True)))
            self.assertEqual(frames.number(code), number)
        self.assertEqual(frames.code(frames.frame(60_000)), "01:00:59;28")
        at_25 = Timecodes("10:00:00:00").at(Fraction(25))
        self.assertEqual(at_25.code(at_25.frame(1_520)), "10:00:01:13")
        self.assertEqual(at_25.time(at_25.frame(1_520)), 1_520)

    def test_what_is_no_timecode_is_told(self):
        for start, rate in (
            ("10:00", ""),
            ("10:00:00:28", ""),
            ("99:00:00:00", "25"),
            ("00:00:00:00", "12"),
        ):
            with self.assertRaises(ValueError):
                Timecodes.called(start, rate)
        for rate in CALLED:
            Timecodes.called("23:59:59:00", rate)


class Rows(unittest.TestCase):
    def test_a_place_on_the_grid_comes_back(self):
        grid = Grid(15, 32)
        for row in range(14):
            for column in (0, 5, 32 - len("Dry peat.")):
                placement = placement_at(row, column, 1, len("Dry peat."), grid)
                one = replace(cue(1, "Dry peat.", 0), placement=placement)
                (found,) = rows_of(one, grid, line21.width)
                self.assertEqual((found.number, found.column), (row, column), placement)
        (usual,) = rows_of(cue(1, "Dry peat.", 0), grid, line21.width)
        self.assertEqual((usual.number, usual.column), (14, 11))


class Line21(unittest.TestCase):
    def test_what_is_written_is_read_by_two_others_as_it_was(self):
        text = coloured(moor(), 0, "c.yellow", "i")
        top = replace(cue(9, LETTERS, 20_000), placement="line:0 position:0% align:left")
        text = replace(text, cues=(*text.cues, replace(top, end=25_000)))
        data = written("scc", text, AT_TEN)
        self.assertEqual(data, written("scc", text, AT_TEN))
        narrow = published(text, "scc", STYLE)
        ours = read("scc", data)
        theirs = SCCReader().read(data.decode()).get_captions("en-US")
        self.assertEqual([one.text for one in ours.cues], [one.text for one in narrow.cues])
        begun = round(AT_TEN.timecodes.at(NTSC).first / NTSC * 1_000)
        for one, own, other in zip(narrow.cues, ours.cues, theirs, strict=True):
            self.assertEqual(own.lines, one.lines)
            self.assertEqual(other.get_text().split("\n"), list(one.lines))
            for time, found in ((one.start, own.start), (one.end, own.end)):
                self.assertLessEqual(abs(begun + time - found), 34)
        self.assertEqual([own.placement for own in ours.cues][-1], top.placement)
        self.assertEqual(set(ours.cues[0].words[1].spans), {"c.yellow", "i"})
        self.assertEqual(ours.cues[0].words[2].spans, ())

    def test_captions_one_behind_the_other_are_loaded_in_time(self):
        rng = random.Random(5)
        words = "dry wet peat moss water dams and the moor".split()
        for _ in range(dose(20, 400)):
            start, lines = 2_000, []
            for _ in range(8):
                text = " ".join(rng.choices(words, k=rng.randint(1, 8)))
                length = 1_500 + 60 * len(text)
                lines.append((start, start + length, text))
                start += length + rng.choice([0, 40, 80, 500, 3_000])
            text = published(talk(*lines), "scc", STYLE)
            self.assertEqual(list(scc.lacks(text, Options())), [])
            found = read("scc", documents.write("scc", text, SOURCE))
            for one, own in zip(text.cues, found.cues, strict=True):
                self.assertEqual(own.text, one.text)
                self.assertLessEqual(abs(own.start - one.start), 34)
                # Where there is no room for taking it away, it stays until the next.
                self.assertLessEqual(own.end - one.end, 340)

    def test_what_cannot_be_sent_in_time_is_told_with_its_cue_and_nothing_is_lost(self):
        hasty = talk(
            (0, 800, "So we dug and dug."), (800, 1_200, "And then the water came at once.")
        )
        text = published(hasty, "scc", STYLE)
        told = [(lack.cue, lack.reason) for lack in scc.lacks(text, Options())]
        self.assertEqual([number for number, _ in told], [1, 2])
        self.assertIn("cannot be sent in time", told[0][1])
        found = read("scc", documents.write("scc", text, SOURCE))
        self.assertEqual([one.text for one in found.cues], [one.text for one in text.cues])

    def test_rolling_and_painting_have_codes_of_their_own(self):
        data = written("scc", moor(), Options(rows=3)).decode()
        self.assertIn("9426 9426 94ad 94ad", data)
        self.assertNotIn("9420", data)
        rolled = read("scc", data.encode())
        self.assertEqual(rolled.cues[2].lines, ("Dry.", "You could walk to the pines."))
        painted = written("scc", moor(), Options(painted=True)).decode()
        self.assertIn("9429 9429", painted)
        said = read("scc", painted.encode()).cues
        self.assertEqual((said[0].text, said[0].start), ("What did the moor look like?", 1_001))

    def test_rows_letters_and_words_that_do_not_fit_are_told(self):
        text = talk((0, 9_000, "x" * 40 + " Œuvre łąka"), (12_000, 20_000, "dry " * 60))
        made = published(text, "scc", STYLE)
        told = " ".join(lack.reason for lack in scc.lacks(made, Options()))
        for part in ("longer than 32 columns", "does not have: Œłą", "more than 4 rows"):
            self.assertIn(part, told)

    def test_what_looks_otherwise_is_told(self):
        text = coloured(moor(), 0, "c.colour-ff8800", "b", "i")
        scc_told = [lack.reason for lack in scc.lacks(published(text, "scc", STYLE), PLAIN)]
        self.assertEqual(scc_told, ["a colour becomes the nearest", "left out: bold"])
        stl_told = [lack.reason for lack in stl.lacks(published(text, "stl", STYLE), PLAIN)]
        self.assertEqual(stl_told, ["a colour becomes the nearest", "left out: bold, italics"])
        for plain in (moor(), coloured(moor(), 0, "c.lime")):
            self.assertEqual([*stl.lacks(published(plain, "stl", STYLE), PLAIN)], [])

    def test_what_is_no_scc_is_told(self):
        for data in (b"Scenarist_SCC V1.0", b"x", b"", b"Scenarist_SCC V1.0\n00:00:00:00\tzzzz"):
            with self.assertRaises(FormatError):
                read("scc", data)


class Blocks(unittest.TestCase):
    def test_blocks_are_read_as_they_were_written(self):
        text = coloured(moor(), 2, "c.cyan")
        more = (
            replace(cue(9, "Zażółć gęślą jaźń: $5, £3, #1, ½, œuvre!", 20_000),
                    placement="line:0 position:0% align:left"),
            replace(cue(10, "We dug peat " * 11, 26_000), end=39_000),
        )  # fmt: skip
        text = replace(text, cues=(*text.cues, *more))
        for options in (AT_TEN, Options(timecodes=Timecodes.called("01:00:00:00", "30"))):
            data = written("stl", text, options)
            self.assertEqual(data, written("stl", text, options))
            self.assertEqual((len(data) - 1_024) % 128, 0)
            self.assertEqual(int(data[238:243]), (len(data) - 1_024) // 128)
            found = documents.read_bytes(data, None, "x")
            narrow = published(text, "stl", STYLE)
            for one, own in zip(narrow.cues, found.transcript.cues, strict=True):
                self.assertEqual(own.lines, one.lines)
                self.assertLessEqual(max(abs(own.start - one.start), abs(own.end - one.end)), 40)
            self.assertEqual(found.transcript.cues[3].placement, more[0].placement)
            self.assertEqual(found.transcript.cues[2].words[1].spans, ("c.cyan",))
            self.assertEqual(found.transcript.language, "en")
            again = documents.write("stl", found.transcript, SOURCE,
                                    Options(timecodes=found.timecodes))  # fmt: skip
            self.assertEqual(again[256:264], data[256:264])

    def test_each_alphabet_has_its_table(self):
        for language, table, text in (
            ("ru", b"01", "Торф был сухим."), ("ar", b"02", "كان الخث جافا"),
            ("el", b"03", "Η τύρφη ήταν ξηρή."), ("he", b"04", "הכבול היה יבש"),
            ("cs", b"00", "Rašelina byla suchá."),
        ):  # fmt: skip
            one = Transcript(language, (cue(1, text, 1_000),))
            data = documents.write("stl", one, SOURCE)
            self.assertEqual(data[12:14], table)
            found = documents.read_bytes(data, "stl", "x").transcript
            self.assertEqual((found.cues[0].text, found.language), (text, language))
        mixed = Transcript("en", (cue(1, "Торф, łąka.", 0),))
        self.assertIn("łą", next(iter(stl.lacks(mixed, Options()))).reason)

    def test_torn_and_strange_files_are_told(self):
        data = written("stl", moor(), AT_TEN)
        torn = documents.read_bytes(data[:-50], "stl", "x")
        self.assertEqual(len(torn.transcript.cues), len(moor().cues) - 1)
        self.assertIn("last block", torn.repairs[0])
        for broken in (b"", b"x" * 2_000, data[:1_024]):
            with self.assertRaises(FormatError):
                read("stl", broken)
        late = data[:256] + b"11000000" + data[264:]
        self.assertEqual(len(read("stl", late).cues), len(moor().cues))
        rng = random.Random(1)
        for _ in range(dose(40, 2_000)):
            noise = bytearray(data)
            for _ in range(20):
                noise[rng.randrange(len(noise))] = rng.randrange(256)
            try:
                read("stl", bytes(noise))
            except FormatError as error:
                self.assertTrue(str(error))


def _said(one: Cue) -> tuple[object, ...]:
    """All of a cue that such a file holds; the order of spans says nothing."""
    spans = [set(word.spans) for word in one.words]
    return one.lines, one.start, one.end, one.placement, spans


class ForPlayers(unittest.TestCase):
    def test_what_players_read_says_the_look_and_comes_back(self):
        text = coloured(moor(), 2, "c.yellow", "i")
        cues = list(text.cues)
        cues[0] = replace(cues[0], placement="line:0 position:0% align:left")
        text = published(replace(text, cues=tuple(cues)), "vtt", STYLE)
        for look in (None, SHIPPED["slate"], SHIPPED["torch"]):
            for suffix in ("ebuttd.xml", "imsc.ttml", "ttml", "vtt", "ass"):
                data = documents.write(suffix, text, SOURCE, Options(look=look))
                found = read(suffix.rpartition(".")[2], data)
                with self.subTest(suffix, look=look and look.name):
                    self.assertEqual([*map(_said, found.cues)], [*map(_said, text.cues)])
                    if look is not None:
                        self.assertNotEqual(data, documents.write(suffix, text, SOURCE))

    def test_scripts_without_spaces_get_none(self):
        said = "泥炭は乾いていた。水が戻ってきた。"
        one = cue(1, said, 1_000)
        text = Transcript("ja", (replace(one, words=in_phrases(one.words)),))
        for suffix in ("ass", "imsc.ttml", "vtt"):
            for one in (text, coloured(text, 0, "i")):
                found = read(suffix.rpartition(".")[2], documents.write(suffix, one, SOURCE))
                self.assertEqual(found.cues[0].text, said, suffix)

    def test_each_says_what_it_is_and_styles_by_reference_alone(self):
        look = SHIPPED["torch"]
        ebu = documents.write("ebuttd.xml", moor(), SOURCE, Options(look=look)).decode()
        self.assertIn("urn:ebu:tt:distribution", ebu)
        body = ebu[ebu.index("<body") :]
        self.assertNotIn("tts:", body)
        self.assertNotIn("textOutline", ebu)
        imsc = documents.write("imsc.ttml", moor(), SOURCE).decode()
        self.assertIn("profile/imsc1.1/text", imsc)

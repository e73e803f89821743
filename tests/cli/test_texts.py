"""The commands for texts: convert with its options, and check."""

import contextlib
import io
import json

from tamarind.cli.main import main
from tamarind.cli.output import speak
from tamarind.formats.captions import srt, vtt
from tests.support import DEMO, FolderTest, human_recording

FAST = "1\n00:00:01,000 --> 00:00:01,900\nwe dug the the drains one by one in rain\n"
GOOD = "1\n00:00:01,000 --> 00:00:04,000\nWe dug the drains one by one.\n"
BARE = (
    "1\n00:00:01,000 --> 00:00:03,060\nit was the best of times\n\n"
    "2\n00:00:03,100 --> 00:00:04,900\nit was the worst of times\n"
)


class TextTest(FolderTest):
    def run_command(self, *arguments):
        out, told = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(told):
            try:
                self.addCleanup(speak, quiet=False)
                status = main([str(argument) for argument in arguments])
            except SystemExit as end:
                status = end.code
        return status, out.getvalue(), told.getvalue()

    def put(self, name, text):
        path = self.folder / name
        path.write_text(text)
        return path


class Texts(TextTest):
    def test_cues_that_are_broken_in_the_file_are_musts_with_their_numbers_and_lines(self):
        broken = self.put(
            "b.srt",
            "1\n00:00:01,000 --> 00:00:02,500\nHello there now.\n\n"
            "2\n00:00:05,000 --> 00:00:04,000\nBack in time.\n\n"
            "3\n00:00:06,000 --> 00:00:08,000\n\n\n"
            "4\n00:00:09,000 --> 00:00:11,000\nSaid once.\n\n"
            "5\n00:00:12,000 --> 00:00:14,000\nSaid once.\n",
        )
        status, out, _ = self.run_command("check", broken)
        self.assertEqual(status, 1)
        self.assertIn("broken in the file: cue 2, line 6, it ends before it begins", out)
        self.assertIn("broken in the file: cue 3, line 10, it has no text", out)
        self.assertIn("the same text twice", out)
        self.assertIn("2 errors", out)
        status, out, _ = self.run_command("check", broken, "--json")
        faults = [one for one in json.loads(out) if one["rule"] == "file"]
        self.assertEqual([(one["cue"], one["line"]) for one in faults], [(2, 6), (3, 10)])

    def test_a_text_without_a_sound_is_laid_out_to_be_read_and_its_times_are_guesses(self):
        source, target = self.folder / "a.txt", self.folder / "a.srt"
        source.write_text(
            "CHAIR: Good morning and welcome to this meeting about the water table in the northern"
            " part of the moor, which has fallen again.\n\nANN: Thank you. We dug eleven pits.\n"
        )
        for style in ("ordinary", "teletext"):
            status, _, told = self.run_command(
                "convert", source, target, "--style", style, "--overwrite"
            )
            self.assertEqual(status, 0)
            self.assertIn("guesses", told)
            status, out, _ = self.run_command("check", target, "--style", style)
            self.assertEqual((status, "0 errors" in out), (0, True), out)
        _, _, told = self.run_command("convert", source, self.folder / "a.docx")
        self.assertNotIn("guesses", told)

    def test_check_prints_findings_and_fails_on_a_must(self):
        status, out, _ = self.run_command("check", self.put("fast.srt", FAST))
        self.assertEqual(status, 1)
        self.assertIn("00:00:01.000  error    too fast to read: 44 characters per second", out)
        self.assertIn("repeated word: said twice – the", out)
        self.assertIn("fast.srt: 1 cues, 1 errors", out.splitlines()[-1])
        status, out, _ = self.run_command("check", self.put("good.srt", GOOD))
        self.assertEqual((status, out), (0, "good.srt: 1 cues, 0 errors, 0 warnings\n"))

    def test_check_goes_by_the_style_that_is_named(self):
        path = self.put("good.srt", GOOD)
        style = self.put("strict.json", json.dumps({
            "format": "tamarind-house-style", "version": 1, "name": "Strict",
            "captions": {"line_length": 12, "shortest": 3500}, "checks": {"line-length": "must"},
        }))  # fmt: skip
        status, out, _ = self.run_command("check", path, "--style", style, "--json")
        found = json.loads(out)
        self.assertEqual(status, 1)
        self.assertEqual({one["rule"]: one["level"] for one in found},
                         {"line-length": "must", "too-short": "hint"})  # fmt: skip
        self.assertEqual(found[0]["time"], 1.0)
        self.assertEqual(self.run_command("check", path, "--style", "verbatim")[0], 0)
        status, _, told = self.run_command("check", path, "--style", "nobody's")
        self.assertEqual(status, 2)
        self.assertIn("no house style", told)

    def test_check_takes_a_job_with_its_own_styles_and_sounds(self):
        job = self.folder / "demo.tamarind"
        job.write_bytes((DEMO / "Peatland voices.tamarind").read_bytes())
        (self.folder / "media").symlink_to(DEMO / "media")
        status, out, _ = self.run_command("check", job, "--sound")
        self.assertIn(status, (0, 1))
        for name in ("Warden interview: ", "Water table lecture: ", "Site memo, north drain: "):
            self.assertIn(name, out)
        self.assertNotIn("text without speech", out)

    def test_check_says_what_cannot_be_read(self):
        for path, status in ((self.folder / "no.srt", 3), (self.folder / "no.tamarind", 3)):
            self.assertEqual(self.run_command("check", path)[0], status)
        status, _, told = self.run_command("check", self.put("a.srt", GOOD), "--encoding", "x")
        self.assertEqual(status, 2)
        self.assertIn("no encoding", told)

    def test_convert_lays_out_rolls_up_and_encodes(self):
        text = "1\n00:00:01,000 --> 00:00:08,000\n" + "We dug the drains one by one. " * 4 + "\n"
        path = self.put("long.srt", text)
        out = self.folder / "out.srt"
        self.assertEqual(self.run_command("convert", path, out, "--lay-out")[0], 0)
        cues = srt.read(out.read_text(), "en").cues
        self.assertGreater(len(cues), 1)
        self.assertTrue(all(len(line) <= 42 for each in cues for line in each.lines))
        self.run_command(
            "convert", path, out, "--lay-out", "--roll-up", "2", "--crlf", "--bom", "--overwrite"
        )
        data = out.read_bytes()
        self.assertTrue(data.startswith(b"\xef\xbb\xbf1\r\n"))
        cues = srt.read(data.decode("utf-8-sig").replace("\r\n", "\n"), "en").cues
        self.assertEqual(cues[0].lines[-1], cues[1].lines[0])
        for wrong in (("--roll-up", "0"), ("--encoding", "x"), ("--style", "nobody's")):
            self.assertEqual(self.run_command("convert", path, out, *wrong)[0], 2)
        timed = self.folder / "out.vtt"
        self.run_command("convert", path, timed, "--word-times")
        self.assertIn("<00:00:0", timed.read_text())
        for suffix in ("docx", "html", "ttml", "csv", "json", "txt"):
            self.assertEqual(self.run_command("convert", path, self.folder / f"o.{suffix}")[0], 0)
            self.assertGreater((self.folder / f"o.{suffix}").stat().st_size, 100)

    def test_broadcasters_files_keep_their_timecodes_and_tell_what_they_cannot_hold(self):
        path = self.put("moor.srt", f"{GOOD}\n9\n00:00:20,000 --> 00:00:24,000\nŒuf.\n")
        out = self.folder / "moor.stl"
        self.run_command("convert", path, out, "--timecode", "10:00:00:00")
        self.assertEqual(out.read_bytes()[256:264], b"10000000")
        again = self.folder / "again.stl"
        self.run_command("convert", out, again)
        self.assertEqual(again.read_bytes()[256:264], b"10000000")
        back = self.folder / "back.srt"
        self.run_command("convert", again, back)
        self.assertEqual([c.text for c in srt.read(back.read_text(), "en").cues],
                         [c.text for c in srt.read(path.read_text(), "en").cues])  # fmt: skip
        scc = self.folder / "moor.scc"
        status, _, told = self.run_command("convert", path, scc, "--timecode", "01:00:00;00")
        self.assertEqual(status, 0)
        self.assertIn("letters that SCC does not have: Œ", told)
        self.assertIn("\n01:00:0", scc.read_text())
        self.run_command("convert", scc, back, "--timecode", "01:00:00;00")
        (first, *_) = srt.read(back.read_text(), "en").cues
        self.assertLess(abs(first.start - 1_000), 35)
        status, _, told = self.run_command("convert", path, "-o", scc, "--strict")
        self.assertEqual(status, 3)
        status, out, _ = self.run_command("check", path, "--for", "scc")
        self.assertIn("too much for the file", out)
        self.assertEqual(self.run_command("convert", path, scc, "--timecode", "1h")[0], 2)
        for suffix in ("ebuttd.xml", "imsc.ttml", "ass"):
            made = self.folder / f"moor.{suffix}"
            self.assertEqual(
                self.run_command("convert", path, made, "--caption-style", "torch")[0], 0
            )
        self.assertIn("imsc1.1", (self.folder / "moor.imsc.ttml").read_text())

    def test_convert_tells_what_it_mended(self):
        path = self.put("bad.srt", GOOD.replace("00:00:04,000", "00:00:00,500"))
        status, _, told = self.run_command("convert", path, self.folder / "o.vtt")
        self.assertEqual(status, 0)
        self.assertIn("ended before it began (line 2)", told)

    def test_a_script_gets_its_times_from_the_sound(self):
        sound = human_recording("two_cities.wav")
        path = self.put(
            "script.txt", "It was the best of times,\n\nit was truly the worst of times."
        )
        out = self.folder / "o.vtt"
        status, _, told = self.run_command("convert", path, out, "--sound", sound)
        self.assertEqual((status, told), (0, ""))
        first, second = vtt.read(out.read_text(), "en").cues
        self.assertAlmostEqual(first.start, 1_140, delta=120)
        self.assertAlmostEqual(second.start, 3_050, delta=250)

    def test_captions_with_a_sound_and_nothing_to_do_with_it_are_told(self):
        path, out = self.put("bare.srt", BARE), self.folder / "o.srt"
        sound = human_recording("two_cities.wav")
        status, _, told = self.run_command("convert", path, out, "--sound", sound)
        self.assertEqual(status, 2)
        self.assertIn("--punctuate", told)
        self.assertFalse(out.exists())

    def test_marks_come_from_the_sound_or_from_the_pauses(self):
        sound = human_recording("two_cities.wav")
        path, out = self.put("bare.srt", BARE), self.folder / "o.srt"
        self.assertEqual(
            self.run_command("convert", path, out, "--punctuate", "--sound", sound)[0], 0
        )
        texts = [c.text for c in srt.read(out.read_text(), "en").cues]
        self.assertRegex(texts[0], r"^It was the best of times[.,]$")
        out.unlink()
        self.assertEqual(self.run_command("convert", path, out, "--punctuate")[0], 0)
        self.assertIn("It was the best of times", out.read_text())

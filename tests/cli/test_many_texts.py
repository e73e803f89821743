"""Commands on many texts, in folders, on standard input and output; retiming and mending."""

import io
import json
import subprocess
import sys
from unittest.mock import patch

from tamarind.cli.main import main
from tamarind.formats.captions import srt
from tests.cli.test_texts import FAST, GOOD, TextTest
from tests.support import DEMO

CLOSE = (
    "1\n00:00:01,000 --> 00:00:04,000\nWe dug the drains one by one.\n\n"
    "2\n00:00:04,000 --> 00:00:07,000\nThe moor ran dry behind us.\n"
)
SPOKEN = "WEBVTT\n\n00:01.000 --> 00:04.000\n<v Speaker 1>We dug.</v>\n"


class Many(TextTest):
    def test_folders_keep_their_ways_and_names_do_not_collide(self):
        for name in ("in/a.srt", "in/deep/b.srt", "in/a.vtt", "in/notes.pdf", "in/.b.json"):
            (self.folder / name).parent.mkdir(parents=True, exist_ok=True)
            text = SPOKEN if name.endswith("vtt") else GOOD
            self.put(name, text)
        out = self.folder / "o" / "p"
        status, _, told = self.run_command(
            "convert", self.folder / "in", "--format", "txt", "-o", out
        )
        self.assertEqual(status, 0, told)
        self.assertIn(f"3 files written to {out}.", told)
        made = sorted(str(path.relative_to(out)) for path in out.rglob("*") if path.is_file())
        self.assertEqual(made, ["a (srt).txt", "a (vtt).txt", "deep/b.txt"])
        status, _, told = self.run_command(
            "convert", self.folder / "in" / "*.srt", "--format", "txt", "-o", out
        )
        self.assertEqual(status, 0, told)
        self.assertTrue((out / "a.txt").exists())
        status, _, told = self.run_command(
            "convert", self.folder / "in" / "*.srt", "--format", "txt", "-o", out
        )
        self.assertEqual(status, 3)
        self.assertIn("--overwrite", told)

    def test_what_is_wrong_is_said_and_makes_no_folder(self):
        good, bad = self.put("a.srt", GOOD), self.put("b.srt", "no cue here")
        out = self.folder / "new"
        for arguments in (
            (good,), (good, bad, self.folder / "c.vtt"), (good, "-"), (good, "-o", "x.odp"),
            (self.folder / "none*", "--format", "vtt", "-o", out),
        ):  # fmt: skip
            self.assertEqual(self.run_command("convert", *arguments)[0], 2, arguments)
        self.assertFalse(out.exists())
        self.assertEqual(self.run_command("convert", bad, "--format", "vtt", "-o", out)[0], 3)
        self.assertFalse(out.exists())
        status, _, told = self.run_command("convert", good, bad, "--format", "vtt", "-o", out)
        self.assertEqual(status, 3)
        self.assertIn("b.srt: ", told)
        self.assertTrue((out / "a.vtt").exists())

    def test_notes_beside_captions_are_left_out_of_a_folder_and_told(self):
        (self.folder / "in").mkdir()
        self.put("in/a.srt", GOOD)
        notes = self.put("in/notes.txt", "Ring the warden about the sluice.\n")
        out = self.folder / "out"
        status, _, told = self.run_command("convert", notes.parent, "--format", "vtt", "-o", out)
        self.assertEqual(status, 0)
        self.assertIn("notes.txt is a text beside captions: left out", told)
        self.assertEqual([path.name for path in out.iterdir()], ["a.vtt"])
        notes.with_name("a.srt").unlink()
        status, _, told = self.run_command("convert", notes.parent, "--format", "vtt", "-o", out)
        self.assertTrue((out / "notes.vtt").exists())

    def test_a_file_that_is_there_is_not_written_over_unasked(self):
        good, target = self.put("a.srt", GOOD), self.put("b.vtt", "my own work")
        status, _, told = self.run_command("convert", good, target)
        self.assertEqual((status, target.read_text()), (3, "my own work"))
        self.assertIn("--overwrite", told)
        self.assertEqual(self.run_command("convert", good, target, "--overwrite")[0], 0)
        self.assertIn("WEBVTT", target.read_text())

    def test_a_job_is_written_out_with_its_translations(self):
        job = self.folder / "voices.tamarind"
        job.write_bytes((DEMO / "Peatland voices.tamarind").read_bytes())
        (self.folder / "media").symlink_to(DEMO / "media")
        out = self.folder / "out"
        status, _, told = self.run_command("convert", job, "-o", out, "--format", "srt")
        self.assertEqual(status, 0, told)
        made = {path.name for path in out.iterdir()}
        self.assertLessEqual({"Warden interview.srt", "Site memo, north drain.pt.srt"}, made)
        self.assertIn("Harrow Moor", (out / "Warden interview.srt").read_text())
        before = (out / "Warden interview.srt").read_bytes()
        status, _, told = self.run_command("convert", job, "-o", out)
        self.assertEqual(status, 3)
        self.assertEqual((out / "Warden interview.srt").read_bytes(), before)
        status, _, told = self.run_command(
            "convert", job, "-o", self.folder / "p", "--language", "Portuguese", "--format", "txt"
        )
        self.assertEqual([path.name for path in (self.folder / "p").iterdir()],
                         ["Site memo, north drain.pt.txt"])  # fmt: skip
        for wrong in (("out.srt",), ("-o", out, "--style", "teletext"), ("a.srt", "-o", out)):
            self.assertEqual(self.run_command("convert", job, *wrong)[0], 2, wrong)

    def test_standard_input_and_output(self):
        for text in (GOOD, SPOKEN):
            out = io.TextIOWrapper(io.BytesIO())
            with (
                patch("sys.stdin", io.TextIOWrapper(io.BytesIO(text.encode()))),
                patch("sys.stdout", out),
            ):
                self.assertEqual(main(["convert", "-", "--format", "vtt", "-o", "-"]), 0)
            self.assertTrue(out.buffer.getvalue().startswith(b"WEBVTT\n"))
        with patch("sys.stdin", io.TextIOWrapper(io.BytesIO(FAST.encode()))):
            self.assertEqual(self.run_command("check", "-")[0], 1)

    def test_a_reader_that_goes_away_is_no_failure(self):
        path = self.put("a.srt", GOOD * 2_000)
        for arguments in (["convert", "-q", str(path), "--format", "vtt", "-o", "-"],
                          ["completion", "bash"]):  # fmt: skip
            process = subprocess.Popen(
                [sys.executable, "-m", "tamarind", *arguments],
                stdout=subprocess.PIPE,
                stderr=subprocess.PIPE,
            )
            process.stdout.read(10)
            process.stdout.close()
            told = process.stderr.read().decode()
            self.assertEqual((process.wait(60), told), (0, ""), arguments)
            process.stderr.close()

    def test_styling_that_is_lost_is_listed_and_strict_writes_nothing(self):
        path = self.put("a.vtt", SPOKEN.replace("We", "<c.loud>We</c>"))
        target = self.folder / "a.srt"
        status, _, told = self.run_command("convert", path, target, "--strict")
        self.assertEqual(status, 3)
        self.assertIn("left out: classes, who speaks", told)
        self.assertFalse(target.exists())
        status, _, told = self.run_command("convert", path, target)
        self.assertEqual(status, 0)
        self.assertIn("left out", told)

    def test_speakers_are_named(self):
        path, target = self.put("a.vtt", SPOKEN), self.folder / "b.vtt"
        status, _, told = self.run_command(
            "convert", path, target, "--names", "speaker 1=Ann,Speaker 7=Bo"
        )
        self.assertEqual(status, 0)
        self.assertIn("<v Ann>", target.read_text())
        self.assertIn("no speaker is called", told)
        self.assertEqual(self.run_command("convert", path, target, "--names", "Ann")[0], 2)

    def test_a_style_without_lay_out_says_what_it_does_not_do(self):
        path, target = self.put("a.srt", GOOD), self.folder / "b.srt"
        _, _, told = self.run_command("convert", path, target, "--style", "phone")
        self.assertIn("--lay-out", told)
        fast = self.put("f.srt", FAST.replace("00:00:01,900", "00:00:01,400"))
        _, _, told = self.run_command(
            "convert", fast, target, "--style", "phone", "--lay-out", "--overwrite"
        )
        self.assertIn("too fast to read", told)
        self.assertNotIn("stay as they are", told)

    def test_retime(self):
        path, target = self.put("a.srt", GOOD), self.folder / "b.srt"
        for arguments, start, end in (
            (("--shift", "1.5"), 2_500, 5_500),
            (("--shift", "-0.5"), 500, 3_500),
            (("--shift", "-0:00.5"), 500, 3_500),
            (("--stretch", "2"), 2_000, 8_000),
            (("--from-rate", "25", "--to-rate", "23.976"), 1_043, 4_171),
        ):
            status, _, told = self.run_command("retime", path, target, *arguments, "--overwrite")
            self.assertEqual(status, 0, told)
            (cue,) = srt.read(target.read_text(), "en").cues
            self.assertEqual((cue.start, cue.end), (start, end))
        for wrong in (("--from-rate", "25"), ("--stretch", "0"), ("--to-rate", "x")):
            self.assertEqual(self.run_command("retime", path, target, *wrong)[0], 2)

    def test_mending_by_rule_is_shown_first_and_keeps_the_file_as_it_was(self):
        path = self.put("a.srt", CLOSE)
        status, out, _ = self.run_command("check", path, "--fix", "gap", "--dry-run")
        self.assertEqual(status, 1)
        self.assertIn("1 changes would be made", out)
        self.assertEqual(path.read_text(), CLOSE)
        status, out, told = self.run_command("check", path, "--fix", "gap")
        self.assertEqual(status, 0, out)
        one, other = srt.read(path.read_text(), "en").cues
        self.assertGreaterEqual(other.start - one.end, 40)
        self.assertEqual((self.folder / "a.before-mending.srt").read_text(), CLOSE)
        self.assertIn("a.before-mending.srt", told)
        self.assertEqual(self.run_command("check", path, "--fix", "nothing")[0], 2)

    def test_check_takes_many(self):
        self.put("a.srt", GOOD), self.put("b.srt", CLOSE)
        status, out, _ = self.run_command("check", self.folder, "--json")
        self.assertEqual(status, 1)
        self.assertEqual({one["text"] for one in json.loads(out)}, {"b.srt"})

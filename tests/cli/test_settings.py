import argparse
import io
import json
import os
import unittest
from pathlib import Path

from tamarind.batch.messages import Heard
from tamarind.batch.timeleft import Work
from tamarind.cli.parser import COMMANDS, make_parser
from tamarind.cli.progress import JsonMeter, PlainMeter, meter_for
from tamarind.cli.settings import SettingsError, read_settings, standing_settings
from tamarind.system.folders import config_home
from tests.cli.test_texts import GOOD, TextTest
from tests.support import FolderTest


class Settings(FolderTest):
    def read(self, text, name="a.toml"):
        path = self.folder / name
        path.write_text(text)
        return read_settings(path, make_parser("transcribe")[1]["transcribe"])

    def test_every_option_by_its_name(self):
        found = self.read(
            'language = "cy"\ncare = "thorough"\nspeakers = 2\nclean = true\njobs = 3\n'
            'format = ["srt", "json"]\nfrom = "0:30"\n"empty-cues" = 4.5\n'
        )
        self.assertEqual(
            found,
            {
                "language": "cy", "quality": "thorough", "speakers": "2", "reduce_noise": True,
                "workers": 3,
                "formats": ["srt", "json"], "start": 30_000, "empty_cues": 4.5,
            },
        )  # fmt: skip
        self.assertEqual(self.read('{"format": "txt"}', "a.json"), {"formats": ["txt"]})

    def test_what_makes_no_sense_is_told_with_the_file(self):
        for text, words in (
            ('colour = "red"', "no setting"), ('clean = "yes"', "true or false"),
            ('format = ["srt", "odp"]', "not “odp”"), ('language = ["en", "cy"]', "not a list"),
            ("language = true", "cannot be True"), ("= 3", "no TOML"),
            ('from = "soon"', "cannot be “soon”"), ('jobs = "many"', "cannot be “many”"),
        ):  # fmt: skip
            with self.assertRaisesRegex(SettingsError, words) as caught:
                self.read(text)
            self.assertIn("a.toml", str(caught.exception))
        with self.assertRaisesRegex(SettingsError, "names and values"):
            self.read("[1, 2]", "b.json")
        with self.assertRaisesRegex(SettingsError, "No such file"):
            read_settings(self.folder / "none.toml", make_parser("transcribe")[1]["transcribe"])

    def test_values_are_what_the_options_make_of_them(self):
        path = self.folder / "bom.toml"
        path.write_bytes(b'\xef\xbb\xbftemplate = ["x.docx"]\n')
        found = read_settings(path, make_parser("convert")[1]["convert"])
        self.assertEqual(found, {"template": [Path("x.docx")]})

    def test_standing_settings_of_the_folder_and_of_the_person(self):
        parser = argparse.ArgumentParser()
        parser.add_argument("--style")
        parser.add_argument("--crlf", action="store_true")
        self.addCleanup(os.chdir, Path.cwd())
        os.chdir(self.folder)
        home = config_home()
        home.mkdir(parents=True, exist_ok=True)
        (home / "tamarind.toml").write_text('[convert]\nstyle = "teletext"\ncrlf = true\n')
        self.assertEqual(standing_settings("convert", parser), {"style": "teletext", "crlf": True})
        Path("tamarind.toml").write_text('[convert]\nstyle = "phone"\n[check]\n')
        self.assertEqual(standing_settings("convert", parser), {"style": "phone", "crlf": True})
        self.assertEqual(standing_settings("check", parser), {})
        for wrong in (
            "convert = 3",
            'style = "phone"',
            "[convret]",
            "[convert]\nsize = 1",
            "[convert",
        ):
            Path("tamarind.toml").write_text(wrong)
            with self.assertRaises(SettingsError):
                standing_settings("convert", parser)


class AboutItself(TextTest):
    def test_a_shell_and_a_manual_are_told_of_every_command(self):
        for shell in ("bash", "zsh", "tcsh"):
            status, out, _ = self.run_command("completion", shell)
            self.assertEqual(status, 0)
            for name in COMMANDS:
                self.assertIn(name, out)
        self.assertEqual(self.run_command("manual", self.folder / "man")[0], 0)
        made = {path.name for path in (self.folder / "man").iterdir()}
        self.assertEqual(made, {"tamarind.1", *(f"tamarind-{name}.1" for name in COMMANDS)})
        for path in (self.folder / "man").iterdir():
            for line in path.read_text().split("\n"):
                self.assertFalse(line.startswith("'"), line)
        self.assertIn("--shift", (self.folder / "man" / "tamarind-retime.1").read_text().replace(
            "\\", ""))  # fmt: skip

    def test_quiet_says_only_what_failed(self):
        good, target = self.put("a.srt", GOOD), self.folder / "b.srt"
        status, _, told = self.run_command("convert", good, target, "--style", "phone", "-q")
        self.assertEqual((status, told), (0, ""))
        bad = self.put("bad.srt", "nothing")
        status, _, told = self.run_command("convert", bad, target, "-q", "--overwrite")
        self.assertEqual(status, 3)
        self.assertIn("no SRT cue", told)


class Progress(unittest.TestCase):
    def heard(self, done):
        return Heard(1, (), done * 1000, 100_000, Work(done, 100.0, 0.0, 10.0, done))

    def test_lines_that_are_written_over_tell_of_all_at_once(self):
        stream = io.StringIO()
        meter = PlainMeter(stream, live=True)
        meter.begun("a.wav")
        meter.heard("b.wav", self.heard(50))
        self.assertTrue(stream.getvalue().endswith("b.wav:  50%, about 10 s left"))
        self.assertIn("a.wav: finding speech… · b.wav", stream.getvalue())
        meter.ended("a.wav", "a.wav: 12 words")
        self.assertIn("a.wav: 12 words\n", stream.getvalue())
        self.assertNotIn("a.wav", stream.getvalue().split("\n")[-1])

    def test_elsewhere_only_what_lasts_or_every_step(self):
        quiet, every = io.StringIO(), io.StringIO()
        for meter in (meter_for("auto", quiet), meter_for("plain", every)):
            meter.begun("a.wav")
            meter.heard("a.wav", self.heard(25))
            meter.ended("a.wav", "a.wav: done")
        self.assertEqual(quiet.getvalue(), "a.wav: done\n")
        self.assertEqual(every.getvalue(), "a.wav: 25%, about 30 s left\na.wav: done\n")

    def test_for_programs(self):
        stream = io.StringIO()
        meter = JsonMeter(stream)
        meter.heard("a.wav", self.heard(40))
        meter.ended("a.wav", "a.wav: 3 words", event="done", words=3)
        first, second = map(json.loads, stream.getvalue().splitlines())
        self.assertEqual((first["event"], first["share"], first["until"]), ("heard", 0.4, 40.0))
        self.assertEqual((second["event"], second["words"]), ("done", 3))

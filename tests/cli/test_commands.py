import json
import logging
import os
import shutil
import signal
import subprocess
import sys
import time
import unittest
from pathlib import Path

import numpy as np
from attacks.kills import children_of

from tamarind.audio import soundcache
from tamarind.formats.captions import srt, vtt
from tamarind.translation.engines import carried
from tamarind.translation.engines.catalogue import router
from tests.cli.support import PRETENDED, CommandTest
from tests.support import FolderTest, human_recording, write_wav


class Commands(CommandTest):
    def test_transcribe_goes_on_after_a_bad_file_and_says_so(self):
        bad = self.folder / "bad.mp3"
        bad.write_text("not sound")
        status, _, told = self.run_command(
            "transcribe", bad, human_recording("beckett.wav"), "-o", "out",
            "--format", "srt", "--format", "json", "--format", "vtt", "--format", "txt",
        )  # fmt: skip
        self.assertEqual(status, 3)
        self.assertIn("bad.mp3: This is no sound or video file", told)
        self.assertNotIn("\r", told)
        names = {path.name for path in (self.folder / "out").iterdir()} - {".tamarind-made.json"}
        self.assertEqual(names, {f"beckett.{suffix}" for suffix in ("srt", "vtt", "txt", "json")})
        data = json.loads((self.folder / "out" / "beckett.json").read_text())
        self.assertEqual(data["media"], {"name": "beckett.wav", "duration": 9.963})
        word = data["cues"][0]["words"][0]
        self.assertLessEqual({"text", "start", "end", "certainty"}, set(word))
        self.assertAlmostEqual(data["cues"][0]["start"], 0.25, delta=0.25)

    def test_transcribe_a_part_only(self):
        status, _, _ = self.run_command(
            "transcribe", human_recording("two_cities.wav"), "-o", "out", "--format", "txt",
            "--from", "21", "--until", "0:29",
        )  # fmt: skip
        self.assertEqual(status, 0)
        text = (self.folder / "out" / "two_cities.txt").read_text()
        self.assertIn("everything before us", text)
        self.assertNotIn("despair", text)

    def test_two_people_on_two_sides_with_a_glossary(self):
        """Each side of a stereo recording is a person; the words of both are in the file."""
        sound = soundcache.fetch(human_recording("beckett.wav")).samples()
        times = np.arange(len(sound)) // (16_000 * 7 // 2) % 2 == 0
        write_wav(self.folder / "sides.wav", np.stack([sound * times, sound * ~times], 1))
        (self.folder / "terms.txt").write_text("Beckett\nbog asphodel\n")
        status, _, told = self.run_command(
            "transcribe", "sides.wav", "-o", "out", "--format", "json", "--speakers", "auto",
            "--quality", "thorough", "--glossary", "terms.txt", "--reduce-noise",
        )  # fmt: skip
        self.assertEqual(status, 0, told)
        cues = json.loads((self.folder / "out" / "sides.json").read_text())["cues"]
        self.assertEqual({cue["speaker"] for cue in cues}, {"Speaker 1", "Speaker 2"})
        text = " ".join(word["text"] for cue in cues for word in cue["words"])
        self.assertIn("matter", text)
        self.assertNotIn("asphodel", text)

    def test_folders_patterns_and_what_is_done_already(self):
        self.pretends = True
        talks = self.folder / "talks" / "spring"
        talks.mkdir(parents=True)
        for target in (talks / "one.wav", self.folder / "talks" / "one.wav"):
            shutil.copy(human_recording("beckett.wav"), target)
        (talks / "notes.doc").write_text("x")
        status, _, told = self.run_command("transcribe", "talks", "-o", "out", "--workers", "2")
        self.assertEqual(status, 0, told)
        made = sorted(path.relative_to(self.folder / "out") for path in
                      (self.folder / "out").rglob("*.srt"))  # fmt: skip
        self.assertEqual([str(path) for path in made], ["one.srt", "spring/one.srt"])
        status, _, told = self.run_command("transcribe", "talks/**/*.wav", "-o", "out")
        self.assertEqual((status, told.count("is done already")), (0, 2))
        # Another recording under the same name is another one, whatever its date says.
        shutil.copy(human_recording("endgame_nagg_nell.wav"), talks / "one.wav")
        os.utime(talks / "one.wav", (0, 0))
        status, _, told = self.run_command("transcribe", "talks", "-o", "out")
        self.assertEqual((status, told.count("is done already")), (0, 1))
        status, _, told = self.run_command("transcribe", "talks", "-o", "out", "--style", "phone")
        self.assertEqual((status, told.count("is done already")), (0, 0))
        longest = max(map(len, (self.folder / "out/spring/one.srt").read_text().split("\n")))
        self.assertLessEqual(longest, 32)
        status, _, told = self.run_command("transcribe", "nothing/*.wav")
        self.assertEqual(status, 2)
        self.assertIn("no sound or video there", told)

    def test_settings_come_from_a_file_and_the_command_line_counts_more(self):
        self.pretends = True
        (self.folder / "client.toml").write_text(
            'output = "texts"\nformat = ["txt", "json"]\nfrom = "21"\nto = "0:29"\nclean = true\n'
        )
        recording = human_recording("two_cities.wav")
        status, _, told = self.run_command(
            "transcribe", recording, "--settings", "client.toml", "--until", "25"
        )
        self.assertEqual(status, 0, told)
        self.assertTrue((self.folder / "texts" / "two_cities.txt").is_file())
        cues = json.loads((self.folder / "texts" / "two_cities.json").read_text())["cues"]
        self.assertGreaterEqual(cues[0]["start"], 21)
        self.assertLessEqual(cues[-1]["end"], 25.1)
        for content, problem in (
            ('colour = "red"', "is no setting"),
            ('care = "best"', "is one of fast, thorough, two"),
            ("clean = 3", "is true or false"), ("[[", "is no TOML or JSON"),
        ):  # fmt: skip
            (self.folder / "bad.toml").write_text(content)
            status, _, told = self.run_command("transcribe", recording, "--settings", "bad.toml")
            self.assertEqual(status, 2)
            self.assertIn(problem, told)

    def test_progress_as_json_lines(self):
        self.pretends = True
        (self.folder / "bad.wav").write_text("no")
        status, news, _ = self.run_command(
            "transcribe", human_recording("two_cities.wav"), "bad.wav", "--progress", "json"
        )
        self.assertEqual(status, 3)
        events = [json.loads(line) for line in news.splitlines()]
        kinds = [event["event"] for event in events if event.get("file") == "two_cities.wav"]
        self.assertEqual((kinds[0], kinds[-1]), ("begun", "done"))
        shares = [event["share"] for event in events if event["event"] == "heard"]
        self.assertEqual((shares, shares[-1]), (sorted(shares), 1.0))
        (failed,) = [event for event in events if event["event"] == "failed"]
        self.assertEqual(failed["file"], "bad.wav")

    def test_empty_cues_for_typing_by_hand(self):
        status, _, told = self.run_command(
            "transcribe", human_recording("two_cities.wav"), "--empty-cues", "4",
            "--language", "cy", "--from", "10",
        )  # fmt: skip
        self.assertEqual(status, 0, told)
        cues = json.loads((self.folder / "two_cities.json").read_text())["cues"]
        self.assertGreater(len(cues), 8)
        self.assertTrue(all(cue["end"] - cue["start"] <= 4.1 and not cue["words"] for cue in cues))
        self.assertGreaterEqual(cues[0]["start"], 9.9)

    def test_an_archive_is_heard_on_a_cluster(self):
        self.pretends = True
        from distributed import LocalCluster

        (self.folder / "bad.wav").write_text("no")
        with LocalCluster(
            n_workers=2,
            threads_per_worker=1,
            processes=True,
            dashboard_address=None,
            silence_logs=logging.ERROR,
        ) as cluster:
            status, _, told = self.run_command(
                "transcribe", human_recording("beckett.wav"), human_recording("two_cities.wav"),
                "bad.wav", "--dask", cluster.scheduler_address,
            )  # fmt: skip
        self.assertEqual(status, 3, told)
        self.assertTrue((self.folder / "beckett.srt").is_file(), told)
        self.assertIn("water table", (self.folder / "beckett.srt").read_text())
        self.assertTrue((self.folder / "two_cities.srt").is_file(), told)
        status, _, told = self.run_command(
            "transcribe", human_recording("beckett.wav"), "--again", "--dask", "tcp://127.0.0.1:9"
        )
        self.assertEqual(status, 2)
        self.assertIn("No scheduler answers", told)

    def test_one_side_or_another_track_can_be_heard_alone(self):
        self.pretends = True
        sound = soundcache.fetch(human_recording("beckett.wav")).samples()
        write_wav(self.folder / "sides.wav", np.stack([sound * 0, sound], 1))
        for side, expected in (("left", "no speech found"), ("right", "words")):
            status, _, told = self.run_command(
                "transcribe", "sides.wav", "-o", "out", "--channel", side, "--again"
            )
            self.assertEqual(status, 0)
            self.assertIn(expected, told)
        status, _, told = self.run_command(
            "transcribe", "sides.wav", "-o", "out", "--track", "2", "--again"
        )
        self.assertEqual(status, 3)
        self.assertIn("only one sound track", told)

    def test_wrong_options_are_told_before_anything_is_heard(self):
        for option, value, sentence in (
            ("--speakers", "many", "from 1 to"),
            ("--track", "0", "number from 1"),
            ("--workers", "9" * 20, "number from 1 to 64"),
            ("--empty-cues", "nan", "number of seconds"),
            ("--until", "9" * 30, "beyond the end of any recording"),
            ("--glossary", "nowhere.txt", "nowhere.txt"),
            ("--language", "ast", "Nothing here recognises “ast”"),
            ("--recogniser", "nobody", "no folder with a model"),
        ):
            status, _, told = self.run_command(
                "transcribe", human_recording("beckett.wav"), "-o", "out", option, value
            )
            self.assertEqual((status, sentence in told), (2, True), told)

    def test_each_format_that_is_asked_for_is_written(self):
        (self.folder / "a.srt").write_text("1\n00:00:01,000 --> 00:00:03,000\nDry.\n")
        wanted = [part for suffix in ("vtt", "txt", "ass") for part in ("--format", suffix)]
        self.assertEqual(self.run_command("convert", "a.srt", "-o", "out", *wanted)[0], 0)
        names = sorted(path.name for path in (self.folder / "out").iterdir())
        self.assertEqual(names, ["a.ass", "a.txt", "a.vtt"])

    def test_convert_and_translate(self):
        (self.folder / "a.srt").write_text("1\n00:00:01,000 --> 00:00:03,000\nThe house is red.\n")
        self.assertEqual(self.run_command("convert", "a.srt", "a.vtt")[0], 0)
        (cue,) = vtt.read((self.folder / "a.vtt").read_text(), "en").cues
        self.assertEqual((cue.start, cue.end, cue.text), (1000, 3000, "The house is red."))
        status, _, told = self.run_command("translate", "a.vtt", "--to", "es", "-o", "es.srt")
        if "Nothing here translates" in told:
            self.assertEqual(status, 3)
        else:
            self.assertEqual(status, 0)
            self.assertIn("La casa es roja.", (self.folder / "es.srt").read_text())

    @unittest.skipUnless(carried.models(), "the models for translation are not installed")
    def test_what_is_heard_is_translated_too(self):
        said = ("transcribe", human_recording("beckett.wav"), "-o", "out", "--translate", "pt")
        status, _, told = self.run_command(*said)
        self.assertEqual(status, 0, told)
        source = srt.read((self.folder / "out" / "beckett.srt").read_text(), "en")
        target = srt.read((self.folder / "out" / "beckett.pt.srt").read_text(), "pt")
        self.assertEqual([c.start for c in target.cues], [c.start for c in source.cues])
        self.assertNotEqual(target.cues[0].text, source.cues[0].text)
        self.assertIn("is done already", self.run_command(*said)[2])
        again = self.run_command("transcribe", human_recording("beckett.wav"), "-o", "out",
                                 "--translate", "xx")  # fmt: skip
        self.assertEqual(again[0], 3)
        self.assertIn("Nothing here translates from English to xx", again[2])

    def test_several_languages_terms_and_routes(self):
        (self.folder / "a.srt").write_text("1\n00:00:01,000 --> 00:00:03,000\nThe moor is red.\n")
        (self.folder / "terms.txt").write_text("moor = paramo\n")
        self.assertEqual(self.run_command("translate", "a.srt", "-o", "x.srt")[0], 2)
        many = ("translate", "a.srt", "--to", "es", "--to", "pt")
        self.assertIn("Several languages", self.run_command(*many, "-o", "x.srt")[2])
        if router().route("en", "es").legs[0].engine != "carried":
            self.skipTest("the models for translation are not installed")
        status, _, told = self.run_command(
            *many, "--format", "srt", "-o", "out", "--glossary", "terms.txt"
        )
        self.assertEqual(status, 0, told)
        for language in ("es", "pt"):
            self.assertIn("paramo", (self.folder / f"out/a.{language}.srt").read_text().lower())
        one = ("translate", "a.srt", "--to", "es", "--format", "srt", "-o", "-")
        direct, best = self.run_command(*one, "--by", "direct"), self.run_command(*one)
        self.assertEqual((direct[0], best[0]), (0, 0))
        status, _, told = self.run_command(*one, "--by", "ja")
        self.assertEqual(status, 3)
        self.assertIn("--by pt (--engine carried+apertium)", told)
        self.assertIn("en es", self.run_command("translate", "--list")[1])
        self.assertIn("No translation server", self.run_command(*one, "--engine", "server")[2])
        status, _, told = self.run_command("translate", "--add", "a.srt")
        self.assertEqual((status, "no zip file" in told), (3, True), told)

    def test_wrong_use_is_told_and_ends_with_2(self):
        for arguments in (
            ("transcribe",),
            ("transcribe", "a.wav", "-o", "out", "--from", "x"),
            ("transcribe", "a.wav", "-o", "out", "--from", "5", "--until", "2"),
            ("convert", "a.srt", "a.doc"),
            ("--nonsense",),
        ):
            with self.subTest(arguments):
                status, _, told = self.run_command(*arguments)
                self.assertEqual(status, 2)
                self.assertTrue(told)
                self.assertNotIn("Traceback", told)

    def test_what_cannot_be_read_ends_with_3(self):
        (self.folder / "a.srt").write_text("no cue")
        status, _, told = self.run_command("convert", "a.srt", "b.vtt")
        self.assertEqual(status, 3)
        self.assertIn("no SRT cue", told)
        status, _, told = self.run_command("not-there/job.tamarind")
        self.assertEqual(status, 3)
        self.assertIn("does not exist", told)

    def test_help_names_every_command(self):
        status, text, _ = self.run_command("--help")
        self.assertEqual(status, 0)
        for word in ("transcribe", "convert", "translate", "JOB", "exit status"):
            self.assertIn(word, text)


class Offline(unittest.TestCase):
    def test_nothing_in_the_program_opens_a_connection(self):
        """Hearing, aligning and translating, with every way to the network shut."""
        program = (
            "import socket\n"
            "def shut(*a, **k): raise AssertionError('network')\n"
            "socket.socket.connect = socket.create_connection = socket.getaddrinfo = shut\n"
            "from tamarind.batch.work import do\n"
            "from tamarind.batch.messages import Hear, Done\n"
            "from tamarind.speech.hearingoptions import HearingOptions\n"
            "from tests.support import human_recording\n"
            "task = Hear(1, human_recording('beckett.wav'), HearingOptions(), (0, None))\n"
            "events = list(do(task))\n"
            "assert isinstance(events[-1], Done), events\n"
        )
        done = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True)
        self.assertEqual(done.returncode, 0, done.stderr)


class OnATerminal(FolderTest):
    def test_progress_is_written_over_with_the_time_left(self):
        """A real terminal, in place of a pipe."""
        once = soundcache.fetch(human_recording("two_cities.wav")).samples()
        sound = write_wav(self.folder / "long.wav", np.tile(once, 3))
        controller, terminal = os.openpty()
        process = subprocess.Popen(
            [
                sys.executable,
                "-m",
                "tamarind",
                "transcribe",
                str(sound),
                "-o",
                str(self.folder),
                *PRETENDED,
            ],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=terminal,
        )
        os.close(terminal)
        shown = b""
        while True:
            try:
                part = os.read(controller, 4096)
            except OSError:
                break
            if not part:
                break
            shown += part
        os.close(controller)
        self.assertEqual(process.wait(60), 0)
        text = shown.decode()
        self.assertIn("long.wav: finding speech…", text)
        self.assertRegex(text, r"\r\x1b\[Klong\.wav: +\d+%, .* left")
        self.assertRegex(text, r"\r\x1b\[Klong\.wav: \d+ words")

    def test_interrupted_it_stops_with_a_word_and_no_traceback(self):
        once = soundcache.fetch(human_recording("two_cities.wav")).samples()
        sound = write_wav(self.folder / "long.wav", np.tile(once, 12))
        for number, status in ((signal.SIGINT, 130), (signal.SIGTERM, 143)):
            process = subprocess.Popen(
                [sys.executable, "-m", "tamarind", "transcribe", str(sound), "-o",
                 str(self.folder), *PRETENDED],
                stderr=subprocess.PIPE,
                text=True,
            )  # fmt: skip
            end = time.monotonic() + 60
            while not (workers := children_of(process.pid)):
                self.assertLess(time.monotonic(), end)
                time.sleep(0.05)
            process.send_signal(number)
            _, told = process.communicate(timeout=120)
            self.assertEqual(process.returncode, status)
            self.assertIn("stopped", told)
            self.assertNotIn("Traceback", told)
            self.assertFalse(list(self.folder.glob("*.srt")))
            self.assertTrue(workers)
            self.assertFalse([w for w in workers if Path(f"/proc/{w}/exe").exists()])

"""What the command promises: nothing of others is written over, nothing passes for done that is
not, whatever names, places and terminals it meets."""

import os
import shutil
import subprocess
import sys

import numpy as np

from tamarind.audio import soundcache
from tests.cli.support import PRETENDED, CommandTest
from tests.support import human_recording, write_wav


class Promises(CommandTest):
    pretends = True

    def test_a_part_is_not_the_whole_and_what_others_wrote_stays(self):
        def talk(folder, recording):
            (self.folder / folder).mkdir()
            shutil.copy(human_recording(recording), self.folder / folder / "talk.wav")
            return f"{folder}/talk.wav"

        first, second = talk("a", "beckett.wav"), talk("b", "endgame_nagg_nell.wav")
        self.assertEqual(self.run_command("transcribe", first, "-o", "o", "--until", "5")[0], 0)
        out = self.folder / "o" / "talk.srt"
        short = out.read_text()
        status, _, told = self.run_command("transcribe", first, first, "-o", "o")
        self.assertEqual((status, told.count("words")), (0, 1), told)
        whole = out.read_text()
        self.assertGreater(len(whole), len(short))
        # The same name for another recording, in another folder.
        status, _, told = self.run_command("transcribe", second, "-o", "o")
        self.assertEqual(status, 0, told)
        self.assertEqual(out.read_text(), whole)
        self.assertTrue((self.folder / "o" / "talk (b).srt").is_file())
        status, _, told = self.run_command("transcribe", first, second, "-o", "o")
        self.assertEqual((status, told.count("is done already")), (0, 2), told)
        # What a person has written or changed is theirs.
        out.write_text("mine")
        status, _, told = self.run_command("transcribe", first, "-o", "o", "--again")
        self.assertEqual((status, out.read_text()), (3, "mine"))
        self.assertIn("--overwrite", told)
        status, _, told = self.run_command("transcribe", first, "-o", "o", "--overwrite")
        self.assertEqual((status, out.read_text()), (0, whole), told)

    def test_a_part_is_decoded_no_further_than_it_goes(self):
        once = soundcache.fetch(human_recording("two_cities.wav")).samples()
        write_wav(self.folder / "long.wav", np.tile(once, 8))
        status, _, told = self.run_command("transcribe", "long.wav", "-o", "o", "--until", "9")
        self.assertEqual(status, 0, told)
        sounds = [sum(file.stat().st_size for file in folder.iterdir())
                  for folder in (self.folder / "XDG_CACHE_HOME/tamarind/sounds").iterdir()
                  if "-from0" in folder.name]  # fmt: skip
        self.assertEqual(len(sounds), 1)
        self.assertLess(sounds[0], 12 * 16_000 * 4 * 1.1)

    def test_names_of_any_bytes_and_any_length(self):
        for name in (b"caf\xe9.wav", "я".encode() * 124 + b".wav", b"n" * 244 + b".wav",
                     b"Talk: part 1.wav", b"http:127.0.0.1:9.wav"):  # fmt: skip
            shutil.copy(human_recording("beckett.wav"), self.folder / os.fsdecode(name))
        done = subprocess.run(
            [sys.executable, "-m", "tamarind", "transcribe", "-o", "o", "--format", "json", ".",
             *PRETENDED],
            capture_output=True, cwd=self.folder, check=False, timeout=120,
            env={**os.environ, "LC_ALL": "C", "PYTHONIOENCODING": "ascii:strict"},
        )  # fmt: skip
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertEqual(len(list((self.folder / "o").glob("[!.]*.json"))), 5)
        self.assertRegex(done.stderr, rb"caf\\xe9\.wav: \d+ words")
        self.assertEqual(self.run_command("transcribe", ".", "-o", "o", "--format", "json")[0], 0)
        self.assertEqual(len(list((self.folder / "o").glob("[!.]*.json"))), 5)

    def test_nobody_reads_what_it_says(self):
        recording = human_recording("beckett.wav")
        pretended = " ".join((*PRETENDED, "--speakers", "off", "--until", "3"))
        running = []
        for number, to in enumerate(("2>&-", ">&- 2>&-", "2>/dev/full", "2>&1 | head -0")):
            line = (
                f"{sys.executable} -m tamarind transcribe {recording} {pretended} -o {number} {to}"
            )
            running.append((number, to, subprocess.Popen(["sh", "-c", line], cwd=self.folder)))
        for number, to, process in running:
            self.assertEqual(process.wait(120), 0, to)
            self.assertTrue((self.folder / str(number) / "beckett.srt").is_file(), to)
        line = f"{sys.executable} -m tamarind transcribe {recording} {pretended} --again"
        status = subprocess.run(
            ["sh", "-c", f"{line} --progress json >/dev/full"],
            cwd=self.folder,
            stderr=subprocess.PIPE,
            check=False,
        )
        self.assertEqual(status.returncode, 3)
        self.assertIn(b"No space left", status.stderr)

    def test_nothing_that_is_said_steers_the_terminal(self):
        path = self.folder / "a\x1b]0;owned\x07\x1b[2J.mp3"
        path.write_bytes(b"no sound")
        status, _, told = self.run_command("transcribe", path)
        self.assertEqual(status, 3)
        self.assertIn("\\x1b]0;owned", told)
        self.assertNotIn("\x1b", told)

    def test_a_mistyped_command_says_so(self):
        for words, meant in (
            (("transcrib", "a.wav"), "tamarind transcribe"),
            (("chek",), "tamarind check"),
            (("nonsense",), "no command"),
            (("--log-level", "debug", "transcribe", "a.wav"), "comes first"),
        ):
            status, _, told = self.run_command(*words)
            self.assertEqual(status, 2)
            self.assertIn(meant, told)
        done = subprocess.run(
            [sys.executable, "-m", "tamarind"], capture_output=True, text=True, check=False,
            env={k: v for k, v in os.environ.items()
                 if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")},
        )  # fmt: skip
        self.assertEqual(done.returncode, 3)
        self.assertIn("no screen here", done.stderr)

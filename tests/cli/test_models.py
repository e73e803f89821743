"""``tamarind models``: listed, fetched from a stand-in of the hub, heard with, taken away."""

import os
import subprocess
import sys
import time
from unittest import mock

from tamarind.speech.recognisers import hub
from tamarind.speech.recognisers.offered import offer_for
from tamarind.speech.recognisers.pretendedhub import PretendedHub
from tamarind.speech.recognisers.shelf import models_home, own_shelf
from tamarind.translation.engines.offered import SHELF_VARIABLE
from tamarind.translation.engines.pretendedshelf import PretendedShelf
from tests.cli.support import CommandTest
from tests.speech.tinymodel import make_model
from tests.support import human_recording


class Models(CommandTest):
    def setUp(self):
        super().setUp()
        make_model(self.folder / "hub" / "tiny")
        stand_in = PretendedHub(self.folder / "hub")
        self.enterContext(stand_in)
        self.faults = stand_in.faults
        self.enterContext(mock.patch.dict(os.environ, TAMARIND_HUB=stand_in.address))

    def test_from_the_list_to_the_end(self):
        status, said, told = self.run_command("models")
        self.assertEqual(status, 0, told)
        self.assertIn("tamarind models fetch NAME\ntiny ", said)
        status, _, told = self.run_command("models", "fetch", "tiny")
        self.assertEqual(status, 0, told)
        self.assertEqual(own_shelf().folders(), [models_home() / "tiny"])
        _, said, _ = self.run_command("models", "list")
        self.assertIn(str(models_home() / "tiny"), said.split("to be fetched")[0])
        self.assertNotIn("tiny ", said.split("to download")[1])
        status, _, told = self.run_command(
            "transcribe", human_recording("beckett.wav"), "--recogniser", "tiny",
            "--language", "cy", "--until", "2",
        )  # fmt: skip
        self.assertEqual(status, 0, told)
        self.assertTrue((self.folder / "beckett.srt").is_file())
        status, _, told = self.run_command("models", "remove", "tiny")
        self.assertEqual(status, 0, told)
        self.assertFalse((models_home() / "tiny").exists())

    def test_a_fetch_that_was_killed_goes_on_when_it_is_asked_for_again(self):
        self.faults.seconds_a_piece = 0.03
        fetching = subprocess.Popen(
            [sys.executable, "-m", "tamarind", "models", "fetch", "tiny"],
            stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, cwd=self.folder,
        )  # fmt: skip
        part, tiny = models_home() / "tiny.part" / "model.bin", offer_for("tiny")
        end = time.monotonic() + 60
        while time.monotonic() < end and not (part.exists() and part.stat().st_size):
            time.sleep(0.05)
        fetching.kill()
        fetching.wait()
        came = hub.here_already(tiny, models_home())
        self.assertGreater(came, 0)
        _, said, _ = self.run_command("models")
        self.assertIn("downloaded, the rest resumes from there", said)
        self.faults.seconds_a_piece, self.faults.sent = 0.0, 0
        status, _, told = self.run_command("models", "fetch", "tiny")
        self.assertEqual(status, 0, told)
        whole = (self.folder / "hub" / "tiny" / "model.bin").read_bytes()
        self.assertEqual((models_home() / "tiny" / "model.bin").read_bytes(), whole)
        self.assertLess(self.faults.sent, sum(
            file.stat().st_size for file in (models_home() / "tiny").iterdir()
        ))  # fmt: skip

    def test_what_is_asked_wrongly_or_is_not_there(self):
        for arguments, status, words in (
            (("fetch",), 2, "which model"),
            (("fetch", "giant"), 2, "no model “giant” to download"),
            (("fetch", "medium"), 3, "answer 404"),
            (("remove", "giant"), 3, "no model “giant” here"),
            (("measure", "giant"), 3, "no model “giant” here"),
        ):
            found, _, told = self.run_command("models", *arguments)
            self.assertEqual(found, status, told)
            self.assertIn(words, told)


class Pairs(CommandTest):
    own_process = True

    def test_a_pair_is_listed_and_fetched_though_commands_have_no_network(self):
        folder = self.folder / "shelf" / "en-ca"
        folder.mkdir(parents=True)
        for name in ("model.enca.intgemm.alphas.bin", "vocab.enca.spm"):
            (folder / name).write_bytes(os.urandom(2_000))
        stand_in = self.enterContext(PretendedShelf(self.folder / "shelf"))
        more = {SHELF_VARIABLE: stand_in.records, "XDG_DATA_HOME": str(self.folder / "data")}
        self.enterContext(mock.patch.dict(os.environ, more))
        status, _, told = self.run_command("translate", "--fetch", "?")
        self.assertEqual(status, 0, told)
        self.assertIn("en-ca  English to Catalan, 1 MB", told)
        self.assertEqual(self.run_command("translate", "--fetch", "en-xx")[0], 2)
        status, _, told = self.run_command("translate", "--fetch", "en-ca")
        self.assertEqual(status, 0, told)
        place = self.folder / "data" / "tamarind" / "translators" / "en-ca"
        self.assertTrue((place / "model.enca.intgemm.alphas.bin").is_file())

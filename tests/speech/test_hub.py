"""Fetching models from a hub that is slow, breaks off, lies, or is not there."""

import os
from collections import namedtuple
from pathlib import Path
from unittest import mock

from tamarind.speech.recognisers import hub
from tamarind.speech.recognisers.catalogue import choice, languages_here
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.folder import look_into
from tamarind.speech.recognisers.offered import offer_for
from tamarind.speech.recognisers.pretendedhub import PretendedHub
from tamarind.speech.recognisers.shelf import FOLDERS_VARIABLE, folders_here, models_home
from tests.speech.tinymodel import make_model
from tests.support import FolderTest

Usage = namedtuple("Usage", "total used free")
TINY = offer_for("tiny")


class Fetching(FolderTest):
    def setUp(self):
        super().setUp()
        self.model = self.folder / "hub" / "tiny"
        make_model(self.model)
        stand_in = PretendedHub(self.folder / "hub")
        self.enterContext(stand_in)
        self.enterContext(mock.patch.dict(os.environ, TAMARIND_HUB=stand_in.address))
        self.enterContext(mock.patch("tamarind.system.fetching.WAIT_S", 0.0))
        self.faults = stand_in.faults
        self.home = models_home()

    def assert_whole(self):
        found = self.home / "tiny"
        for file in ("model.bin", "config.json", "tokenizer.json"):
            self.assertEqual((found / file).read_bytes(), (self.model / file).read_bytes(), file)
        self.assertEqual([one.name for one in self.home.iterdir()], ["tiny"])

    def test_all_that_is_needed_comes_with_progress(self):
        (self.model / "README.md").write_text("not needed")
        told = []
        model = hub.fetch(TINY, self.home, lambda done, whole: told.append((done, whole)))
        self.assert_whole()
        self.assertFalse((model.path / "README.md").exists())
        self.assertEqual(told[-1][0], told[-1][1])
        self.assertEqual(sorted(told), told)

    def test_a_connection_that_breaks_off_again_and_again_costs_nothing_but_time(self):
        size = (self.model / "model.bin").stat().st_size
        self.faults.breaks_after = max(size // 7, 4096)
        hub.fetch(TINY, self.home)
        self.assert_whole()
        self.assertGreater(self.faults.answers, 7)

    def test_a_server_that_cannot_go_on_begins_the_file_anew(self):
        self.faults.goes_on = False
        part = self.home / "tiny.part"
        part.mkdir(parents=True)
        (part / "model.bin").write_bytes(b"x" * 500)
        hub.fetch(TINY, self.home)
        self.assert_whole()

    def test_one_that_gives_nothing_any_more_is_left_and_gone_on_from(self):
        self.faults.breaks_after = 0
        with self.assertRaisesRegex(RecogniserError, "connected to the internet"):
            hub.fetch(TINY, self.home)
        self.assertFalse((self.home / "tiny").exists())
        self.faults.breaks_after = None
        hub.fetch(TINY, self.home)
        self.assert_whole()

    def test_what_is_not_what_it_should_be_is_thrown_away(self):
        self.faults.lies = True
        with self.assertRaisesRegex(RecogniserError, "not what the hub says"):
            hub.fetch(TINY, self.home)
        self.assertFalse((self.home / "tiny").exists())
        self.faults.lies = False
        hub.fetch(TINY, self.home)
        self.assert_whole()

    def test_a_damaged_rest_of_an_earlier_time_is_found_out(self):
        part = self.home / "tiny.part"
        part.mkdir(parents=True)
        (part / "model.bin").write_bytes(b"x" * 500)
        with self.assertRaisesRegex(RecogniserError, "not what the hub says"):
            hub.fetch(TINY, self.home)
        hub.fetch(TINY, self.home)
        self.assert_whole()

    def test_room_is_asked_for_before_anything_comes(self):
        with (
            mock.patch("shutil.disk_usage", return_value=Usage(9, 8, 1)),
            self.assertRaisesRegex(RecogniserError, "no room"),
        ):
            hub.fetch(TINY, self.home)
        self.assertEqual(self.faults.answers, 1)

    def test_a_person_stops_it_and_it_goes_on_from_there(self):
        with self.assertRaises(RecogniserError):
            hub.fetch(TINY, self.home, is_stopped=lambda: True)
        kept = sum(file.stat().st_size for file in (self.home / "tiny.part").iterdir())
        self.assertGreater(kept, 0)
        hub.fetch(TINY, self.home)
        self.assert_whole()

    def test_a_hub_that_does_not_know_it_or_is_not_there(self):
        with self.assertRaisesRegex(RecogniserError, "answer 404"):
            hub.fetch(offer_for("medium"), self.home)
        with (
            mock.patch.dict(os.environ, TAMARIND_HUB="http://127.0.0.1:9"),
            self.assertRaisesRegex(RecogniserError, "connected to the internet"),
        ):
            hub.fetch(TINY, self.home)


class ForEverybody(FolderTest):
    def test_an_administrators_models_are_there_by_name(self):
        place = self.folder / "shared"
        make_model(place / "moor")
        with mock.patch.dict(os.environ, {FOLDERS_VARIABLE: str(place)}):
            self.assertIn(place / "moor", folders_here())
            self.assertEqual(Path(choice("moor").name), place / "moor")
            here = languages_here([place / "moor"])
            self.assertLessEqual(set(look_into(place / "moor").languages), set(here))
        with self.assertRaisesRegex(RecogniserError, "no recogniser"):
            choice("moor")

"""Fetching a pair of languages from a shelf that is slow, breaks off, lies, or is not there."""

import os
import unittest
from unittest import mock

from tamarind.translation.engines import carried, shelf
from tamarind.translation.engines.base import TranslationError
from tamarind.translation.engines.offered import SHELF_VARIABLE, fetch, offers
from tamarind.translation.engines.pretendedshelf import PretendedShelf
from tests.support import FolderTest

VARIABLE = SHELF_VARIABLE


class Fetching(FolderTest):
    def setUp(self):
        super().setUp()
        self.enterContext(mock.patch.dict(os.environ, XDG_DATA_HOME=str(self.folder / "data")))
        pair = self.folder / "shelf" / "en-ca"
        pair.mkdir(parents=True)
        for name, size in (("model.enca.intgemm.alphas.bin", 90_000), ("vocab.enca.spm", 5_000),
                           ("lex.50.50.enca.s2t.bin", 20_000)):  # fmt: skip
            (pair / name).write_bytes(os.urandom(size))
        self.pair = pair
        stand_in = PretendedShelf(self.folder / "shelf")
        self.enterContext(stand_in)
        self.enterContext(mock.patch.dict(os.environ, {VARIABLE: stand_in.records}))
        self.enterContext(mock.patch("tamarind.system.fetching.WAIT_S", 0.0))
        self.faults = stand_in.faults

    def test_what_there_is_is_told_fetched_and_on_the_shelf(self):
        (offer,) = offers()
        self.assertEqual((offer.name, offer.in_words), ("en-ca", "English to Catalan"))
        told = []
        model = fetch(offer, shelf.home(), lambda done, whole: told.append((done, whole)))
        self.assertEqual((model.source, model.target), ("en", "ca"))
        self.assertEqual(model.model.read_bytes(), (self.pair / model.model.name).read_bytes())
        self.assertEqual(told[-1], (offer.size, offer.size))
        self.assertEqual([one.folder for one in shelf.models()], [shelf.home() / "en-ca"])
        self.assertEqual([one.name for one in shelf.home().iterdir()], ["en-ca"])

    def test_it_goes_on_where_it_was_stopped_or_broke_off(self):
        (offer,) = offers()
        with self.assertRaises(TranslationError):
            fetch(offer, shelf.home(), is_stopped=lambda: True)
        self.assertEqual(shelf.models(), [])
        self.faults.breaks_after = 12_000
        fetch(offer, shelf.home())
        self.assertEqual(len(shelf.models()), 1)

    def test_what_is_not_what_it_should_be_is_thrown_away(self):
        for manner in ("lies", "packs_wrongly"):
            setattr(self.faults, manner, True)
            (offer,) = offers()
            with self.assertRaisesRegex(TranslationError, "thrown away"):
                fetch(offer, shelf.home())
            self.assertEqual(shelf.models(), [])
            setattr(self.faults, manner, False)
        (offer,) = offers()
        self.assertEqual(fetch(offer, shelf.home()).target, "ca")

    def test_what_the_engine_cannot_run_is_not_offered(self):
        self.faults.version = "1.0"
        self.assertEqual(offers(), [])

    def test_without_a_connection_there_is_a_sentence(self):
        with (
            mock.patch.dict(os.environ, {VARIABLE: "http://127.0.0.1:9/v1/buckets/x"}),
            self.assertRaisesRegex(TranslationError, "connected to the internet"),
        ):
            offers()
        with (
            mock.patch.dict(os.environ, {VARIABLE: "http://models.example.org/v1/buckets/x"}),
            self.assertRaisesRegex(TranslationError, "over https"),
        ):
            offers()

    @unittest.skipUnless(carried.models(), "the models are not installed")
    def test_a_real_model_translates_after_its_journey(self):
        model = carried.models()[0]
        there = self.folder / "shelf" / f"{model.source}-{model.target}"
        there.symlink_to(model.folder)
        offer = next(one for one in offers() if one.name == there.name)
        fetched = fetch(offer, shelf.home())
        self.assertEqual(fetched.model.read_bytes(), model.model.read_bytes())
        self.assertIsNotNone(fetched.shortlist)

import unittest

from tamarind.translation.engines.base import TranslationError
from tamarind.translation.routes import Router
from tests.translation.engines import Marking


class Routes(unittest.TestCase):
    def setUp(self):
        self.network = Marking("carried", (("en", "pt"), ("pt", "en")), kind="neural")
        self.rules = Marking("apertium", (("en", "es"), ("pt", "es"), ("es", "pt"), ("es", "fr")))
        self.router = Router([self.network, self.rules])

    def test_two_good_legs_are_better_than_one_bad_one(self):
        first, second = self.router.routes("en-GB", "es")
        self.assertEqual(first.key, "carried:en-pt/apertium:pt-es")
        self.assertEqual(second.key, "apertium:en-es")
        self.assertEqual(first.described, "by way of Portuguese, by carried, then by apertium")
        self.assertEqual(second.described, "directly, by apertium")

    def test_legs_are_gone_in_order(self):
        route = self.router.route("en", "fr")
        self.assertEqual(len(route.legs), 3)
        self.assertEqual(self.router.translate(route, ["Peat."]), ["fr: es: pt: Peat."])

    def test_what_is_no_whole_sentence_is_put_as_one_and_becomes_again_what_it_was(self):
        asked = []

        def change(text, _target):
            asked.append(text)
            return text

        router = Router([Marking(change=change)])
        route = router.route("en", "pt")
        texts = ["and it was dry", "Dry", "It was…", "", "one, two", "♪ la la ♪", "💧 50 %", "- no"]
        self.assertEqual(router.translate(route, texts), texts)
        whole = ["And it was dry.", "Dry", "It was…", "One, two.", "La la.", "No"]
        self.assertEqual(asked, whole)

    def test_what_an_engine_cannot_read_stays(self):
        router = Router([Marking(change=lambda text, _: "()" if "В" in text else "seco.")])
        said = router.translate(router.route("en", "pt"), ["Вода.", "dry."])
        self.assertEqual(said, ["Вода.", "seco."])

    def test_the_chosen_route_counts_as_long_as_it_is_there(self):
        self.assertEqual(self.router.route("en", "es", "apertium:en-es").key, "apertium:en-es")
        self.assertEqual(len(self.router.route("en", "es", "gone:en-es").legs), 2)

    def test_languages_without_a_way_are_told(self):
        with self.assertRaisesRegex(TranslationError, "from Spanish to Japanese"):
            self.router.route("es", "ja")
        self.assertEqual(self.router.targets("en"), ["pt", "es", "fr"])
        self.assertEqual(self.router.targets("ja"), [])

    def test_no_route_goes_through_a_language_twice(self):
        for source in ("en", "es", "pt"):
            for target in self.router.targets(source):
                for route in self.router.routes(source, target):
                    been = [source, *(leg.target for leg in route.legs)]
                    self.assertEqual(len(set(been)), len(been), route.key)

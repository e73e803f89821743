import json
import shutil
import unittest

from jsonschema import Draft202012Validator

from tamarind.picture.lookbook import LOOKS
from tamarind.picture.looks import Look, LookError, read_look, schema
from tests.support import FolderTest


class Looks(FolderTest):
    def test_all_that_ship_come_back_from_their_files_and_fit_the_schema(self):
        self.assertGreaterEqual(len(LOOKS.shipped), 12)
        check = Draft202012Validator(schema())
        for look in LOOKS.shipped.values():
            self.assertEqual(read_look(look.packed()), look)
            check.validate(json.loads(look.packed()))

    def test_what_a_file_does_not_say_is_as_usual(self):
        self.assertEqual(
            read_look('{"format": "tamarind-look", "version": 1, "name": " Mist "}'), Look("Mist")
        )

    def test_bad_files_are_told_in_a_sentence(self):
        head = '{"format": "tamarind-look", "version": 1, "name": "x", '
        for text, said in (
            ("nothing", "no JSON"),
            ("[]", "no caption style"),
            ('{"format": "tamarind-look", "version": 9, "name": "x"}', "newer"),
            ('{"format": "tamarind-look", "version": 1, "name": " "}', "no name"),
            (head + '"letters": {"size": 9}}', "size"),
            (head + '"letters": {"colour": "red; drop"}}', "colour"),
            (head + '"ground": {"box": "round"}}', "box"),
            (head + '"words": {"voices": []}}', "voices"),
            (head + '"fit": {"lines": 1.5}}', "lines"),
            (head + '"letters": {"sise": 1}}', "sise"),
        ):
            with self.assertRaises(LookError) as caught:
                read_look(text)
            self.assertIn(said, str(caught.exception))

    def test_own_ones_are_found_by_key_name_and_file(self):
        self.addCleanup(shutil.rmtree, LOOKS.folder, ignore_errors=True)
        LOOKS.keep(Look("Morning mist"))
        file = LOOKS.folder / "morning-mist.look.json"
        for named in ("morning-mist", "morning MIST", str(file)):
            self.assertEqual(LOOKS.find(named), Look("Morning mist"))
        (LOOKS.folder / "broken.look.json").write_text("{")
        self.assertEqual(list(LOOKS.own()), ["morning-mist"])
        with self.assertRaises(LookError):
            LOOKS.find("fog")


if __name__ == "__main__":
    unittest.main()

"""Options of the version before go on working, and say what they are called now."""

import unittest

from tamarind.cli.oldoptions import RENAMED, renamed, renamed_setting
from tamarind.cli.parser import make_parser
from tamarind.transcript.languages import tag_of


class OldOptions(unittest.TestCase):
    def test_an_old_name_and_its_value_become_the_new_ones(self):
        new, told = renamed("transcribe", ["transcribe", "a.wav", "--care", "quick", "--to", "9"])
        self.assertEqual(new, ["transcribe", "a.wav", "--quality", "fast", "--until", "9"])
        self.assertEqual(len(told), 2)
        self.assertIn("--quality", told[0])
        new, _ = renamed("transcribe", ["transcribe", "--care=double", "quick"])
        self.assertEqual(new, ["transcribe", "--quality=two", "quick"])
        self.assertEqual(renamed_setting("transcribe", "care", "quick"), ("quality", "fast"))
        self.assertEqual(renamed_setting("transcribe", "format", "srt"), ("format", "srt"))

    def test_what_options_are_called_now_is_there(self):
        for command, options in RENAMED.items():
            known = make_parser(command)[1][command]._option_string_actions
            for old, one in options.items():
                self.assertIn(one.name, known, command)
                self.assertNotIn(old, known, command)
                for value in one.values.values():
                    self.assertIn(value, known[one.name].choices)

    def test_languages_are_named_or_tagged(self):
        for text, tag in (("Spanish", "es"), ("español", "es"), ("pt-BR", "pt-BR"), ("x!", None)):
            self.assertEqual(tag_of(text), tag)

import os
import stat
from pathlib import Path
from unittest.mock import patch

from tamarind.translation.engines.apertium import Apertium
from tamarind.translation.engines.base import TranslationError
from tests.support import FolderTest


class StandIn(FolderTest):
    """The engine with a program of our own in place of Apertium's."""

    def engine(self, script):
        program = self.folder / "apertium"
        program.write_text(f"#!/bin/sh\n{script}\n")
        program.chmod(program.stat().st_mode | stat.S_IEXEC)
        modes = self.folder / "modes"
        modes.mkdir(exist_ok=True)
        for name in ("eng-spa", "es-fr", "spa-eng_US", "nonsense"):
            (modes / f"{name}.mode").touch()
        path = f"{self.folder}{os.pathsep}{os.environ['PATH']}"
        patched = patch.dict(os.environ, {"PATH": path})
        patched.start()
        self.addCleanup(patched.stop)
        return Apertium(modes)

    def test_names_of_modes_are_not_uniform_but_pairs_are(self):
        self.assertEqual(self.engine("cat").pairs(), [("en", "es"), ("es", "fr")])

    def test_texts_come_back_in_their_order_with_the_empty_ones(self):
        texts = ["one  two", "", "three\nfour", "five"]
        answers = self.engine("tr a-z A-Z").translate(texts, "en-GB", "es")
        self.assertEqual(answers, ["ONE TWO", "", "THREE FOUR", "FIVE"])

    def test_texts_that_the_engine_runs_together_are_asked_for_one_by_one(self):
        script = "tr -s '\\n' ' '"
        texts = [f"text {number}" for number in range(5)]
        self.assertEqual(self.engine(script).translate(texts, "en", "es"), texts)

    def test_many_texts(self):
        texts = [f"text {number}" for number in range(1000)]
        self.assertEqual(self.engine("cat").translate(texts, "en", "es"), texts)

    def test_a_failure_is_told_with_its_reason(self):
        engine = self.engine("echo 'mode is broken' >&2; exit 1")
        with self.assertRaisesRegex(TranslationError, "mode is broken"):
            engine.translate(["one"], "en", "es")

    def test_an_engine_that_never_answers_is_given_up(self):
        engine = self.engine("sleep 30")
        with (
            patch("tamarind.translation.engines.apertium.TIME_LIMIT", 0.2),
            self.assertRaisesRegex(TranslationError, "did not answer"),
        ):
            engine.translate(["one"], "en", "es")

    def test_modes_without_the_program_are_no_pairs(self):
        engine = self.engine("cat")
        with patch.dict(os.environ, {"PATH": str(Path("/nowhere"))}):
            self.assertEqual(engine.pairs(), [])

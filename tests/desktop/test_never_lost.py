"""A thousand things done in the real window by chance: the disk has what the screen has, also
when the program is killed at any moment, and undo leads all the way back."""

import os
import random
import signal
import subprocess
import sys
import textwrap
import time
import zlib
from pathlib import Path

from tamarind.desktop.app import make_application
from tamarind.desktop.proof.rows import Layout
from tamarind.job.store import JobStore
from tamarind.job.undostack import UndoStack
from tamarind.transcript import edits
from tests.chance import check
from tests.desktop.support import WindowTest
from tests.desktop.test_proof import ALT, CTRL, KEY, SHIFT, ProofTest
from tests.doses import dose
from tests.jobtest import DEMO_JOB

PRESSED = dose(200, 3_000)
PRESSES = (
    (KEY.Key_Backspace,), (KEY.Key_Delete,), (KEY.Key_Delete, CTRL), (KEY.Key_Return,),
    (KEY.Key_Return, SHIFT), (KEY.Key_M, CTRL), (KEY.Key_W, ALT), (KEY.Key_Q, ALT),
    (KEY.Key_Right, ALT, SHIFT), (KEY.Key_Left, ALT, SHIFT), (KEY.Key_Up, ALT, SHIFT),
    (KEY.Key_P, ALT), (KEY.Key_S, ALT), (KEY.Key_K, ALT), (KEY.Key_X, CTRL), (KEY.Key_V, CTRL),
    (KEY.Key_Down, SHIFT), (KEY.Key_End, SHIFT), (KEY.Key_D, ALT, SHIFT), (KEY.Key_V, ALT),
    (KEY.Key_Return, CTRL, SHIFT), (KEY.Key_2, ALT), (KEY.Key_Z, CTRL), (KEY.Key_Y, CTRL),
)  # fmt: skip


def do_something(test, chance):
    """A word typed somewhere, or a key pressed."""
    sheet = test.sheet
    if chance.random() < 0.3:
        row = chance.randrange(max(sheet.rows.row_count(), 1))
        length = len(sheet.shown.of(row)) if sheet.rows.row_count() else 0
        sheet.caret.set((row, chance.randrange(length + 1)))
    if chance.random() < 0.35:
        test.type(chance.choice(("bog ", "x", " the", "- ", "Peat. ", " ")))
    else:
        test.key(*chance.choice(PRESSES))


class Anything(ProofTest):
    def test_the_disk_has_what_the_screen_has_and_undo_leads_back(self):
        chance = random.Random(11)
        first = self.text
        shown = self.session.shown
        for number in range(PRESSED):
            do_something(self, chance)
            if number % 25 == 0:
                self.assertEqual(self.on_disk(), self.text)
                check(self, self.text)
                rows = [self.sheet.rows.text(row) for row in range(self.sheet.rows.row_count())]
                told = " ".join(" ".join(rows).split())
                self.assertEqual(told, " ".join(" ".join(c.text for c in self.text.cues).split()))
            if number == PRESSED // 2:
                self.reopen()
                self.sheet.setFocus()
        last = self.text
        self.assertEqual(self.session.shown, shown)
        steps = 0
        while self.session.texts.undo_labels()[0]:
            self.key(KEY.Key_Z, CTRL)
            steps += 1
        self.assertGreater(steps, PRESSED // 5)
        self.assertEqual(self.text, first)
        self.assertEqual(self.on_disk(), first)
        for _ in range(steps):
            self.key(KEY.Key_Y, CTRL)
        self.assertEqual(self.text, last)

    def test_a_text_that_is_wholly_taken_out_and_back(self):
        before = self.text
        for layout in Layout:
            self.window.proof.set_layout(layout)
            self.sheet.caret.select_all()
            self.key(KEY.Key_Delete)
            self.assertEqual(" ".join(c.text for c in self.text.cues), "")
            self.type("Nothing else.")
            self.assertEqual(" ".join(c.text for c in self.text.cues), "Nothing else.")
            while self.text != before:
                self.assertTrue(self.session.texts.undo_labels()[0])
                self.key(KEY.Key_Z, CTRL)


TYPIST = """
    import os, random, sys
    sys.path[:0] = {paths!r}
    from tests.desktop.test_never_lost import Killed, do_something
    test = Killed("typist")
    test.job = {job!r}
    test.run_until_killed(int(sys.argv[1]))
"""


class Killed(WindowTest):
    """Types in a process of its own that is killed while it does."""

    def typist(self):
        """What the other process is made of; not a test."""

    def run_until_killed(self, seed):
        make_application()
        self.job = Path(self.job)
        self.open()
        self.window.show_step("proof")
        self.sheet.setFocus()
        chance = random.Random(seed)
        while True:
            do_something(self, chance)
            self.session.texts.close_edit_group()
            text = self.session.texts.transcript(self.session.shown)
            said = f"{hash_of(text)} {self.session.shown}\n"
            os.write(1, said.encode())

    def test_what_was_on_the_screen_last_is_in_the_file(self):
        self.shut()
        root = str(Path(__file__).parents[2])
        program = textwrap.dedent(TYPIST).format(
            paths=[root, f"{root}/src"], job=str(self.folder / "demo" / DEMO_JOB)
        )
        for seed in range(3):
            process = subprocess.Popen(
                [sys.executable, "-c", program, str(seed)],
                stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True,
            )  # fmt: skip
            said = [process.stdout.readline() for _ in range(20)]
            time.sleep(0.2 + 0.13 * seed)
            process.send_signal(signal.SIGKILL)
            said += process.stdout.read().splitlines(keepends=True)
            process.stdout.close()
            process.wait()
            said = [line for line in said if line.endswith("\n")]
            self.assertGreaterEqual(len(said), 20)
            store = JobStore(self.job)
            last, shown = said[-1].split()
            text = store.document(int(shown)).transcript
            check(self, text)
            self.assertIn(last, self.near(store, int(shown)))
            store.close()
        self.open()

    def near(self, store, shown):
        """The text in the file, and what it was or will be a step or two from there: what was
        being done when the end came has not been told any more."""
        found = {hash_of(store.document(shown).transcript)}
        for way, most in ((UndoStack.undo, 2), (UndoStack.redo, 1)):
            steps, document = UndoStack(store), store.document(shown)
            for _ in range(most):
                turned = way(steps)
                if turned is not None and turned[0] == shown:
                    for change in turned[1]:
                        document = change.made_in(document)
                    found.add(hash_of(document.transcript))
        return found


def hash_of(text):
    """The same in every process."""
    return f"{zlib.crc32(repr(text).encode()):08x}"


class OverARestart(ProofTest):
    def test_undo_goes_on_across_recordings(self):
        first, second = self.session.shown, self.named("Water table lecture")
        before = {key: self.session.texts.transcript(key) for key in (first, second)}
        for key in (first, second, first):
            self.session.texts.edit(key, "join", edits.join(self.session.texts.transcript(key), 3))
        self.reopen()
        self.window.show_step("proof")
        for key in (first, second, first):
            self.key(KEY.Key_Z, CTRL)
            self.assertEqual(self.session.shown, key)
        for key, text in before.items():
            self.assertEqual(self.session.texts.transcript(key), text)
        self.key(KEY.Key_Z, CTRL)
        self.assertIn("Nothing to undo", self.window.said.text())

"""Keys that are changed, their conflicts and their sheet; finding anything; the theme."""

from unittest import mock

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeySequence
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tamarind.application import personal
from tamarind.desktop import keys
from tamarind.desktop.anything import AnythingDialog
from tamarind.desktop.commands import all_commands
from tamarind.desktop.keys import TAKEN, Keys, written
from tamarind.desktop.keys_dialog import KeysDialog, sheet, write_sheet
from tamarind.desktop.theme import colours
from tamarind.system.folders import config_home
from tests.desktop.test_proof import ALT, CTRL, KEY, ProofTest


class KeysAsTheyCame(ProofTest):
    def test_every_key_is_free_and_one_of_a_kind(self):
        seen = dict(TAKEN)
        for command in all_commands():
            for key in command.keys:
                self.assertTrue(written(key), key)
                self.assertNotIn(written(key), seen, command.label)
                seen[written(key)] = command.label

    def test_every_command_does_something(self):
        made = [command.name for command in self.window.commands.commands()]
        self.assertEqual(sorted(made), sorted(command.name for command in all_commands()))
        self.assertEqual(len(made), len(set(made)))


class ChangingKeys(ProofTest):
    def setUp(self):
        super().setUp()
        self.addCleanup(keys.use, Keys())
        self.dialog = KeysDialog(keys.current(), self.window.help.keys_changed, self.window)

    def change(self, name, key):
        self.dialog.choose(name)
        self.dialog.first.setKeySequence(QKeySequence(key))

    def test_a_key_is_changed_used_told_and_kept(self):
        self.change("next_doubt", "F12")
        self.dialog.keep()
        self.sheet.cue_caret.go_to((0, 0))
        self.key(KEY.Key_F12)
        self.assertTrue(self.sheet.settles_by_number)
        self.assertEqual(keys.read_keys().of("next_doubt"), ("F12",))
        self.window.proof.show_desk()
        self.assertIn("F12", sheet(keys.current()))

    def test_hints_follow(self):
        tip = self.window.transport.play_button.toolTip()
        self.assertIn("Ctrl+Space", tip)
        self.change("play", "F11")
        self.dialog.keep()
        self.assertIn("F11", self.window.transport.play_button.toolTip())

    def test_a_key_that_is_taken_is_told_and_not_set(self):
        for key, what in (
            ("Ctrl+F", "Find"),
            ("Ctrl+C", "copy"),
            ("Alt+3", "speaker"),
            ("G", "typing"),
        ):
            self.change("next_doubt", key)
            self.assertIn(what, self.dialog.problem.text(), key)
            self.assertFalse(self.dialog.give.isEnabled())
        self.assertFalse(keys.current().is_own("next_doubt"))

    def test_all_go_back_as_they_came(self):
        self.change("next_doubt", "F12")
        self.dialog.keep()
        self.change("previous_doubt", "Ctrl+J")
        self.dialog.keep()
        self.dialog.choose("next_doubt")
        self.dialog.reset_one()
        self.assertIn("taken", self.dialog.problem.text())
        self.dialog.reset_all()
        self.assertEqual(keys.current().data(), {})

    def test_settings_that_make_no_sense_are_passed_over(self):
        config_home().mkdir(parents=True)
        for text in ("{", "[]", '{"keys": 3}', '{"keys": {"no": ["F2"], "play": "F3"}}'):
            (config_home() / personal.FILE).write_text(text)
            self.assertEqual(keys.read_keys().data(), {})

    def test_the_sheet_is_a_pdf_with_all_of_them(self):
        path = self.folder / "keys.pdf"
        self.assertTrue(write_sheet(keys.current(), path))
        self.assertTrue(path.read_bytes().startswith(b"%PDF"))
        self.assertGreater(path.stat().st_size, 5_000)
        for command in all_commands():
            label = command.together[0] if command.together else command.label
            self.assertIn(label.split(",")[0], sheet(keys.current()))
        self.assertFalse(write_sheet(keys.current(), self.folder / "no" / "keys.pdf"))


class FindingAnything(ProofTest):
    def setUp(self):
        super().setUp()
        self.finder = self.window.anything.finder()

    def kinds(self, query):
        return [hit.kind for hit in self.finder.hits(query)]

    def test_each_kind_is_found_and_gone_to(self):
        self.assertIn("command", self.kinds("split"))
        self.assertIn("time", self.kinds("0:20"))
        next(h for h in self.finder.hits("0:20") if h.kind == "time").go()
        self.assertEqual(self.window.player.position, 20_000)
        next(h for h in self.finder.hits("lecture") if h.kind == "recording").go()
        self.assertEqual(self.session.shown, self.named("Water table lecture"))
        next(h for h in self.finder.hits("Warden") if h.kind == "speaker").go()
        self.assertEqual(self.session.shown, self.named("Warden interview"))
        hit = next(h for h in self.finder.hits("peat") if h.kind == "text")
        hit.go()
        self.assertEqual(self.sheet.caret.selected_text().casefold(), "peat")
        next(h for h in self.finder.hits("paragraphs") if "Switch between cues" in h.text).go()
        self.assertEqual(self.sheet.text.layout.value, "paragraphs")
        self.assertEqual(self.finder.hits("no such thing at all"), [])

    def test_commands_are_found_by_the_words_that_people_bring(self):
        for query, label in (
            ("subtitles", "Caption style"), ("burn", "Videos with captions"), ("mp4", "Add record"),
            ("diarise", "Detect speakers again"), ("clip", "excerpt"), ("backup", "Versions"),
            ("style", "House style"), ("import", "Add recordings"),
        ):  # fmt: skip
            found = [hit.text for hit in self.finder.hits(query) if hit.kind == "command"]
            self.assertTrue(any(label in text for text in found), (query, found))

    def test_by_keys_alone(self):
        def run(dialog):
            QTest.keyClicks(dialog.query, "export")
            QTest.keyClick(dialog.query, Qt.Key.Key_Down)
            QTest.keyClick(dialog.query, Qt.Key.Key_Up)
            QTest.keyClick(dialog.query, Qt.Key.Key_Return)
            return dialog.result()

        with mock.patch.object(AnythingDialog, "exec", run):
            self.key(KEY.Key_K, CTRL)
        self.assertEqual(self.window.step(), "export")

    def test_what_does_not_fit_says_so(self):
        dialog = AnythingDialog(self.finder)
        dialog.query.setText("zzzzz")
        self.assertIsNone(dialog.chosen())
        self.assertFalse(dialog.none.isHidden())


class DarkAndLight(ProofTest):
    def test_it_changes_at_once_and_is_remembered(self):
        self.addCleanup(self.window.theme.set_dark, False)
        light = self.window.grab().toImage().pixelColor(640, 400).lightness()
        self.key(KEY.Key_L, CTRL, Qt.KeyboardModifier.ShiftModifier)
        QApplication.processEvents()
        dark = self.window.grab().toImage().pixelColor(640, 400).lightness()
        self.assertGreater(light, 230)
        self.assertLess(dark, 70)
        self.assertTrue(personal.read(personal.DARK))
        self.assertTrue(colours.is_dark())


class HowFar(ProofTest):
    def test_what_was_played_counts_as_listened(self):
        progress = self.window.proof.progress
        player = self.window.player
        with mock.patch.object(type(player), "is_playing", True):
            for position in (1_000, 1_200, 1_500, 1_900, 30_000, 30_300):
                player.moved.emit(position)
        progress.keep()
        shown = self.session.shown_recording()
        self.assertEqual(shown.listened, ((1_000, 1_900), (30_000, 30_300)))
        self.assertIn("listened 1%", progress.sentence())
        self.reopen()
        self.assertEqual(self.session.shown_recording().listened, shown.listened)
        overview = self.window.transport.overview
        drawn = overview.grab().toImage()
        foot = overview.height() - 1
        x = round(30_150 / shown.duration * overview.width())
        self.assertNotEqual(drawn.pixelColor(x, foot), drawn.pixelColor(x + 40, foot))

    def test_the_time_left_goes_by_the_own_pace(self):
        progress = self.window.proof.progress
        self.assertNotIn("your pace", progress.sentence())
        progress.pace.add(300.0, 100)
        left = self.session.survey(self.session.shown)
        words = left.words() * (1 - left.proofed_share())
        self.assertAlmostEqual(progress.pace.seconds_for(words), 3 * words)
        self.assertIn("left at your pace", progress.sentence())
        self.assertEqual(type(progress.pace).read(progress.pace.kept()), progress.pace)
        self.assertIsNone(type(progress.pace).read("nonsense").seconds_for(10))

    def test_the_threshold_says_which_words_are_doubts(self):
        before = len(self.session.survey(self.session.shown).doubts())
        slider = self.window.proof.desk.threshold
        slider.setValue(30)
        fewer = len(self.session.survey(self.session.shown).doubts())
        self.assertLess(fewer, before)
        self.window.proof.show_desk()
        self.assertIn(f"{fewer} below 30%", self.window.proof.desk.count.text())
        self.reopen()
        self.assertEqual(self.session.threshold, 0.3)
        self.assertEqual(len(self.session.survey(self.session.shown).doubts()), fewer)

    def test_volume_by_key(self):
        self.key(KEY.Key_Minus, CTRL, ALT)
        self.assertAlmostEqual(self.window.player.volume, 0.9)
        self.assertEqual(self.window.transport.volume.value(), 90)

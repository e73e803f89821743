from dataclasses import replace
from unittest.mock import patch

from PySide6.QtWidgets import (
    QApplication,
    QComboBox,
    QDoubleSpinBox,
    QInputDialog,
    QLabel,
    QMessageBox,
    QSpinBox,
)
from shiboken6 import isValid

from tamarind.captions.limits import SpeakerMarks
from tamarind.captions.relayout import Reshaping
from tamarind.desktop.housestyle import opening
from tamarind.desktop.housestyle.editor import StyleEditor
from tamarind.desktop.intake.importing import RepairsDialog
from tamarind.desktop.proof.shaping_dialog import ShapingDialog
from tamarind.desktop.widgets.changes_dialog import ChangesDialog
from tamarind.formats.captions import srt
from tamarind.language.housestyle import Dates, Level, UnitForm
from tamarind.language.stylebook import STYLES
from tamarind.transcript import edits
from tests.desktop.support import WindowTest
from tests.support import cue

YES, NO = QMessageBox.StandardButton.Yes, QMessageBox.StandardButton.No


class Editor(WindowTest):
    def editor(self, key="ordinary"):
        dialog = StyleEditor(self.session, key, self.sheet.transcript, 0, self.window)
        dialog.show()
        QApplication.processEvents()
        self.addCleanup(lambda: dialog.close() if isValid(dialog) else None)
        return dialog

    def field(self, dialog, name, kind=QSpinBox):
        return next(f for f in dialog.findChildren(kind) if f.accessibleName() == name)

    def said(self, dialog):
        return [each.text() for each in dialog.example.findChildren(QLabel)]

    def test_a_change_to_a_style_that_ships_makes_a_copy_and_shows_in_the_example(self):
        dialog = self.editor()
        self.wait(lambda: len(self.said(dialog)) > 4)
        before = self.said(dialog)
        self.field(dialog, "Characters per line").setValue(24)
        self.assertEqual(dialog.item_now().name, "Ordinary captions, own")
        self.assertEqual(dialog.item_now().captions.line_length, 24)
        self.wait(lambda: self.said(dialog) != before)
        lines = [line for text in self.said(dialog)[1:9:2] for line in text.split("\n")]
        self.assertTrue(all(len(line) <= 24 for line in lines), lines)

    def test_the_example_shows_who_speaks_as_the_style_wants_it(self):
        dialog = self.editor()
        box = self.field(dialog, "Speakers", QComboBox)
        self.assertFalse([text for text in self.said(dialog) if text.startswith("INTERVIEWER:")])
        box.setCurrentIndex(1)
        box.activated.emit(1)
        self.assertEqual(dialog.item_now().captions.speakers, SpeakerMarks.NAME)
        self.wait(lambda: any(text.startswith("INTERVIEWER:") for text in self.said(dialog)))
        box.activated.emit(4)
        self.wait(lambda: any("#ffff00" in each.styleSheet()
                              for each in dialog.example.findChildren(QLabel)))  # fmt: skip

    def test_a_style_is_kept_for_this_job_and_others_and_given_to_the_recording(self):
        dialog = self.editor()
        self.field(dialog, "Characters per line").setValue(30)
        dialog.set_level("gap", Level.HINT)
        opening.keep(self.session, dialog)
        shown = self.session.shown
        style = self.session.styles.of(self.session.recordings.get(shown))
        self.assertEqual((style.captions.line_length, style.levels["gap"]), (30, Level.HINT))
        self.assertEqual(self.session.styles.limits_of(shown).line_length, 30)
        others = [r.style for r in self.session.recordings.all() if r.id != shown]
        self.assertEqual(set(others), {"ordinary", "peat-trust"})
        self.assertIn(style, STYLES.own().values())
        self.reopen()
        self.assertEqual(self.session.styles.of(self.session.recordings.get(shown)), style)

    def test_for_all_recordings_and_new_ones(self):
        dialog = self.editor("teletext")
        dialog.accept_for_all()
        opening.keep(self.session, dialog)
        self.assertEqual({r.style for r in self.session.recordings.all()}, {"teletext"})
        self.assertEqual(self.session.usual()[1], "teletext")

    def test_a_style_goes_out_as_a_file_and_comes_in_from_one(self):
        path = self.folder / "trust.style.json"
        dialog = self.editor("teletext")
        dialog.save(path)
        dialog.take(path)
        self.assertEqual(dialog.item_now().name, "Teletext width 2")
        path.write_text("{}")
        dialog.take(path)
        self.assertIn("no house style", dialog.note.whole())

    def test_names_are_given_and_styles_taken_away(self):
        dialog = self.editor()
        with patch.object(QInputDialog, "getText", return_value=("Moor Trust", True)):
            dialog.ask_copy()
        opening.keep(self.session, dialog)
        dialog = self.editor("moor-trust")
        self.assertFalse(dialog.remove.isEnabled())
        dialog.rename("Bog Trust")
        opening.keep(self.session, dialog)
        self.assertEqual(self.session.recordings.get(self.session.shown).style, "bog-trust")
        self.assertEqual(set(STYLES.own()), {"bog-trust"})
        self.session.styles.choose([self.session.shown], "ordinary")
        dialog = self.editor("bog-trust")
        dialog.take_away()
        dialog.keep_changes()
        self.assertEqual(STYLES.own(), {})
        self.assertNotIn("bog-trust", self.session.styles.all())

    def test_what_does_not_count_cannot_be_set(self):
        dialog = self.editor()
        every, stamps = self.field(dialog, "Every"), self.field(dialog, "Time stamps", QComboBox)
        self.assertFalse(every.isEnabled())
        few = stamps.findText("every few minutes")
        stamps.setCurrentIndex(few)
        stamps.activated.emit(few)
        self.assertTrue(every.isEnabled())
        every.setValue(3)
        self.assertEqual(dialog.item_now().transcript.stamp_minutes, 3)
        dialog.choose("teletext")
        self.assertFalse(every.isEnabled())

    def choose(self, box, words):
        place = box.findText(words)
        self.assertGreaterEqual(place, 0, words)
        box.setCurrentIndex(place)
        box.activated.emit(place)

    def test_one_choice_sets_numbers_and_units_and_an_exception_shows(self):
        dialog = self.editor("phone")
        preset = self.field(dialog, "Numbers and units", QComboBox)
        self.assertEqual(preset.currentText(), "as spoken")
        self.choose(preset, "figures, short units: £350, 5 km")
        wording = dialog.item_now().wording
        self.assertEqual((wording.dates, wording.amounts), (Dates.FIGURES, UnitForm.SHORT))
        self.choose(self.field(dialog, "Money", QComboBox), "as it is")
        self.assertEqual(preset.currentText(), "differs: see More")
        self.assertEqual(dialog.item_now().wording.measures, UnitForm.SHORT)
        self.choose(preset, "as spoken")
        self.assertEqual(dialog.item_now().wording.measures, UnitForm.AS_IT_IS)
        self.assertEqual(preset.findText("differs: see More"), -1)

    def test_full_width_letters_have_limits_only_where_a_language_has_them(self):
        name = "Full-width characters per line"
        names = [box.accessibleName() for box in self.editor().findChildren(QSpinBox)]
        self.assertNotIn(name, names)
        recording = self.session.shown_recording()
        how = replace(recording.how, language="ja")
        self.session.recordings.change(replace(recording, how=how))
        names = [box.accessibleName() for box in self.editor().findChildren(QSpinBox)]
        self.assertIn(name, names)

    def test_a_shortest_time_above_the_longest_is_refused(self):
        dialog = self.editor()
        self.field(dialog, "Shortest", QDoubleSpinBox).setValue(9)
        self.assertIn("longer than the longest", dialog.note.whole())
        self.assertEqual(dialog.item_now().captions.shortest, 1000)


class LeftOut(WindowTest):
    def test_what_the_style_leaves_out_is_struck_out_and_stays_in_the_text(self):
        key, sheet = self.session.recordings.first(), self.window.proof.sheet
        self.session.show(key)
        self.window.show_step("proof")
        text = self.session.texts.transcript(key)
        said = cue(text.cues[0].id, "Um, we we dug.", text.cues[0].start, speaker=1)
        self.session.texts.edit(key, "said", replace(text, cues=(said, *text.cues[1:])))
        self.session.styles.choose([key], "verbatim")
        self.assertEqual(sheet.left_out.state(0), frozenset())
        self.session.styles.choose([key], "reading")
        self.assertEqual(sheet.left_out.state(0), {(0, 0), (0, 1)})
        self.assertEqual(self.session.texts.transcript(key).cues[0], said)
        self.window.commands.run("left_out")
        self.assertEqual(sheet.left_out.state(0), frozenset())
        self.window.commands.run("left_out")
        self.window.commands.run("layout")
        self.assertLessEqual({(0, 0), (0, 1)}, sheet.left_out.state(0))


class Checks(WindowTest):
    def setUp(self):
        super().setUp()
        self.key = self.named("Site memo, north drain")
        self.session.show(self.key)
        self.window.show_step("proof")
        self.panel = self.window.proof.checks
        self.settle()

    def settle(self):
        self.wait(lambda: self.window.checking.is_known(self.key), 30)

    def rules(self):
        return [one.finding.rule for one in self.window.checking.findings(self.key)]

    def put(self, place, text):
        new = edits.set_text(self.session.texts.transcript(self.key), place, text)
        self.session.texts.edit(self.key, "test", new)
        self.settle()

    def test_findings_follow_the_text_and_are_mended_with_one_undo(self):
        self.put(2, "it is blowing hard hard, so (I will teh keep this short.")
        found = self.rules()
        for rule in ("sentence-start", "repeated", "brackets", "spelling"):
            self.assertIn(rule, found)
        before = self.session.texts.transcript(self.key)
        self.sheet.caret.set((2, 0))
        self.window.proof.checks.fix_one()
        self.assertTrue(
            self.session.texts.transcript(self.key).cues[2].text.startswith("It is blowing")
        )
        self.session.texts.undo()
        self.assertEqual(self.session.texts.transcript(self.key), before)

    def test_all_of_a_kind_are_mended_at_once(self):
        for place in (2, 4, 7):
            self.put(place, self.session.texts.transcript(self.key).cues[place].text.lower())
        self.window.proof.open_checks()
        index = self.panel.filter.findData("sentence-start")
        self.panel.filter.setCurrentIndex(index)
        self.panel.refresh()
        self.panel.list.setFocus()
        shown = []

        def read(dialog):
            rows = [dialog.rows.topLevelItem(n) for n in range(dialog.rows.topLevelItemCount())]
            shown.extend((row.text(0), row.text(1)) for row in rows)
            return answer

        before = self.session.texts.transcript(self.key)
        answer = False
        with patch.object(ChangesDialog, "exec", read):
            self.panel.fix_all()
            self.assertIs(self.session.texts.transcript(self.key), before)
            answer = True
            self.panel.fix_all()
        told = self.window.checking.findings(self.key)
        cues = {one.place for one in told if one.finding.rule == "sentence-start"}
        self.assertEqual(len(shown), 2 * len(cues))
        for old, new in shown:
            self.assertNotEqual(old, new)
            self.assertEqual(old.casefold(), new.casefold())
        self.settle()
        self.assertNotIn("sentence-start", self.rules())
        self.session.texts.undo()
        self.settle()
        self.assertGreaterEqual(self.rules().count("sentence-start"), 3)

    def test_from_check_to_check_by_key(self):
        self.put(2, "Dam number number four is holding.")
        self.put(6, "The the timber has moved.")
        self.sheet.caret.set((0, 0))
        told = self.window.checking.findings(self.key)
        spots = []
        for _ in {(one.place, one.finding.first) for one in told} - {(0, 0)}:
            self.panel.step(1)
            spots.append((self.sheet.cue_caret.place(), self.sheet.cue_caret.word()))
        self.assertEqual(spots, sorted(spots))
        self.assertIn(2, [place for place, _ in spots])
        self.assertIn(6, [place for place, _ in spots])

    def test_what_is_right_is_let_be_and_told_again_on_demand(self):
        self.put(2, "Dam number number four is holding.")
        self.sheet.cue_caret.go_to_word(2, 1)
        self.panel.dismiss()
        self.assertNotIn("repeated", self.rules())
        self.reopen()
        self.settle()
        self.assertNotIn("repeated", self.rules())
        self.window.checking.restore_dismissed()
        self.assertIn("repeated", self.rules())

    def test_what_is_let_be_is_so_in_its_recording_only(self):
        checking = self.window.checking
        self.put(2, "Dam number number four is holding.")
        finding = next(
            one.finding for one in checking.findings(self.key) if one.finding.rule == "repeated"
        )
        checking.dismiss(self.key + 1, finding)
        self.assertIn("repeated", self.rules())
        checking.dismiss(self.key, finding)
        self.assertNotIn("repeated", self.rules())

    def test_a_word_for_the_glossary_is_no_mistake(self):
        self.put(2, "The dipwell is holding.")
        self.assertIn("spelling", self.rules())
        self.window.proof.open_checks()
        self.panel.filter.setCurrentIndex(self.panel.filter.findData("spelling"))
        self.panel.refresh()
        self.panel.to_glossary()
        self.wait(lambda: "spelling" not in self.rules(), 30)

    def test_the_desk_says_what_is_left_beside_doubts(self):
        self.put(2, "Dam number number four is holding.")
        desk = self.window.proof.desk
        self.window.proof.show_desk()
        texts = [b.text() for b in desk.rest_buttons if not b.isHidden()]
        self.assertTrue(any("repeated word" in text for text in texts), texts)
        self.assertRegex(desk.checks.text(), r"^\d+ (error|warning)")

    def test_text_where_nobody_speaks_is_found_in_the_sound(self):
        text = self.session.texts.transcript(self.key)
        end = text.cues[-1].end
        first = text.cues[0]
        self.assertGreater(first.start, 300)
        from tamarind.transcript.model import Cue, Word

        late = Cue(999, end + 200, end + 800, (Word("Nothing.", end + 200, end + 800),))
        self.session.texts.edit(
            self.key, "late", edits.with_cues(text, len(text.cues), len(text.cues), late)
        )
        self.window.checking.listen()
        self.wait(lambda: "silent-text" in self.rules(), 60)


class Shaping(WindowTest):
    def setUp(self):
        super().setUp()
        self.key = self.named("Water table lecture")
        self.session.show(self.key)
        self.window.show_step("proof")

    def shape(self, act, accept=True, narrow=True):
        if narrow:
            self.session.styles.choose([self.key], "phone")
        seen = []

        def run(dialog):
            dialog.choose(act)
            seen.append(dialog.rows.topLevelItemCount())
            return accept

        with patch.object(ShapingDialog, "exec", run):
            self.window.proof.captioning.shape()
        return seen[0]

    def test_laying_out_anew_shows_what_changes_and_is_one_undo(self):
        before = self.session.texts.transcript(self.key)
        self.assertGreater(self.shape(Reshaping.LAY_OUT, accept=False), 5)
        self.assertEqual(self.session.texts.transcript(self.key), before)
        self.shape(Reshaping.LAY_OUT)
        after = self.session.texts.transcript(self.key)
        words = [w.text for c in after.cues for w in c.words]
        self.assertEqual(words, [w.text for c in before.cues for w in c.words])
        self.assertTrue(all(len(c.text) <= 32 for c in after.cues))
        self.session.texts.undo()
        self.assertEqual(self.session.texts.transcript(self.key), before)

    def test_translations_follow_the_words(self):
        key = self.key = self.named("Site memo, north drain")
        self.session.show(key)
        before = self.session.texts.document(key)
        self.shape(Reshaping.LAY_OUT)
        after = self.session.texts.document(key)

        def said(document):
            track = document.track("pt")
            return " ".join(track.text(c.id) for c in document.transcript.cues).split()

        self.assertEqual(said(after), said(before))
        track = after.track("pt")
        self.assertFalse(any(track.is_stale(c) for c in after.transcript.cues if c.words))

    def test_the_pictures_shots_are_found(self):
        on_demand = self.session.on_demand
        self.wait(lambda: on_demand.shots(self.key) is not None, 60)
        shots = on_demand.shots(self.key)
        self.assertEqual(len(shots), 3)
        for shot, second in zip(shots, (21.2, 43.2, 77.2), strict=True):
            self.assertAlmostEqual(shot / 1000, second, delta=0.25)

    def test_italics_are_shown_kept_written_and_undone(self):
        cue = self.session.texts.transcript(self.key).cues[2]
        self.sheet.cue_caret.choose_words(2, 0, 2)
        wide = self.sheet.row_geometry.layout(2).lineAt(0).naturalTextWidth()
        self.window.commands.run("italics")
        self.assertNotEqual(self.sheet.row_geometry.layout(2).lineAt(0).naturalTextWidth(), wide)
        self.reopen()
        new = self.session.texts.transcript(self.key).cues[2]
        self.assertEqual([bool(w.spans) for w in new.words[:3]], [True, True, False])
        written = srt.write(self.session.texts.transcript(self.key))
        self.assertIn(f"<i>{cue.words[0].text} {cue.words[1].text}</i>", written)
        self.session.texts.undo()
        self.assertEqual(self.session.texts.transcript(self.key).cues[2], cue)
        self.window.proof.sheet.caret.set((2, 0))
        self.window.commands.run("italics")
        new = self.session.texts.transcript(self.key).cues[2]
        self.assertTrue(all(word.spans == ("i",) for word in new.words))
        sheet = self.window.proof.sheet
        area = sheet.row_geometry.span_area(
            2, sheet.spots.words(2)[0].span, sheet.row_geometry.text_area(2)
        )
        self.assertIn("italics", sheet.pointer.told_at(area.center()))

    def test_a_caption_goes_to_the_top_and_back(self):
        self.sheet.caret.set((2, 0))
        self.window.proof.captioning.change_place()
        self.assertEqual(self.session.texts.transcript(self.key).cues[2].placement, "line:0")
        self.reopen()
        self.assertEqual(self.session.texts.transcript(self.key).cues[2].placement, "line:0")
        self.window.proof.sheet.caret.set((2, 0))
        self.window.proof.captioning.change_place()
        self.assertEqual(self.session.texts.transcript(self.key).cues[2].placement, "")


class Texts(WindowTest):
    hears = True

    def setUp(self):
        super().setUp()
        self.key = self.named("Site memo, north drain")
        self.intake = self.window.intake

    def test_what_was_mended_in_a_file_is_shown(self):
        path = self.folder / "memo.srt"
        path.write_text(
            "1\n00:00:04,000 --> 00:00:01,000\nwet\n\n00:00:05,0 --> 00:00:06,0\nmoss\n"
        )
        seen = []
        with patch.object(RepairsDialog, "exec", lambda dialog: seen.append(dialog.windowTitle())):
            self.intake.import_text(self.key, path)
        self.assertEqual(seen, ["2 things were repaired"])
        self.assertEqual(self.session.texts.transcript(self.key).cues[0].text, "wet")

    def test_a_plain_text_is_matched_with_the_sound(self):
        before = self.session.texts.transcript(self.key)
        self.wait(lambda: self.session.sounds.has(self.key), 60)
        path = self.folder / "memo.txt"
        path.write_text(" ".join(c.text for c in before.cues).replace("Tuesday", "rainy Tuesday"))
        with patch.object(QMessageBox, "question", return_value=YES):
            self.intake.import_text(self.key, path)
        self.assertTrue(self.window.hearing_dialog.is_busy())
        self.wait(lambda: self.session.texts.transcript(self.key) is not before)
        after = self.session.texts.transcript(self.key)
        was = {w.text: w.start for w in before.cues[-1].words}
        now = {w.text: w.start for w in after.cues[-1].words}
        for word in ("barn", "rain"):
            key = next(k for k in was if k.startswith(word))
            self.assertAlmostEqual(was[key], now[key], delta=250)
        added = next(w for c in after.cues for w in c.words if w.text == "rainy")
        self.assertTrue(added.is_doubt())

    def test_marks_and_capitals_are_proposed_from_the_sound(self):
        text = self.session.texts.transcript(self.key)
        for place, each in enumerate(text.cues):
            text = edits.set_text(text, place, each.text.lower().replace(".", "").replace(",", ""))
        self.session.texts.edit(self.key, "bare", text)
        self.session.show(self.key)
        self.wait(lambda: self.session.sounds.has(self.key), 60)
        with patch.object(ChangesDialog, "exec", lambda dialog: True):
            self.window.proof.captioning.restore_punctuation()
            self.wait(lambda: self.session.texts.transcript(self.key) is not text)
        new = self.session.texts.transcript(self.key)
        self.assertTrue(new.cues[0].text.startswith("Site memo"))
        ends = sum(c.text[-1] in ".,?" for c in new.cues)
        self.assertGreater(ends, len(new.cues) // 3)
        self.session.texts.undo()
        self.assertEqual(self.session.texts.transcript(self.key), text)

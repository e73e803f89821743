"""Translating in the window: the line of recordings, proofing by key, other versions, crashes."""

import os
import sys
import threading
from unittest import mock

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tamarind.application.translating import Task, Translating
from tamarind.desktop.translation.fetch_dialog import FetchDialog
from tamarind.desktop.translation.returned_dialog import ReturnedDialog
from tamarind.desktop.translation.server_dialog import ServerDialog
from tamarind.desktop.widgets.changes_dialog import ChangesDialog
from tamarind.desktop.widgets.lines_dialog import LinesDialog
from tamarind.desktop.widgets.margin import STRIP_LEFT
from tamarind.job.settings import TO_TRANSLATE
from tamarind.transcript import edits
from tamarind.transcript.corrections import Correction
from tamarind.translation.engines import ownserver
from tamarind.translation.engines.catalogue import look_again
from tamarind.translation.engines.offered import SHELF_VARIABLE
from tamarind.translation.engines.ownserver import OwnServer
from tamarind.translation.engines.pretendedserver import PretendedServer
from tamarind.translation.engines.pretendedshelf import PretendedShelf
from tamarind.translation.exchange.files import SUFFIXES
from tamarind.translation.exchange.handing import as_table, rows_of
from tamarind.translation.routes import Router
from tamarind.translation.sentences import sentences_of
from tamarind.translation.states import CueState, state_of
from tamarind.translation.termbook import TermPair, read_terms
from tamarind.translation.tracks import with_edit, with_some
from tests.desktop.support import WindowTest
from tests.translation.engines import Failing, Marking


class TranslatingTest(WindowTest):
    def setUp(self):
        super().setUp()
        self.key = self.named("Water table lecture")
        self.translating = self.session.translating
        self.screen = self.window.translation
        self.sheet = self.screen.sheet
        self.use(Marking(pairs=(("en", "pt"), ("en", "es"))))
        self.session.show(self.key)
        self.window.show_step("translation")

    def use(self, *engines):
        self.translating._over = Router(engines)

    def cues(self):
        return self.session.texts.transcript(self.key).cues

    def track(self, language="pt", key=None):
        return self.session.texts.document(key or self.key).track(language)

    def translated(self, language="pt"):
        self.screen.show_language(language)
        self.wait(lambda: not self.translating.queue())


class TheLine(TranslatingTest):
    def test_all_recordings_into_two_languages(self):
        for language in ("pt", "es"):
            self.screen.show_language(language)
            self.screen.translate_all()
        self.wait(lambda: not self.translating.queue())
        for recording in self.session.recordings.all():
            text = self.session.texts.transcript(recording.id)
            if text.language != "en" or not text.cues:
                continue
            for language in ("pt", "es"):
                track = self.track(language, recording.id)
                said = {cue.id for cue in text.cues if cue.words}
                self.assertLessEqual(said, track.texts.keys(), recording.name)

    def test_a_recording_that_cannot_be_translated_does_not_hold_up_the_others(self):
        told = []
        self.session.trouble.connect(told.append)
        self.use(Failing(pairs=(("en", "pt"),)), Marking("other", (("en", "es"),)))
        self.translating.add([Task(self.key, "pt"), Task(self.key, "es")])
        self.wait(lambda: not self.translating.queue())
        self.assertIn("Water table lecture, Portuguese: The translator failed", told[0])
        self.assertTrue(self.track("es").texts)

    def test_it_is_stopped_and_what_is_done_stays(self):
        gate = threading.Event()
        asked = []

        def slow(text, target):
            asked.append(text)
            if len(asked) > 5:
                gate.wait(20)
            return f"{target}: {text}"

        self.use(Marking(change=slow))
        with mock.patch("tamarind.translation.draft.AT_ONCE", 1):
            self.screen.show_language("pt")
            self.wait(lambda: len(asked) > 5 and self.track().texts)
            self.assertEqual(self.screen.go.text(), "Stop")
            self.screen.translate()
            gate.set()
            self.wait(lambda: not self.translating.queue())
        done = len(self.track().texts)
        self.assertTrue(0 < done < len(self.cues()))
        self.assertIn("to translate", self.screen.state.text())
        self.assertEqual(self.session.settings.get(TO_TRANSLATE), {})

    def test_a_language_that_is_taken_out_does_not_come_back(self):
        gate = threading.Event()
        self.use(
            Marking(pairs=(("en", "pt"), ("en", "es")), change=lambda t, _: gate.wait(20) and t)
        )
        self.screen.show_language("pt")
        self.screen.show_language("es")
        self.screen.remove_language()
        gate.set()
        self.wait(lambda: not self.translating.queue() and len(self.track().texts))
        languages = [track.language for track in self.session.texts.document(self.key).tracks]
        self.assertEqual(languages, ["pt"])

    def test_what_is_in_line_is_kept_and_taken_up_again(self):
        gate = threading.Event()
        self.use(Marking(change=lambda text, _: gate.wait(20) and text))
        self.translating.add([Task(self.key, "pt"), Task(self.key, "es")])
        kept = self.session.settings.get(TO_TRANSLATE)
        self.assertEqual(kept, {str(self.key): "pt,es"})
        gate.set()
        self.translating.close()
        again = Translating(
            self.session.loop, self.session.recordings, self.session.texts,
            settings=self.session.settings, styles=self.session.styles,
            over=Router([Marking(pairs=(("en", "pt"), ("en", "es")))]),
        )  # fmt: skip
        again.take_up()
        self.wait(lambda: not again.queue())
        again.close()
        for language in ("pt", "es"):
            self.assertEqual(len(self.track(language).texts), len(self.cues()))

    def test_what_a_person_writes_meanwhile_is_not_written_over(self):
        gate = threading.Event()
        self.use(Marking(change=lambda text, target: gate.wait(20) and f"{target}: {text}"))
        self.screen.show_language("pt")
        self.sheet.caret.set((0, 0))
        self.sheet.editing.insert("Por mim.")
        gate.set()
        self.wait(lambda: not self.translating.queue())
        self.assertEqual(self.track().text(self.cues()[0].id), "Por mim.")
        self.assertTrue(self.track().text(self.cues()[3].id))

    def test_a_track_is_made_of_another_track(self):
        self.use(Marking(pairs=(("en", "pt"), ("pt", "gl"))))
        self.translated()
        cue = self.cues()[0]
        document = self.session.texts.document(self.key)
        written = with_edit(self.track(), cue, "Por mim.")
        self.session.texts.edit_document(self.key, "x", document.with_track(written))
        self.screen.languages.translate("gl", "pt")
        self.wait(lambda: not self.translating.queue())
        self.assertEqual(self.track("gl").text(cue.id), "gl: Por mim.")
        self.assertFalse(self.track("gl").is_stale(cue))
        self.assertEqual(len(self.track("gl").texts), len(self.cues()))

    def test_new_text_is_translated_as_it_is_proofed_if_that_is_wished(self):
        self.translated()
        text = self.session.texts.transcript(self.key)
        self.session.texts.edit(self.key, "typing", edits.set_text(text, 3, "Quite dry."))
        self.translating._follow()
        self.assertTrue(self.track().is_stale(self.cues()[3]))
        self.translating.set_follows(True)
        self.translating._follow()
        self.wait(lambda: not self.translating.queue())
        self.assertIn("Quite dry", self.track().text(self.cues()[3].id))

    def test_terms_of_the_job_are_kept(self):
        self.translating.set_terms("pt", read_terms("water = águas"))
        self.translated()
        said = " ".join(self.track().text(cue.id) for cue in self.cues())
        self.assertIn("águas", said)
        self.assertNotIn("water", said)


class Proofing(TranslatingTest):
    def states(self):
        limits = self.session.styles.limits_of(self.key)
        return [state_of(self.track(), cue, limits) for cue in self.cues()]

    def press(self, name):
        self.window.commands.run(name)

    def test_enter_takes_and_goes_on_and_one_undo_takes_it_back(self):
        self.translated()
        self.sheet.caret.set((0, 0))
        self.sheet.setFocus()
        QTest.keyClick(self.sheet, Qt.Key.Key_Return)
        self.assertIs(self.states()[0], CueState.APPROVED)
        self.assertEqual(self.sheet.caret.place, (1, 0))
        self.press("undo")
        self.assertIsNot(self.states()[0], CueState.APPROVED)

    def test_only_what_is_to_be_done_is_gone_to(self):
        self.translated()
        self.sheet.caret.set((len(self.cues()) - 1, 0))
        self.press("proofed")
        self.assertEqual(set(self.states()), {CueState.APPROVED})
        self.press("next_doubt")
        self.assertEqual(self.window.said.text(), "Nothing left to do in this translation.")
        text = edits.set_text(self.session.texts.transcript(self.key), 4, "It was quite dry.")
        self.session.texts.edit(self.key, "typing", text)
        self.press("next_doubt")
        self.assertEqual(self.sheet.caret.place[0], 4)
        self.assertIs(self.states()[4], CueState.STALE)
        self.press("doubt_translation")
        self.press("proofed")
        self.assertIs(self.states()[4], CueState.APPROVED)

    def test_words_go_over_the_border_and_the_source_is_copied(self):
        self.translated()
        first, second = self.cues()[:2]
        words = (self.track().text(first.id) + " " + self.track().text(second.id)).split()
        count = len(self.track().text(first.id).split())
        self.sheet.caret.set((0, 0))
        self.press("word_forward")
        self.assertEqual(self.track().text(first.id).split(), words[: count - 1])
        self.assertEqual(self.track().text(second.id).split(), words[count - 1 :])
        self.sheet.caret.set((1, 0))
        self.press("word_back")
        self.press("word_back")
        self.assertEqual(self.track().text(first.id).split(), words[: count + 1])
        self.sheet.caret.set((0, 0))
        self.press("copy_source")
        self.assertEqual(self.track().text(first.id), first.text)

    def test_another_version_is_chosen_by_its_number(self):
        self.use(Marking("one"), Marking("two", change=lambda text, _: f"dois {text}"))
        self.translated()
        self.sheet.caret.set((0, 0))
        self.press("versions")
        self.wait(lambda: self.screen.working.popup is not None)
        popup = self.screen.working.popup
        self.assertTrue(popup.choices[0].text.startswith("dois"))
        self.assertIn("directly, by two", popup.choices[0].note)
        QTest.keyClick(popup, Qt.Key.Key_1)
        self.assertTrue(self.sheet.hasFocus())
        self.assertTrue(self.track().text(self.cues()[0].id).startswith("dois"))
        self.assertTrue(self.track().texts[self.cues()[0].id].by_person)

    def test_what_makes_a_text_fit_is_offered_and_not_done_by_itself(self):
        self.translated()
        limits = self.session.styles.limits_of(self.key)
        cues = self.cues()
        place = next(n for n in range(2, 20) if cues[n + 1].start - cues[n].end > 600)
        cue = cues[place]
        room = int((cue.end - cue.start) / 1000 * limits.reading_speed) + 6
        said = ("barragem " * 40)[:room].strip()
        document = self.session.texts.document(self.key)
        long = with_some(self.track(), [cue], {cue.id: said})
        self.session.texts.edit_document(self.key, "test", document.with_track(long))
        self.sheet.caret.set((place, 0))
        before = self.session.texts.document(self.key)
        self.press("versions")
        self.wait(lambda: self.screen.working.popup is not None)
        self.assertIs(self.session.texts.document(self.key), before)
        popup = self.screen.working.popup
        (more,) = (n for n, one in enumerate(popup.choices) if "more from the" in one.note)
        popup.choose(more)
        QTest.keyClick(popup, Qt.Key.Key_Return)
        self.assertGreater(self.cues()[place].end, cue.end)
        self.assertLessEqual(self.cues()[place].end, cues[place + 1].start)
        self.assertFalse(self.track().is_stale(self.cues()[place]))

    def test_a_route_is_chosen_and_kept(self):
        self.use(Marking("one"), Marking("two", change=lambda text, _: f"dois {text}"))
        self.translated()
        other = self.translating.router.routes("en", "pt")[1]
        actions = {action.text(): action for action in self.screen.route.menu().actions()}
        actions[other.described].trigger()
        self.assertEqual(self.translating.route("en", "pt"), other)

    def test_an_empty_track_is_typed_by_hand(self):
        self.screen.languages.add_by_hand("nl")
        self.assertFalse(self.screen.go.isVisible())
        self.sheet.caret.set((0, 0))
        self.sheet.editing.insert("Het was droog.")
        self.assertEqual(self.track("nl").text(self.cues()[0].id), "Het was droog.")

    def test_the_sheet_follows_the_sound(self):
        self.translated()
        cue = self.cues()[12]
        self.window.player.moved.emit(cue.words[1].start + 1)
        self.assertEqual(self.sheet.following.heard, (12, 1))
        self.sheet.viewport().grab()
        with mock.patch("tamarind.desktop.editor.following.TYPING_HOLDS_SCROLL_S", 0):
            self.sheet.following.set_playhead(self.cues()[20].start, True)
        area = self.sheet.row_geometry.row_area(20)
        self.assertTrue(0 <= area.top() < self.sheet.viewport().height())

    def test_how_much_is_to_be_done_is_counted(self):
        self.translated()
        cue = self.cues()[2]
        document = self.session.texts.document(self.key)
        long = with_some(self.track(), [cue], {cue.id: "muito longo " * 20})
        self.session.texts.edit_document(self.key, "test", document.with_track(long))
        self.assertIn("too long", self.screen.state.text())


class AServerOfOnesOwn(TranslatingTest):
    def setUp(self):
        super().setUp()
        self.server = PretendedServer()
        self.server.__enter__()
        self.addCleanup(self.server.__exit__, None, None, None)
        self.addCleanup(look_again)
        self.translating._over = None
        patched = mock.patch.dict(sys.modules, {"keyring": None})
        patched.start()
        self.addCleanup(patched.stop)

    def dialog(self, address):
        dialog = ServerDialog(self.window)
        dialog.address.setText(address)
        dialog.is_on.setChecked(True)
        return dialog

    def test_it_is_named_asked_used_and_seen_while_it_is_on(self):
        dialog = self.dialog(self.server.address)
        dialog.ask()
        self.wait(lambda: "translates into" in dialog.said.text())
        self.assertEqual(self.server.faults.asked, [])
        dialog.exec = lambda: dialog.accept() or 1
        with mock.patch("tamarind.desktop.translation.languages.ServerDialog", lambda _: dialog):
            self.screen.languages.name_server()
        self.translated("ja")
        self.assertEqual(self.screen.server_on.text(), "sentences go to your server")
        self.assertTrue(self.track("ja").text(self.cues()[0].id).startswith("ja: "))
        ownserver.keep(OwnServer(self.server.address, False))
        look_again()
        self.screen.refresh()
        self.assertEqual(self.screen.server_on.text(), "")

    def test_an_address_that_will_not_do_keeps_the_dialog_open(self):
        dialog = self.dialog("http://translate.example.org")
        dialog.accept()
        self.assertIn("only https", dialog.said.text())
        self.assertEqual(dialog.result(), 0)
        self.assertEqual(ownserver.kept(), OwnServer())
        dialog.address.setText("http://127.0.0.1:9")
        dialog.ask()
        self.wait(lambda: "cannot be reached" in dialog.said.text())


class OutsideAndBack(TranslatingTest):
    def setUp(self):
        super().setUp()
        self.translated()
        self.outside = self.screen.outside
        self.shown = []

        def accept(dialog):
            self.shown.append((dialog.facts.text(), dialog.list.toPlainText()))
            return 1

        patched = mock.patch.object(ReturnedDialog, "exec", accept)
        patched.start()
        self.addCleanup(patched.stop)

    def test_by_the_clipboard_with_a_line_lost(self):
        self.window.commands.run("copy_lines")
        lines = QApplication.clipboard().text().splitlines()
        self.assertEqual(lines[0], f"1. {self.cues()[0].text}")
        back = [f"{line.split('.')[0]}. Versão {line.split('.')[0]}" for line in lines]
        del back[2]
        QApplication.clipboard().setText("\n".join(back))
        self.window.commands.run("paste_lines")
        self.assertEqual(self.track().text(self.cues()[0].id), "Versão 1")
        self.assertEqual(self.track().text(self.cues()[3].id), "Versão 4")
        self.assertTrue(self.track().text(self.cues()[2].id).startswith("pt: "))
        self.assertIn(f"3: “{self.cues()[2].text}”", self.shown[0][1])
        self.session.texts.undo()
        self.assertTrue(self.track().text(self.cues()[0].id).startswith("pt: "))

    def test_by_every_kind_of_file(self):
        for suffix in SUFFIXES:
            with self.subTest(suffix):
                path = self.folder / f"out.{suffix}"
                self.outside.write(path)
                text = self.cues()[1]
                document = self.session.texts.document(self.key)
                changed = with_edit(self.track(), text, "outra coisa")
                self.session.texts.edit_document(self.key, "x", document.with_track(changed))
                self.outside.read(path)
                self.assertTrue(self.shown[-1][1].startswith("Everything matches"), self.shown[-1])
                self.assertNotEqual(self.track().text(text.id), "outra coisa")

    def test_a_file_that_is_none_is_told(self):
        told = []
        self.session.trouble.connect(told.append)
        (self.folder / "x.docx").write_bytes(b"PK nothing")
        (self.folder / "x.csv").write_text("a,b\n")
        for name in ("x.docx", "x.csv", "gone.xlf"):
            self.outside.read(self.folder / name)
        self.outside.write(self.folder / "x.png")
        self.assertEqual(len(told), 4, told)
        self.assertEqual(self.shown, [])

    def test_a_language_is_taken_out_and_brought_back(self):
        self.screen.remove_language()
        self.assertEqual(self.session.texts.document(self.key).tracks, ())
        self.session.texts.undo()
        self.assertTrue(self.track().texts)

    def test_what_a_person_said_once_is_taken_elsewhere(self):
        said = next(
            sentence
            for sentence in sentences_of(self.cues(), "en")
            if len(sentence.pieces) == 1
            and len(sentence.text.split()) == len(sentence.pieces[0].cue.words)
        )
        cue = said.pieces[0].cue
        document = self.session.texts.document(self.key)
        written = with_edit(self.track(), cue, "Uma vez por todas.")
        self.session.texts.edit_document(self.key, "x", document.with_track(written))
        other = self.named("Warden interview")
        text = edits.set_text(self.session.texts.transcript(other), 0, said.text.upper())
        self.session.texts.edit(other, "typing", text)
        brief = self.translating.brief(other, "pt")
        self.assertEqual(brief.known.exact(said.text), "Uma vez por todas.")
        memory = self.folder / "memory.tmx"
        self.outside.write(memory)
        self.session.texts.undo()
        self.session.texts.undo()
        self.assertIsNone(self.translating.brief(other, "pt").known.exact(said.text))
        self.outside.read(memory)
        brief = self.translating.brief(other, "pt")
        self.assertEqual(brief.known.exact(said.text), "Uma vez por todas.")


class LikeProofing(TranslatingTest):
    """What the proof sheet has, the sheet of translations has too."""

    def test_words_are_found_and_replaced_in_all_recordings(self):
        self.screen.show_language("pt")
        self.screen.translate_all()
        self.wait(lambda: not self.translating.queue())
        QTest.keyClick(self.sheet, Qt.Key.Key_F, Qt.KeyboardModifier.ControlModifier)
        self.window.commands.run("replace")
        bar = self.screen.find_bar
        self.assertTrue(bar.isVisible())
        self.assertFalse(self.window.proof.find_bar.isVisible())
        bar.wanted.setText("water")
        bar.replacement.setText("água")
        here = int(bar.count.text().split()[0])
        bar.scope.setCurrentIndex(1)
        self.assertGreater(int(bar.count.text().split()[0]), here)
        bar.step(1)
        self.assertEqual(self.sheet.caret.selected_text().casefold(), "water")
        bar.replace_all()
        texts = [entry.text for entry in self.track().texts.values()]
        self.assertFalse([text for text in texts if "water" in text.casefold()])
        changed = [entry for entry in self.track().texts.values() if "água" in entry.text]
        self.assertTrue(changed and not any(entry.is_settled for entry in changed))
        self.assertIn("to check", self.screen.state.text())

    def test_words_that_no_dictionary_knows_are_marked(self):
        class Words:
            def knows(self, word):
                return word.strip(".,") != "agua"

        with mock.patch("tamarind.checks.outputchecks.dictionary", lambda language: Words()):
            self.screen.languages.add_by_hand("pt")
            cue = self.cues()[0]
            self.sheet.caret.set((0, 0))
            self.sheet.editing.insert("Sem agua.")
            self.wait(lambda: self.sheet.misspelled.places)
        self.assertEqual(self.sheet.misspelled.places, {cue.id: [(1, 2)]})
        self.window.grab()
        checks = self.window.proof.checks
        self.window.show_step("proof")
        checks.open()
        rules = [told.finding.rule for told in checks._listed]
        checks.list.choose(rules.index("translation-spelling"))
        checks.list.itemActivated.emit(checks.list.currentItem(), 0)
        self.assertEqual(self.window.step(), "translation")
        self.assertEqual(self.sheet.caret.place[0], 0)

    def test_a_note_stays_with_the_translation_and_goes_along(self):
        self.translated()
        self.sheet.caret.set((2, 0))
        answer = ("name as in the report?", True)
        path = "tamarind.desktop.translation.working.QInputDialog.getText"
        with mock.patch(path, return_value=answer):
            self.window.commands.run("comment")
        cue = self.cues()[2]
        self.sheet.editing.insert("Sim ")
        self.assertEqual(self.track().texts[cue.id].comment, answer[0])
        # It stands below what the cue is, within the row.
        self.assertGreater(self.sheet.rows.space(2).least, 54)
        self.window.grab()
        table = as_table(rows_of(self.session.texts.transcript(self.key), self.track()))
        self.assertIn(answer[0], table)
        self.session.saving.retry()
        again = self.session.store.document(self.key).track("pt")
        self.assertEqual(again.texts[cue.id].comment, answer[0])
        with mock.patch(path, return_value=("", True)):
            self.window.commands.run("comment")
        self.assertEqual(self.track().texts[cue.id].comment, "")

    def test_the_sound_beside_a_source_is_heard_by_a_click(self):
        self.translated()
        heard = []
        self.sheet.play_from.connect(heard.append)
        self.window.grab()
        area = self.sheet.row_geometry.text_area(3)
        point = QPoint(STRIP_LEFT + 10, round(area.center().y()))
        QTest.mouseClick(self.sheet.viewport(), Qt.MouseButton.LeftButton, pos=point)
        cue = self.cues()[3]
        self.assertTrue(cue.start <= heard[0] <= cue.end)
        self.assertEqual(self.sheet.caret.place[0], 3)

    def test_what_is_left_is_told(self):
        self.translated()
        self.assertRegex(self.screen.state.text(), r"\d+ to check · .* left$")
        self.sheet.caret.set((len(self.cues()) - 1, 0))
        self.window.commands.run("proofed")
        self.wait(lambda: self.screen.state.text() == "all done", 5)


class StyleOfALanguage(TranslatingTest):
    def test_a_language_is_held_to_a_style_of_its_own(self):
        self.translated()
        styles = self.session.styles
        own = styles.limits_of(self.key)
        menu = self.screen.more.menu()
        (listed,) = [a.menu() for a in menu.actions() if a.text() == "House style of this language"]
        listed.aboutToShow.emit()
        names = {action.text(): action for action in listed.actions()}
        self.assertTrue(names["Same as the recording"].isChecked())
        key = next(key for key, style in styles.all().items() if style.captions != own)
        names[styles.all()[key].name].trigger()
        self.assertEqual(styles.limits_of(self.key, "pt"), styles.all()[key].captions)
        self.assertEqual(styles.limits_of(self.key), own)
        self.assertEqual(styles.limits_of(self.key, "es"), own)
        self.assertEqual(self.screen._limits(), styles.all()[key].captions)
        context = self.window.checking.context(self.key)
        self.assertEqual(context.track_limits["pt"], styles.all()[key].captions)
        self.screen.choose_style("")
        self.assertEqual(styles.limits_of(self.key, "pt"), own)


class Fetching(TranslatingTest):
    def setUp(self):
        super().setUp()
        self.enterContext(mock.patch.dict(os.environ, XDG_DATA_HOME=str(self.folder / "data")))
        for pair in ("en-ca", "fr-en"):
            folder = self.folder / "shelf" / pair
            folder.mkdir(parents=True)
            for name in (f"model.{pair.replace('-', '')}.intgemm.alphas.bin", "vocab.x.spm"):
                (folder / name).write_bytes(os.urandom(60_000))
        stand_in = PretendedShelf(self.folder / "shelf")
        self.enterContext(stand_in)
        self.enterContext(mock.patch.dict(os.environ, {SHELF_VARIABLE: stand_in.records}))
        self.faults = stand_in.faults
        self.dialog = FetchDialog("fr", self.window)
        self.dialog.show()
        self.addCleanup(self.dialog.close)

    def test_a_pair_is_looked_for_stopped_and_fetched(self):
        dialog = self.dialog
        self.assertEqual(dialog.go.text(), "Show available models")
        dialog.go.click()
        self.wait(lambda: dialog.rows.items())
        self.assertEqual([item.text(0) for item in dialog.rows.items()], ["French", "English"])
        dialog.filter.setText("catal")
        self.assertEqual(dialog.go.text(), "Download en-ca")
        self.faults.seconds_a_piece = 0.1
        dialog.go.click()
        self.assertTrue(dialog.progress.isVisible())
        self.wait(lambda: dialog.progress.done[0] > 0)
        dialog.progress.cancel.click()
        self.wait(lambda: not dialog.progress.isVisible())
        self.assertIn("resumes from here", dialog.note.text())
        self.faults.seconds_a_piece = 0.0
        dialog.go.click()
        self.wait(lambda: dialog.fetched)
        self.assertEqual(dialog.fetched[0].target, "ca")
        self.assertEqual(dialog.rows.items(), [])
        self.assertFalse(dialog.go.isEnabled())

    def test_offline_there_is_a_sentence_and_another_try(self):
        with mock.patch.dict(os.environ, {SHELF_VARIABLE: "http://127.0.0.1:9/buckets/x"}):
            self.dialog.go.click()
            self.wait(lambda: "internet" in self.dialog.note.text())
        self.dialog.go.click()
        self.wait(lambda: self.dialog.rows.items())


class FromAFile(TranslatingTest):
    def test_captions_become_a_track_in_the_language_of_their_name(self):
        self.translated()
        path = self.folder / "lecture.nl.srt"
        self.screen.outside.write(path)
        with mock.patch.object(ReturnedDialog, "exec", return_value=1):
            self.screen.languages.from_file(path)
        self.assertEqual(self.sheet.text.track.language, "nl")
        for cue in self.cues():
            self.assertEqual(self.track("nl").text(cue.id), self.track().text(cue.id))

    def test_a_name_that_tells_no_language_is_asked_about(self):
        path = self.folder / "lecture.srt"
        path.write_text("1\n00:00:00,500 --> 00:00:04,000\nGoedemorgen.\n")
        asked = "tamarind.desktop.translation.languages.QInputDialog.getItem"
        with mock.patch(asked, return_value=("Dutch", False)):
            self.screen.languages.from_file(path)
        self.assertEqual(self.screen.languages.tracks(), [])
        with (
            mock.patch(asked, return_value=("Dutch", True)),
            mock.patch.object(ReturnedDialog, "exec", return_value=1),
        ):
            self.screen.languages.from_file(path)
        self.assertEqual(self.track("nl").text(self.cues()[0].id), "Goedemorgen.")


class FixedOnce(TranslatingTest):
    def setUp(self):
        super().setUp()
        change = lambda text, _: text.replace("water table", "mesa de água")  # noqa: E731
        self.use(Marking(change=change))
        self.screen.show_language("pt")
        self.screen.translate_all()
        self.wait(lambda: not self.translating.queue())
        self.row = next(
            row for row, cue in enumerate(self.cues()) if "mesa de" in self.track().text(cue.id)
        )
        text = self.track().text(self.cues()[self.row].id)
        at = text.index("mesa de água")
        self.sheet.caret.select((self.row, at), (self.row, at + len("mesa de água")))
        self.sheet.editing.insert("lençol freático")
        self.sheet.caret.set((self.row + 1, 0))

    def left(self):
        documents = map(self.session.texts.document, (self.key, self.named("Warden interview")))
        return [
            entry
            for document in documents
            for entry in document.track("pt").texts.values()
            if "mesa de água" in entry.text
        ]

    def test_a_corrected_term_is_put_everywhere_and_stays_to_be_read(self):
        fixing = self.screen.fixing
        self.assertEqual(fixing.elsewhere.last, Correction("mesa de água", "lençol freático"))
        count = len(self.left())
        self.assertEqual(fixing.elsewhere.others, count)
        self.assertGreater(count, 1)
        shown = []
        with mock.patch.object(ChangesDialog, "exec", lambda dialog: shown.append(dialog) or 1):
            self.window.commands.run("fix_elsewhere")
            self.wait(lambda: shown and not self.left())
        open_ones = [
            entry
            for cue in self.cues()
            if "lençol freático" in (entry := self.track().texts[cue.id]).text
            and not entry.is_settled
        ]
        self.assertTrue(open_ones)
        self.assertEqual(fixing.elsewhere.others, 0)

    def test_it_goes_into_the_terms_with_the_words_it_stands_for(self):
        with mock.patch.object(LinesDialog, "exec", return_value=1):
            self.window.commands.run("fix_glossary")
        pairs = self.translating.terms("pt").pairs
        self.assertEqual(pairs[-1], TermPair("water table", "lençol freático"))

    def test_another_language_has_other_corrections(self):
        self.screen.languages.add_by_hand("nl")
        self.assertIsNone(self.screen.fixing.elsewhere.last)


class OnThePicture(TranslatingTest):
    def test_it_carries_the_captions_of_the_translation(self):
        self.translated()
        self.assertTrue(self.screen.picture.isVisible())
        cue = next(cue for cue in self.cues() if cue.words)
        self.window.player.moved.emit(cue.start + 10)
        self.wait(lambda: self.screen.picture.drawing is not None)
        self.session.show(self.named("Warden interview"))
        self.assertFalse(self.screen.picture.isVisible())

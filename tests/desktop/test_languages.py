"""Languages in the window: found by typing, asked about on the card, and put right by one click."""

from dataclasses import replace

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tamarind.batch.messages import LanguageHeard
from tamarind.desktop.intake.hearing_fields import ALSO, AND_ALSO, LANGUAGE
from tamarind.desktop.widgets.language_box import LanguageBox
from tamarind.job.recording import State
from tamarind.speech.languageguess import Guess
from tamarind.transcript.languages import UNDETERMINED
from tests.desktop.support import WindowTest
from tests.support import FolderTest

ASKED = (Guess("sv", 0.5), Guess("no", 0.3), Guess("da", 0.15))


class Choosing(FolderTest):
    def setUp(self):
        super().setUp()
        from tamarind.desktop.app import make_application

        make_application()
        self.box = LanguageBox((("detect", UNDETERMINED),))
        self.box.offer(("cs", "de", "en", "es", "nl"))
        self.told = []
        self.box.activated.connect(lambda place: self.told.append(self.box.itemData(place)))

    def entered(self, text):
        self.box.lineEdit().setText(text)
        self.box.lineEdit().editingFinished.emit()
        return self.box.currentData()

    def test_a_language_is_found_by_either_name_or_by_a_part_that_only_one_has(self):
        self.box.show_language("en")
        self.assertEqual(self.entered("Deutsch"), "de")
        self.assertEqual(self.entered("dutch"), "nl")
        self.assertEqual(self.entered("špan"), "nl")
        self.assertEqual(self.entered("span"), "es")
        self.assertEqual(self.told, ["de", "nl", "es"])
        self.assertEqual(self.box.currentText(), "Spanish – español")

    def test_what_is_no_language_changes_nothing(self):
        self.box.show_language("de")
        for text in ("Klingonese", "", "ch"):
            self.assertEqual(self.entered(text), "de")
            self.assertEqual(self.box.currentText(), "German – Deutsch")
        self.assertEqual(self.told, [])

    def test_those_used_last_come_first_and_the_usual_ones_before_the_rest(self):
        order = [self.box.itemData(place) for place in range(self.box.count())]
        self.assertEqual(order, [UNDETERMINED, "en", "es", "de", "nl", "cs"])
        self.entered("Czech")
        self.box.offer(("cs", "de", "en", "es", "nl"))
        order = [self.box.itemData(place) for place in range(self.box.count())]
        self.assertEqual(order[:3], [UNDETERMINED, "cs", "en"])

    def test_one_that_nothing_here_hears_is_shown_too(self):
        self.box.show_language("gn")
        self.assertEqual(self.box.currentText(), "gn")


class OnTheCard(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.show_step("intake")
        self.wait(lambda: self.window.intake.cards)
        self.recordings = self.window.session.recordings
        self.key = self.named("Volunteers round table")

    def tell(self, news):
        self.window.session.queue._take(self.recordings.get(self.key), news)

    def acts(self):
        card = self.window.intake.cards[self.key]
        card.refresh()
        return [act.text() for act in card.answers if not act.isHidden()]

    def say(self, language):
        recording = self.recordings.get(self.key)
        how = replace(recording.how, language=language)
        self.recordings.change(replace(recording, how=how, state=State.QUEUED))

    def test_what_is_not_certain_is_heard_all_the_same_asked_and_answered_by_one_click(self):
        self.say(UNDETERMINED)
        self.tell(LanguageHeard(self.key, ASKED))
        recording = self.recordings.get(self.key)
        self.assertEqual((recording.state, recording.language), (State.QUEUED, "sv"))
        self.assertEqual(self.acts(), ["Keep Swedish", "Transcribe in Norwegian"])
        self.window.intake.cards[self.key].answers[1].click()
        recording = self.recordings.get(self.key)
        self.assertEqual((recording.state, recording.language), (State.QUEUED, "no"))
        self.assertEqual(self.acts(), [])

    def test_what_was_found_out_is_the_language_and_stands_on_the_card(self):
        self.say(UNDETERMINED)
        self.tell(LanguageHeard(self.key, (Guess("es", 0.97),)))
        self.assertEqual(self.recordings.get(self.key).language, "es")
        self.assertEqual(self.acts(), [])
        card = self.window.intake.cards[self.key]
        self.assertIn("sounds like Spanish (97%)", card._make_up.toolTip() or card._make_up.text())

    def test_a_wrong_choice_is_said_and_put_right_by_one_click_which_undo_takes_back(self):
        session = self.window.session
        self.key = self.named("Warden interview")
        text = session.texts.transcript(self.key)
        self.assertTrue(text.cues)
        self.tell(LanguageHeard(self.key, (Guess("es", 0.97),)))
        self.assertEqual(self.recordings.get(self.key).language, "en")
        self.assertEqual(self.acts(), ["Transcribe in Spanish", "Keep English"])
        self.window.intake.cards[self.key].answers[0].click()
        recording = self.recordings.get(self.key)
        self.assertEqual((recording.state, recording.language), (State.QUEUED, "es"))
        self.assertEqual(recording.heard_until, recording.part[0])
        self.assertEqual(session.texts.transcript(self.key).cues, ())
        session.queue.cancel(self.key)
        session.texts.undo()
        self.assertEqual(session.texts.transcript(self.key).cues, text.cues)

    def test_who_knows_better_is_not_asked_again(self):
        self.key = self.named("Warden interview")
        self.tell(LanguageHeard(self.key, (Guess("es", 0.97),)))
        self.acts()
        self.window.intake.cards[self.key].answers[1].click()
        self.assertEqual(self.acts(), [])
        self.assertEqual(self.recordings.get(self.key).language, "en")

    def test_several_languages_are_named_one_after_the_other(self):
        panel = self.window.intake.panel
        self.window.intake.choose(self.key, Qt.KeyboardModifier.NoModifier)
        third = panel.box(AND_ALSO)
        self.assertTrue(third.isHidden())
        for field, tag in ((LANGUAGE, "es"), (ALSO, "en"), (AND_ALSO, "fr")):
            box = panel.box(field)
            box.setCurrentIndex(box.findData(tag))
            box.activated.emit(box.currentIndex())
        self.wait(lambda: not third.isHidden())
        self.assertEqual(self.recordings.get(self.key).how.languages, ("es", "en", "fr"))
        box = panel.box(LANGUAGE)
        box.setFocus()
        box.lineEdit().selectAll()
        QTest.keyClicks(box.lineEdit(), "detect")
        box.lineEdit().editingFinished.emit()
        self.assertEqual(self.recordings.get(self.key).language, UNDETERMINED)
        self.wait(lambda: not panel.box(ALSO).isEnabled())

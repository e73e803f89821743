"""Commands for doubts: go from one to the next, play them, accept them or an alternative."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QObject, QTimer

from tamarind.application.session import Session
from tamarind.desktop.commands import DOUBT, TEXT, command
from tamarind.desktop.player import Player
from tamarind.desktop.proof.sheet import ProofSheet
from tamarind.job.settings import DOUBTS_BY_CERTAINTY
from tamarind.transcript import edits

BEFORE_DOUBT_MS, AFTER_DOUBT_MS = 900, 700
AROUND_MS, PAUSE_MS, NEARLY_MS = 1_000, 350, 250


class Doubts(QObject):
    """Each change is one step of undo."""

    def __init__(self, session: Session, sheet: ProofSheet, player: Player) -> None:
        super().__init__(sheet)
        self._session, self._sheet, self._player = session, sheet, player
        self._goes = False
        self._until = 0
        self._listens = False
        """Whether one doubt after the other is played."""

        player.playing_changed.connect(self._played)
        sheet.caret.moved.connect(self._caret_moved)
        sheet.reading_asked.connect(self.take_numbered)

    @command(
        "Go to the next to review",
        "Uncertain words",
        "Ctrl+J",
        name="next_doubt",
        arguments=(1,),
        opens="proof",
        needs=TEXT,
        also="uncertain word open translation",
    )
    @command(
        "Go to the previous to review",
        "Uncertain words",
        "Ctrl+Shift+J",
        name="previous_doubt",
        arguments=(-1,),
        opens="proof",
        needs=TEXT,
    )
    def go_on(self, direction: int) -> None:
        """Move the caret to the next or previous doubt, round the end of the text; by confidence,
        to the next that is less or more certain."""
        doubts = self.places()
        if not doubts:
            return
        here = (self._sheet.cue_caret.place(), self._sheet.cue_caret.word())
        order = self._certainty_of if self.by_certainty() else lambda place: place
        doubts = sorted(doubts, key=order)
        if self.by_certainty() and here not in doubts:
            target = doubts[0]
        elif direction > 0:
            target = next((one for one in doubts if order(one) > order(here)), doubts[0])
        else:
            before = (one for one in reversed(doubts) if order(one) < order(here))
            target = next(before, doubts[-1])
        self.go_to(*target)

    def _certainty_of(self, place: tuple[int, int]) -> tuple[float, tuple[int, int]]:
        row, word = place
        words = self._sheet.transcript.cues[row].words
        confidence = words[word].confidence if word < len(words) else None
        return 1.0 if confidence is None else confidence, place

    def by_certainty(self) -> bool:
        """Whether the least certain doubts come first."""
        return self._session.settings.get(DOUBTS_BY_CERTAINTY)

    @command("Change the order of uncertain words", "Uncertain words",
             "Ctrl+Alt+J", name="doubts_order", needs=TEXT)  # fmt: skip
    def change_order(self) -> None:
        """Switch between the orders of uncertain words."""
        by_certainty = not self.by_certainty()
        self._session.settings.keep(DOUBTS_BY_CERTAINTY, by_certainty)
        self._session.told.emit(
            "Uncertain words are in order of confidence, lowest first."
            if by_certainty
            else "Uncertain words are in the order of the text."
        )

    @command("Play only the uncertain words, one after the other", "Uncertain words", "Ctrl+Alt+H",
             name="listen_to_doubts", needs=TEXT)  # fmt: skip
    def listen(self) -> None:
        """Play each doubt with a second before and after, one after the other, until one is
        settled, the caret goes elsewhere, or the command is given again."""
        if self._listens:
            self._listens = False
            self._player.stop()
        elif not self.places():
            self._session.told.emit("There is no uncertain word here.")
        else:
            self._goes = True
            if not self.is_at_one():
                self.go_on(1)
            self._goes = False
            self._listens = True
            self._hear_wide()

    def _hear_wide(self) -> None:
        cue = self._sheet.cue_caret.cue()
        place = self._sheet.cue_caret.word()
        if cue is not None and place < len(cue.words):
            word = cue.words[place]
            self._until = word.end + AROUND_MS
            self._player.play(max(word.start - AROUND_MS, 0), self._until)

    def _played(self, playing: bool) -> None:
        """Go on to the next doubt after one was played to its end; whoever stops before has heard
        enough."""
        if not self._listens or playing:
            return
        if self._player.position < self._until - NEARLY_MS:
            self._listens = False
        else:
            QTimer.singleShot(PAUSE_MS, self, self._listen_on)

    def _listen_on(self) -> None:
        if not self._listens or self._player.is_playing:
            return
        if not self.places():
            self._listens = False
            return
        self._goes = True
        self.go_on(1)
        self._goes = False
        self._hear_wide()

    def _caret_moved(self) -> None:
        if not self._goes:
            self._listens = False

    @command("Play the word again", "Uncertain words", "Alt+H", name="hear_doubt", needs=TEXT)
    def hear(self) -> None:
        """Play the word at the caret with a little before and after."""
        cue = self._sheet.cue_caret.cue()
        if cue is None or not cue.words:
            return
        word = cue.words[min(self._sheet.cue_caret.word(), len(cue.words) - 1)]
        self._player.play(max(word.start - BEFORE_DOUBT_MS, 0), word.end + AFTER_DOUBT_MS)

    @command("Accept the word", "Uncertain words", "Alt+K", name="keep_doubt", needs=DOUBT)
    def keep(self) -> None:
        """Accept the word at the caret as it is, and go to the next doubt."""
        self.settle(None)

    def is_at_one(self) -> bool:
        """Whether the word at the caret is a doubt."""
        cue = self._sheet.cue_caret.cue()
        word = self._sheet.cue_caret.word()
        at = cue.words[word] if cue is not None and word < len(cue.words) else None
        return at is not None and at.is_doubt(self._session.threshold)

    def settle(self, text: str | None) -> None:
        """Settle the word at the caret as it is, or as one of its alternatives."""
        if not self.is_at_one():
            return
        if self._listens:
            self._listens = False
            self._player.stop()
        row, word = self._sheet.cue_caret.place(), self._sheet.cue_caret.word()
        new = edits.settle_word(self._sheet.transcript, row, word, text)
        self._session.edit_shown("review a word", new)
        self.go_on(1)

    @command("Accept all words like this one", "Uncertain words", "Alt+Shift+K", needs=TEXT)
    def keep_spelling(self) -> None:
        """Accept all doubts spelled like the word at the caret."""
        cue = self._sheet.cue_caret.cue()
        place = self._sheet.cue_caret.word()
        if cue is None or place >= len(cue.words):
            return
        text = cue.words[place].text
        new, count = edits.keep_spelling(self._sheet.transcript, text, self._session.threshold)
        if not count:
            self._session.told.emit(f"No uncertain word reads “{text}”.")
            return
        self._session.edit_shown(f"keep {text}", new)
        self._session.told.emit(f"{count} accepted.")
        self.go_on(1)

    def go_to(self, row: int, word: int) -> None:
        self._sheet.cue_caret.choose_word(row, word)
        self._sheet.setFocus()
        self._sheet.settles_by_number = True

    def acts(self) -> list[tuple[str, Callable[[], object]]]:
        """Return what a menu offers for the doubt at the caret: its alternatives, or the word."""
        cue, place = self._sheet.cue_caret.cue(), self._sheet.cue_caret.word()
        if cue is None or not self.is_at_one():
            return []
        alternatives = list(filter(None, cue.words[place].alternatives))
        return [
            *((one, partial(self.settle, one)) for one in alternatives),
            ("Accept the word", self.keep),
        ]

    def take_numbered(self, number: int) -> None:
        """Take an alternative, or the word as it is, by a number key."""
        cue = self._sheet.cue_caret.cue()
        place = self._sheet.cue_caret.word()
        if cue is None or place >= len(cue.words):
            return
        alternatives = list(filter(None, cue.words[place].alternatives))
        if number == 0:
            self.settle(None)
        elif number <= len(alternatives):
            self.settle(alternatives[number - 1])
        else:
            self._sheet.settles_by_number = True

    def places(self) -> list[tuple[int, int]]:
        shown = self._session.shown
        return self._session.survey(shown).doubts() if shown is not None else []

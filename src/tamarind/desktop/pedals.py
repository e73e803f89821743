"""Foot pedals in the window: what a press does with the sound, and the dialog to assign them."""

from __future__ import annotations

import threading
from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QObject, QTimer, Signal
from PySide6.QtWidgets import QCheckBox, QGridLayout, QWidget

from tamarind.application import personal
from tamarind.desktop.player import Player
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.pedal.acts import Meaning, PedalAct, Press
from tamarind.pedal.device import FOLDER, FoundPedals, Pedal, find
from tamarind.pedal.pretended import PretendedPedal

SKIP_MS = 2_000
REPEAT_MS = 500
"""Held down, back and forward go on so often."""

LOOK_MS = 5_000
FIRST_LOOK_MS = 1_500
"""The window comes first."""

TITLES = {
    PedalAct.PLAY: "Play",
    PedalAct.BACK: "Back 2 seconds",
    PedalAct.FORWARD: "Forward 2 seconds",
}


class Pedals(QObject):
    """All connected pedals; their presses are handled in the window's thread."""

    pressed = Signal(object, object)
    changed = Signal()

    def __init__(
        self, player: Player, play: Callable[[], None], parent: QObject, looks: bool = True
    ) -> None:
        super().__init__(parent)
        self._player, self._play = player, play
        self.meaning = Meaning.from_data(personal.read(personal.PEDALS))
        self.pedals: list[Pedal] = []
        self.problem = ""
        self._teaching: PedalAct | None = None
        self._held: PedalAct | None = None
        self._seen: list[str] | None = None
        self.repeat = QTimer(self, interval=REPEAT_MS)
        self.repeat.timeout.connect(self.skip)
        self.pressed.connect(self._take)
        self._look = QTimer(self, interval=LOOK_MS)
        self._look.timeout.connect(self.look)
        if looks:
            self._look.start()
            QTimer.singleShot(FIRST_LOOK_MS, self, self.look)

    def look(self) -> None:
        """Look for pedals if devices have come or gone since."""
        there = sorted(path.name for path in FOLDER.glob("event*")) if FOLDER.is_dir() else []
        if there == self._seen:
            return
        self._seen = there
        for pedal in self.pedals:
            # Each is opened anew, so that none is listened to twice.
            if not isinstance(pedal, PretendedPedal):
                pedal.close()
        self.take_found(find())

    def take_found(self, found: FoundPedals) -> None:
        """Use the pedals that were found."""
        self.problem = found.problem
        for pedal in found.pedals:
            self.add(pedal)
        self.changed.emit()

    def add(self, pedal: Pedal) -> None:
        """Listen to a pedal until it is unplugged."""
        self.pedals.append(pedal)

        def listen() -> None:
            for press in pedal.presses():
                self.pressed.emit(pedal, press)
            self.pressed.emit(pedal, None)

        threading.Thread(target=listen, name="pedal", daemon=True).start()
        self.changed.emit()

    def close(self) -> None:
        """Release all pedals."""
        self._look.stop()
        self.repeat.stop()
        for pedal in self.pedals:
            pedal.close()

    def teach(self, act: PedalAct | None) -> None:
        """Assign the next key that is pressed to this act."""
        self._teaching = act
        self.changed.emit()

    @property
    def teaching(self) -> PedalAct | None:
        """The act that waits for its key."""
        return self._teaching

    def set_holds(self, holds: bool) -> None:
        """Set whether to play while a pedal is held, or from one press to the next."""
        self.meaning = Meaning(self.meaning.taught, holds)
        self._keep()

    def key_of(self, act: PedalAct) -> str:
        """Return which key of which pedal does an act, in words."""
        for pedal in self.pedals:
            for number, code in enumerate(sorted(pedal.codes), 1):
                if self.meaning.act(pedal.name, pedal.codes, code) is act:
                    return f"key {number} of “{pedal.name}”"
        return "not assigned"

    def _take(self, pedal: Pedal, press: Press | None) -> None:
        if press is None:
            if pedal in self.pedals:
                self.pedals.remove(pedal)
            self._release()
            self.changed.emit()
            return
        if self._teaching is not None:
            if press.down:
                taught, self._teaching = self._teaching, None
                self.meaning = self.meaning.with_taught(pedal.name, taught, press.code)
                self._keep()
            return
        act = self.meaning.act(pedal.name, pedal.codes, press.code)
        if act is None:
            return
        if press.down:
            self._press(act)
        elif act is self._held:
            self._release()

    def _press(self, act: PedalAct) -> None:
        self._held = act
        if act is not PedalAct.PLAY:
            self.skip()
            self.repeat.start()
        elif not self.meaning.holds:
            self._play()
        elif not self._player.is_playing:
            self._player.play()

    def _release(self) -> None:
        if self._held is PedalAct.PLAY and self.meaning.holds and self._player.is_playing:
            self._play()
        self.repeat.stop()
        self._held = None

    def skip(self) -> None:
        """Skip forward or back as long as the pedal is down."""
        by = -SKIP_MS if self._held is PedalAct.BACK else SKIP_MS
        self._player.seek(self._player.position + by)

    def _keep(self) -> None:
        personal.keep(personal.PEDALS, self.meaning.data())
        self.changed.emit()


class PedalDialog(Dialog):
    """Shows the connected pedals and what their keys do, and assigns them by pressing."""

    def __init__(self, pedals: Pedals, parent: QWidget | None = None) -> None:
        super().__init__("Foot pedal", (560, 380), parent, "Foot pedal")
        self._pedals = pedals
        self.state = label("", "", wrap=True)
        self.body.addWidget(self.state)
        rows = QGridLayout()
        rows.setHorizontalSpacing(16)
        rows.setColumnStretch(1, 1)
        self._keys = {}
        for row, (act, title) in enumerate(TITLES.items()):
            rows.addWidget(label(title), row, 0)
            self._keys[act] = label("", "note")
            rows.addWidget(self._keys[act], row, 1)
            teach = button("Assign", partial(pedals.teach, act), name=f"Assign: {title}")
            rows.addWidget(teach, row, 2)
        self.body.addLayout(rows)
        holds = QCheckBox("Play while the pedal is held down")
        holds.setChecked(pedals.meaning.holds)
        holds.toggled.connect(pedals.set_holds)
        self.body.addWidget(holds)
        self.body.addStretch(1)
        self._pretended: PretendedPedal | None = None
        self._try = button("Try with a simulated pedal", self.pretend)
        self.set_acts(leave="Close", between=(self._try,))
        self._held: dict[PedalAct, bool] = {}
        pedals.changed.connect(self.show_state)
        self.show_state()

    def show_state(self) -> None:
        """Show the current pedals."""
        pedals = self._pedals
        if pedals.teaching is not None:
            said = f"Press the pedal for “{TITLES[pedals.teaching].lower()}” now."
        elif pedals.pedals:
            names = ", ".join(f"“{pedal.name}”" for pedal in pedals.pedals)
            said = f"{names} is ready." if len(pedals.pedals) == 1 else f"{names} are ready."
        else:
            said = "No pedal is connected. One that is plugged in is found automatically."
            said = f"{said} {pedals.problem}".strip()
        self.state.setText(said)
        for act, shown in self._keys.items():
            shown.setText(pedals.key_of(act))

    def pretend(self) -> None:
        """Add three buttons that act as a pedal while the dialog is open."""
        if self._pretended is not None:
            return
        pedal = self._pretended = PretendedPedal()
        row = QGridLayout()
        for column, code in enumerate(pedal.codes):
            key = button(f"Key {column + 1}", lambda: None)
            key.pressed.connect(lambda code=code: pedal.press(code))
            key.released.connect(lambda code=code: pedal.release(code))
            row.addWidget(key, 0, column)
        self.body.insertLayout(self.body.count() - 1, row)
        self._try.setEnabled(False)
        self._pedals.add(pedal)

    def done(self, result: int) -> None:
        """Stop assigning, and remove the simulated pedal."""
        self._pedals.changed.disconnect(self.show_state)
        self._pedals.teach(None)
        if self._pretended is not None:
            self._pretended.close()
        super().done(result)

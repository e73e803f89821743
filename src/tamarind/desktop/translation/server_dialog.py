"""The dialog for a translation server of one's own: address, key, on or off."""

from __future__ import annotations

from PySide6.QtWidgets import QCheckBox, QFormLayout, QLineEdit, QWidget

from tamarind.desktop.qtloop import tasks_of
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.translation.engines import ownserver
from tamarind.translation.engines.base import TranslationError
from tamarind.translation.engines.ownserver import WHAT_LEAVES, OwnServer
from tamarind.translation.engines.server import ServerEngine, checked_address

_HOW = (
    "A server that you or your office run yourselves, with the open interface “/translate”. Over "
    "https, or on this computer."
)


class ServerDialog(Dialog):
    """Saves when accepted; what is wrong is told."""

    def __init__(self, parent: QWidget | None = None) -> None:
        title = "A translation server of your own"
        super().__init__(title, (520, 360), parent, title)
        server = ownserver.kept()
        self.address = QLineEdit(server.address)
        self.address.setPlaceholderText("https://translate.example.org")
        self.key = QLineEdit(ownserver.key_of(server.address) if server.address else "")
        self.key.setEchoMode(QLineEdit.EchoMode.PasswordEchoOnEdit)
        self.is_on = QCheckBox("Use this server")
        self.is_on.setChecked(server.is_on)
        self.said = label("", "note", wrap=True)
        form = QFormLayout()
        form.addRow("Address", self.address)
        form.addRow("API key, if needed", self.key)
        form.addRow("", self.is_on)
        self.body.addWidget(label(_HOW, "note", wrap=True))
        self.body.addLayout(form)
        self.body.addWidget(label(WHAT_LEAVES, "plum", wrap=True))
        self.body.addWidget(self.said)
        self.body.addStretch(1)
        self._tasks = tasks_of(self, "asking a server")
        self.try_it = button("Test", self.ask)
        self.set_acts(button("Save", self.accept, "primary"), between=(self.try_it,))

    def ask(self) -> None:
        """Show what the server answers; no text is sent."""
        address, key = self.address.text(), self.key.text()
        self.said.setText("Asking…")

        def told(pairs: list[tuple[str, str]]) -> None:
            languages = {target for _, target in pairs}
            self.said.setText(f"The server answers and translates into {len(languages)} languages.")

        self._tasks.run(lambda: ServerEngine(address, key).ask_pairs(), told, self.said.setText)

    def accept(self) -> None:
        """Save, unless the address is invalid."""
        try:
            address = checked_address(self.address.text()) if self.address.text().strip() else ""
            ownserver.keep(OwnServer(address, self.is_on.isChecked()), self.key.text())
        except TranslationError as error:
            self.said.setText(str(error))
            return
        super().accept()

"""The editor of clients: names on the left, what each wants in the middle."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

from PySide6.QtWidgets import QFileDialog, QInputDialog, QLineEdit, QWidget

from tamarind.application.session import Session
from tamarind.desktop.widgets.fields import Fields
from tamarind.desktop.widgets.parts import button
from tamarind.desktop.widgets.row_list import RowList
from tamarind.desktop.widgets.shelf_dialog import ShelfDialog
from tamarind.desktop.widgets.ticked_dialog import TickedDialog
from tamarind.formats.captionfile import FormatError
from tamarind.formats.documents import WRITTEN
from tamarind.formats.filenames import NamePatternError, name_by
from tamarind.formats.reading.template import read_template
from tamarind.job.client import CLIENTS, Client, Delivery, take_in
from tamarind.job.settings import EXPORT_CLIENT, EXPORT_DOCUMENTS, EXPORT_NAMES, EXPORT_NUMBERED
from tamarind.language.stylebook import ORDINARY_STYLE
from tamarind.system.declared import Entry, Option
from tamarind.transcript.languages import name_of, tag_of

Made = tuple[QWidget, Callable[[Any], None]]
AS_IN_THE_JOB = "as in the job"


class ClientEditor(ShelfDialog):
    """All clients; a first one is made of what the job has."""

    def __init__(self, session: Session, key: str, parent: QWidget | None) -> None:
        self._session = session
        self._renamed: dict[str, str] = {}
        super().__init__(
            "Clients", (900, 640), CLIENTS, kept=_WithOne(session), key=key, parent=parent
        )
        self.before = dict(session.clients.all())
        own = {
            Entry.DOCUMENTS: self._documents_field,
            Entry.LANGUAGES: self._languages_field,
        }
        self.styles = Fields(self._set_own)
        styles = session.styles.all().values()
        self.styles.add_choice("style", "House style", {one.name: one for one in styles})
        looks = session.looks.all().values()
        self.styles.add_choice(
            "look", "Caption style", {AS_IN_THE_JOB: None, **{one.name: one for one in looks}}
        )
        self.template = button("", self._ask_template)
        self.styles.add_field("templates", "Template", self.template, self._show_templates)
        copy, *files = self.acts()
        rename = button("Rename…", self._ask_name, "link")
        self.lay_out(
            "CLIENTS",
            (button("New…", self.ask_new, "link"), copy, rename, *files, self.remove),
            {
                "Delivery": [self.fields("delivery", Delivery, own=own)],
                "Styles": [self.styles],
            },
            206,
        )
        done = button("Done", self.accept, "primary")
        done.setDefault(True)
        self.set_acts(done)
        self.shown.connect(self._show_client)
        self.changed.connect(self._show_client)
        self.not_kept.connect(session.trouble.emit)
        self.fill()

    def _show_client(self) -> None:
        self.show_parts()
        client = self.item_now()
        self.styles.show_values(client)
        keys = [self._session.clients.key_of(one.id) for one in self._session.recordings.all()]
        used = keys.count(self.key)
        many = "1 recording" if used == 1 else f"{used} recordings"
        self.note.set_whole(f"{many} of this job" if used else "no recording of this job")

    def _set_own(self, name: str, value: Any) -> None:
        self.put(replace(self.item_now(), **{name: value}))

    def objection(self, item: Client) -> str:
        """Return why the client cannot be kept: its names have an unknown field."""
        try:
            name_by(item.delivery.names, {})
        except NamePatternError as error:
            return str(error)
        return "" if item.delivery.documents else "A client gets one document at least."

    def _show_templates(self, templates: Any) -> None:
        names = ", ".join(f"“{one.name}”" for one in templates)
        self.template.setText(names or "None…")
        self.template.setToolTip("A .docx or .odt file with {body}, {title}, {date}, {client}")

    def _ask_template(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, "Document template", "", "Documents (*.docx *.odt)"
        )
        if name:
            self.take_template(Path(name))
        else:
            self._set_own("templates", ())

    def take_template(self, path: Path) -> None:
        """Use a document as the client's template for documents of its kind."""
        try:
            template = read_template(path)
        except FormatError as error:
            self.tell_wrong(str(error))
            return
        others = [one for one in self.item_now().templates if one.suffix != template.suffix]
        self._set_own("templates", (*others, template))

    def _documents_field(self, page: Fields, option: Option) -> Made:
        """Make a button that opens a list of formats to tick."""
        now: list[tuple[str, ...]] = [()]

        def ask() -> None:
            rows = RowList("Documents")
            known = list(WRITTEN)
            for suffix in known:
                rows.add([f"{WRITTEN[suffix].label}   .{suffix}"], suffix in now[0])
            dialog = TickedDialog(
                "Documents", (440, 520), self, heading="What the client gets", rows=rows,
                act=("Use 1 document", "Use {} documents"), leave="Cancel",
            )  # fmt: skip
            if dialog.exec():
                page.tell(option.name, tuple(known[row] for row in rows.ticked()))

        opened = button("", ask)

        def show(suffixes: tuple[str, ...]) -> None:
            now[0] = suffixes
            opened.setText(", ".join(suffixes))

        return opened, show

    def _languages_field(self, page: Fields, option: Option) -> Made:
        """Make a field for languages separated by commas."""
        line = QLineEdit()
        line.setPlaceholderText("none")

        def take() -> None:
            said = [one.strip() for one in line.text().split(",") if one.strip()]
            tags = [tag_of(one) for one in said]
            unknown = [one for one, tag in zip(said, tags, strict=True) if tag is None]
            if unknown:
                self.tell_wrong(f"There is no language “{unknown[0]}” here.")
            else:
                page.tell(option.name, tuple(dict.fromkeys(tag for tag in tags if tag)))

        line.editingFinished.connect(take)
        return line, lambda tags: line.setText(", ".join(map(name_of, tags)))

    def ask_new(self) -> None:
        """Make a client of what the job has, under a name that is asked for."""
        name, accepted = QInputDialog.getText(self, "New client", "Name")
        if accepted and name.strip():
            self.add(client_of_job(self._session, self.free(" ".join(name.split()))))

    def _ask_name(self) -> None:
        client = self.item_now()
        name, accepted = QInputDialog.getText(self, "Rename client", "Name", text=client.name)
        name = " ".join(name.split())
        if accepted and name and name != client.name:
            self.rename(name)

    def rename(self, name: str) -> None:
        """Rename the selected client; its recordings follow when the dialog is left."""
        before = self.key
        client = self.items.pop(before)
        self.add(replace(client, name=self.free(name)))
        self._renamed[before] = self.key

    def take(self, path: Path) -> None:
        """Add the client in a file with its styles; what is wrong is told."""
        try:
            client = take_in(CLIENTS.read_file(path))
        except ValueError as error:
            self.tell_wrong(str(error))
        except OSError as error:
            self.tell_wrong(f"“{path.name}” cannot be taken in: {error.strerror}.")
        else:
            self.add(replace(client, name=self.free(client.name)))

    def take_away(self) -> None:
        """Remove the selected client; the dialog ends with the last one."""
        if len(self.items) > 1:
            super().take_away()
            return
        self.items.clear()
        self.accept()

    def keep_changes(self) -> str:
        """Save the changed, new and removed clients; their recordings follow."""
        clients = self._session.clients
        there = {r.id: clients.key_of(r.id) for r in self._session.recordings.all()}
        changed = self.changed_items()
        key = super().keep_changes()
        for before in self.before:
            after = self._renamed.get(before, before if before in changed else "")
            mine = [one for one, kept in there.items() if kept == before]
            if mine and after in self.items:
                clients.choose(mine, after)
        return key


class _WithOne:
    """The clients of a job, with one of what the job has where there are none."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self.keep = session.clients.keep

    def all(self) -> dict[str, Client]:
        """Return all clients by key."""
        found = self._session.clients.all()
        if found:
            return found
        name = self._session.settings.get(EXPORT_CLIENT) or "New client"
        return {CLIENTS.key_of(name): client_of_job(self._session, name)}


def client_of_job(session: Session, name: str) -> Client:
    """Return a client who wants what the job and its shown recording have."""
    styles = session.styles.all()
    shown = session.shown_recording()
    key = shown.style if shown is not None else session.usual().style
    get = session.settings.get
    delivery = Delivery(
        get(EXPORT_DOCUMENTS), names=get(EXPORT_NAMES), numbered=get(EXPORT_NUMBERED)
    )
    return Client(name, styles.get(key, styles[ORDINARY_STYLE]), delivery=delivery)


def edit_clients(session: Session, key: str, parent: QWidget) -> str | None:
    """Let a person edit clients; return the key of the selected one, None if that was left."""
    dialog = ClientEditor(session, key, parent)
    if not dialog.exec():
        return None
    kept = dialog.keep_changes()
    return kept if kept in dialog.items else None

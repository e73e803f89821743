"""Ask for a key list and its password, and put its names back into the texts of the job."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QInputDialog, QLineEdit, QWidget

from tamarind.application.session import Session
from tamarind.job.jobfile import SUFFIX as JOB
from tamarind.job.keylist import SUFFIX, KeyList, KeyListError, is_encrypted, read_key_list, text_of
from tamarind.job.withoutnames import restored


def ask_for_key_list(session: Session, parent: QWidget) -> None:
    """Ask for a key list, and put its names back."""
    name, _ = QFileDialog.getOpenFileName(
        parent,
        "Key list",
        str(session.store.path.parent),
        f"Key lists, or jobs that have one (*{SUFFIX} *.json *{JOB})",
    )
    if not name:
        return
    try:
        text = text_of(Path(name))
        password = ""
        if is_encrypted(text):
            password, given = QInputDialog.getText(
                parent, "Key list", "Password", QLineEdit.EchoMode.Password
            )
            if not given:
                return
        put_back(session, read_key_list(text, password))
    except KeyListError as error:
        session.trouble.emit(str(error))
    except OSError as error:
        session.trouble.emit(f"“{Path(name).name}” cannot be read: {error.strerror}.")


def put_back(session: Session, keys: KeyList) -> None:
    """Put names back, a step of undo for each recording, and tell what could not be."""
    missing = 0
    for recording in session.recordings.all():
        new, lost = restored(session.texts.document(recording.id), keys, recording.id)
        session.texts.edit_document(recording.id, "names put back", new)
        missing += lost
    if missing:
        noun = "1 name" if missing == 1 else f"{missing} names"
        session.told.emit(f"{noun} could not be put back: their words were changed.")
    else:
        session.told.emit("All names are back in the texts; the sound stays as it is.")

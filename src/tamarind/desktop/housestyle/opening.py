"""Open the editor of house styles on the shown recording, and save its result."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QWidget

from tamarind.application.session import Session
from tamarind.language.stylebook import ORDINARY_STYLE
from tamarind.system.later import Later
from tamarind.transcript.model import Transcript

if TYPE_CHECKING:
    from tamarind.desktop.housestyle import editor as editing
else:
    editing = Later("tamarind.desktop.housestyle.editor")


def open_editor(session: Session, place: int, parent: QWidget) -> bool:
    """Let a person edit and choose a style; the example begins at the cue ``place``.

    Whether anything was chosen.
    """
    recording = session.shown_recording()
    text = session.texts.transcript(recording.id) if recording is not None else Transcript("en")
    key = recording.style if recording is not None else ORDINARY_STYLE
    dialog = editing.StyleEditor(session, key, text, place, parent)
    if not dialog.exec():
        return False
    keep(session, dialog)
    return True


def keep(session: Session, dialog: editing.StyleEditor) -> None:
    """Save changed styles, and set the chosen one for the shown recording or for all."""
    key = dialog.keep_changes()
    if dialog.for_all:
        session.styles.choose([recording.id for recording in session.recordings.all()], key)
        session.set_usual(session.usual()._replace(style=key))
    elif session.shown is not None:
        session.styles.choose([session.shown], key)

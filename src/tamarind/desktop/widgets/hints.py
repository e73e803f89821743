"""Tooltips and hints that name keys, and follow them when they are changed.

In a hint "{play}" stands for the key of the command of that name.
"""

from __future__ import annotations

import re

from PySide6.QtWidgets import QLabel, QWidget

from tamarind.desktop.commands import find
from tamarind.desktop.keys import key_of

_KEY = re.compile(r"\{(\w+)\}")
_TIP, _HINT = "tip with keys", "hint with keys"


def filled(template: str) -> str:
    """Return a hint with the current keys."""
    return _KEY.sub(lambda found: key_of(found[1]) if find(found[1]) else found[0], template)


def set_tip(widget: QWidget, template: str) -> None:
    """Set a widget's tooltip."""
    widget.setProperty(_TIP, template)
    widget.setToolTip(filled(template))


def set_hint(label: QLabel, template: str) -> None:
    """Set a label's text."""
    label.setProperty(_HINT, template)
    label.setText(filled(template))


def refresh_hints(root: QWidget) -> None:
    """Update all hints within a window after keys have changed."""
    for widget in root.findChildren(QWidget):
        if widget.property(_TIP):
            widget.setToolTip(filled(widget.property(_TIP)))
        if isinstance(widget, QLabel) and widget.property(_HINT):
            widget.setText(filled(widget.property(_HINT)))

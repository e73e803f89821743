"""The header of the window: the job's name, the pages, and the menu where there is no bar."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QMenu, QWidget

from tamarind.desktop.theme.icons import icon
from tamarind.desktop.widgets.parts import ElidedLabel, button, label, set_tone

STEPS = (
    ("intake", "Intake"),
    ("proof", "Proof"),
    ("translation", "Translation"),
    ("export", "Export"),
    ("excerpts", "Excerpts"),
)


class Header(QWidget):
    """Pages are buttons, one of which is down."""

    step_asked = Signal(str)

    def __init__(self, menu: QMenu) -> None:
        super().__init__()
        self.setObjectName("header")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(50)
        mark = QLabel()
        mark.setPixmap(icon("pod").pixmap(QSize(30, 19)))
        self._job = ElidedLabel("", "job")
        self.saved = label("", "note")
        self._menu_button = button("Menu  ▾", lambda: None, "plain")
        self._menu_button.setMenu(menu)
        menu.setProperty("button", self._menu_button)
        self._menu_button.setStyleSheet("QPushButton::menu-indicator { image: none; width: 0; }")
        left, middle, right = QHBoxLayout(), QHBoxLayout(), QHBoxLayout()
        left.setSpacing(10)
        left.addWidget(mark)
        left.addWidget(self._job, 1)
        middle.setSpacing(30)
        self.steps = {}
        for name, text in STEPS:
            step = button(text, partial(self.step_asked.emit, name), "step", f"{{{name}}}")
            step.setCheckable(True)
            step.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            self.steps[name] = step
            middle.addWidget(step)
        right.addStretch(1)
        right.addWidget(self.saved)
        right.addSpacing(12)
        right.addWidget(self._menu_button)
        row = QHBoxLayout(self)
        row.setContentsMargins(18, 0, 14, 0)
        row.addLayout(left, 1)
        row.addLayout(middle)
        row.addLayout(right, 1)

    def set_job(self, name: str) -> None:
        """Show a job's name."""
        self._job.set_whole(name)

    def set_saved(self, text: str, reason: str = "") -> None:
        """Show whether everything is on disk, and if not, why."""
        self.saved.setText(text)
        self.saved.setToolTip(reason)
        set_tone(self.saved, "plum" if reason else "")

    def set_step(self, name: str) -> None:
        """Show which page is open."""
        for key, step in self.steps.items():
            step.setChecked(key == name)

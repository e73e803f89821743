"""Fields of editors: each shows one value of a set and tells when a person changes it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any, TypeVar

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QColor
from PySide6.QtWidgets import (
    QCheckBox,
    QColorDialog,
    QComboBox,
    QGridLayout,
    QPushButton,
    QSpinBox,
    QWidget,
)

from tamarind.desktop.widgets.decimal_box import DecimalBox
from tamarind.desktop.widgets.parts import label
from tamarind.system.checkedvalues import Rule

Field = TypeVar("Field", QSpinBox, DecimalBox, QComboBox)
DARK = 0.55
"""On darker colours their names are white."""

Changed = Callable[[str, Any], None]
"""Told with the name of a rule and its new value."""


class Fields(QWidget):
    """Rows of a title, a field, and a word about it."""

    def __init__(self, changed: Changed, rules: Mapping[str, Rule] | None = None) -> None:
        """``rules`` say what the values may be, for numbers between which bounds."""
        super().__init__()
        self._rules = rules or {}
        self.setObjectName("page")
        self._changed = changed
        self._shows: dict[str, Callable[[Any], None]] = {}
        self._rows: dict[str, QWidget] = {}
        self._counts: list[tuple[str, str, Any]] = []
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(2, 10, 14, 8)
        self._grid.setHorizontalSpacing(14)
        self._grid.setVerticalSpacing(7)
        self._grid.setColumnStretch(2, 1)

    def show_values(self, values: object) -> None:
        """Show the rules of a value whose attributes have their names."""
        for name in self._shows:
            self.show_value(name, getattr(values, name))

    def show_value(self, name: str, value: Any) -> None:
        """Show one rule."""
        self._shows[name](value)
        self._enable_by(name, value)

    def counts_only(self, name: str, other: str, value: Any) -> None:
        """A field counts only while another has this value."""
        self._counts.append((name, other, value))

    def _tell(self, name: str, value: Any) -> None:
        self._enable_by(name, value)
        self._changed(name, value)

    def _enable_by(self, other: str, value: Any) -> None:
        for name, decides, needed in self._counts:
            if decides == other:
                self._rows[name].setEnabled(value == needed)

    def add_heading(self, text: str) -> None:
        """A line above the rows that follow."""
        row = self._grid.rowCount()
        if row > 1:
            self._grid.setRowMinimumHeight(row, 10)
            row += 1
        self._grid.addWidget(label(text, "heading"), row, 0, 1, 3)

    def _bounds(self, name: str) -> tuple[float, float]:
        bounds = self._rules[name].bounds
        assert bounds is not None
        return bounds

    def add_number(self, name: str, title: str, unit: str = "") -> None:
        """A whole number."""
        box = _quiet(QSpinBox())
        low, high = self._bounds(name)
        box.setRange(int(low), int(high))
        box.setSuffix(f" {unit}" if unit else "")
        box.valueChanged.connect(lambda value: self._tell(name, value))
        self._add(name, title, box, box.setValue)

    def add_seconds(self, name: str, title: str, note: str = "") -> None:
        """A time that is kept in ms and shown in seconds."""
        box = _quiet(DecimalBox())
        low, high = self._bounds(name)
        box.setRange(low / 1000, high / 1000)
        box.setDecimals(2)
        box.setSingleStep(0.1)
        box.setSuffix(" s")
        box.valueChanged.connect(lambda value: self._tell(name, round(value * 1000)))
        self._add(name, title, box, lambda ms: box.setValue(ms / 1000), note)

    def add_rate(self, name: str, title: str, note: str) -> None:
        """A number with one decimal."""
        box = _quiet(DecimalBox())
        box.setRange(*self._bounds(name))
        box.setDecimals(1)
        box.valueChanged.connect(lambda value: self._tell(name, value))
        self._add(name, title, box, box.setValue, note)

    def add_share(self, name: str, title: str, note: str = "") -> None:
        """A share, shown in hundredths."""
        box = _quiet(DecimalBox())
        low, high = self._bounds(name)
        box.setRange(100 * low, 100 * high)
        box.setDecimals(1)
        box.setSuffix(" %")
        box.valueChanged.connect(lambda value: self._tell(name, round(value / 100, 4)))
        self._add(name, title, box, lambda share: box.setValue(100 * share), note)

    def add_colour(self, name: str, title: str) -> None:
        """A colour such as #ffe08a, chosen from all."""
        swatch = QPushButton()
        swatch.setObjectName("swatch")

        def show(colour: str) -> None:
            swatch.setText(colour)
            dark = QColor(colour).lightnessF() < DARK
            swatch.setStyleSheet(
                f"background: {colour}; color: {'#ffffff' if dark else '#000000'};"
            )

        def ask() -> None:
            chosen = QColorDialog.getColor(QColor(swatch.text()), self, title)
            if chosen.isValid():
                show(chosen.name())
                self._tell(name, chosen.name())

        swatch.clicked.connect(ask)
        self._add(name, title, swatch, show)

    def add_choice(self, name: str, title: str, options: Mapping[str, Any]) -> None:
        """One of several, by the words for it."""
        box = _quiet(QComboBox())
        # Qt would give back plain texts for values that are both text and more.
        values = list(options.values())
        box.addItems(list(options))
        box.activated.connect(lambda index: self._tell(name, values[index]))
        self._add(
            name,
            title,
            box,
            lambda value: box.setCurrentIndex(values.index(value) if value in values else 0),
        )

    def add_tick(self, name: str, text: str) -> None:
        """Yes or no."""
        box = QCheckBox(text)
        box.clicked.connect(lambda on: self._tell(name, on))
        row = self._grid.rowCount()
        self._grid.addWidget(box, row, 1, 1, 2)
        self._shows[name] = box.setChecked

    def add_field(self, name: str, title: str, field: QWidget, show: Callable[[Any], None]) -> None:
        """A field of another kind, which tells of changes itself."""
        self._add(name, title, field, show)

    def finish(self) -> None:
        """Keep the rows together at the top."""
        self._grid.setRowStretch(self._grid.rowCount(), 1)

    def _add(
        self, name: str, title: str, field: QWidget, show: Callable[[Any], None], note: str = ""
    ) -> None:
        row = self._grid.rowCount()
        self._rows[name] = field
        field.setAccessibleName(title)
        field.setMinimumWidth(150)
        self._grid.addWidget(label(title), row, 0)
        self._grid.addWidget(field, row, 1)
        if note:
            self._grid.addWidget(label(note, "note", wrap=True), row, 2)

        def shown(value: Any) -> None:
            field.blockSignals(True)
            show(value)
            field.blockSignals(False)

        self._shows[name] = shown


class _NoWheel(QObject):
    """A turn of the wheel over a field does not change it unless it has the focus."""

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Let the page be scrolled instead."""
        focused = isinstance(watched, QWidget) and watched.hasFocus()
        if event.type() is QEvent.Type.Wheel and not focused:
            event.ignore()
            return True
        return super().eventFilter(watched, event)


def _quiet(field: Field) -> Field:
    field.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
    field.installEventFilter(_NoWheel(field))
    edit = field.lineEdit()
    if edit is not None:
        edit.setTextMargins(8, 0, 0, 0)
    return field

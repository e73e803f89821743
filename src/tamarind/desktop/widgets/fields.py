"""Make the fields of an editor from declared options."""

from __future__ import annotations

from collections.abc import Callable, Container, Iterable, Mapping
from dataclasses import dataclass
from typing import Any, TypeVar

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QColor
from PySide6.QtWidgets import (
    QCheckBox,
    QColorDialog,
    QComboBox,
    QGridLayout,
    QLineEdit,
    QPushButton,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from tamarind.desktop.widgets.decimal_box import DecimalBox
from tamarind.desktop.widgets.more import More
from tamarind.desktop.widgets.parts import label
from tamarind.system.declared import Entry, Option, options_of

Field = TypeVar("Field", QSpinBox, DecimalBox, QComboBox)
DARK = 0.55
"""On darker colours their names are white."""

Changed = Callable[[str, Any], None]
"""Told with the name of a rule and its new value."""


@dataclass(frozen=True, slots=True)
class _Decimal:
    """Shows a value multiplied by ``shown``."""

    shown: float
    decimals: int
    step: float
    suffix: str
    kept: Callable[[float], float]


_DECIMALS = {
    Entry.SECONDS: _Decimal(1 / 1000, 2, 0.1, " s", round),
    Entry.NUMBER: _Decimal(1, 1, 1.0, "", float),
    Entry.HUNDREDTHS: _Decimal(100, 1, 1.0, " %", lambda share: round(share, 4)),
}


@dataclass(frozen=True, slots=True)
class Presets:
    """One choice that sets several options: their values by the words for each preset; ``other`` is
    shown where the values are none of them."""

    title: str
    values: Mapping[str, Mapping[str, Any]]
    other: str


Own = Callable[["Fields", Option], tuple[QWidget, Callable[[Any], None]]]
"""Makes the field of an option of a kind of its own, and says how a value is shown in it."""


class Fields(QWidget):
    """Rows of a title, a field, and a hint."""

    def __init__(
        self,
        changed: Changed,
        *kinds: type[Any],
        own: Mapping[Entry, Own] | None = None,
        presets: Presets | None = None,
        without: Container[str] = (),
    ) -> None:
        """``kinds`` are dataclasses; each of their options gets a field, but for those of the
        sections in ``without``."""
        super().__init__()
        self.setObjectName("page")
        self._own = own or {}
        self._changed = changed
        self._shows: dict[str, Callable[[Any], None]] = {}
        self._rows: dict[str, QWidget] = {}
        self._options: list[Option] = []
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(2, 10, 14, 8)
        self._grid = _grid()
        self._column.addLayout(self._grid)
        self.more: More | None = None
        self._presets = presets
        self._now: dict[str, Any] = {}
        # A widget without a parent could be deleted by whatever thread collects garbage.
        self._preset = _quiet(QComboBox(self))
        self._preset.setVisible(presets is not None)
        if presets is not None:
            self._add_presets(presets)
        options = [
            one for kind in kinds for one in options_of(kind).values() if one.section not in without
        ]
        self._add_options(one for one in options if not one.rare)
        rare = [one for one in options if one.rare]
        if rare:
            inside = QWidget()
            self._grid = _grid()
            inside.setLayout(self._grid)
            self._add_options(rare)
            self.more = More(" ".join(kind.__name__ for kind in kinds), inside)
            self._column.addWidget(self.more)
        self._column.addStretch(1)

    def _add_options(self, options: Iterable[Option]) -> None:
        section = ""
        for one in options:
            if one.values.entry is Entry.NONE:
                continue
            if one.section != section:
                section = one.section
                self.add_heading(section.upper())
            self._options.append(one)
            self._add_option(one)

    def _add_option(self, one: Option) -> None:
        entry = one.values.entry
        if entry in self._own:
            field, show = self._own[entry](self, one)
            field.setToolTip(one.hint)
            self.add_field(one.name, one.label, field, show)
        elif entry is Entry.TICK:
            self._add_tick(one)
        elif entry is Entry.CHOICE:
            self.add_choice(one.name, one.label, one.values.choices or {})
        elif entry is Entry.COLOUR:
            self._add_colour(one)
        elif entry is Entry.WHOLE:
            self._add_whole(one)
        elif entry is Entry.LINE:
            self._add_line(one)
        elif entry in (Entry.WORDS, Entry.PHRASES):
            self._add_list(one)
        else:
            self._add_decimal(one)

    def show_values(self, values: object) -> None:
        """Show the attributes of a value by their names."""
        for name in self._shows:
            self.show_value(name, getattr(values, name))
        if self.more is not None:
            self.more.tell(
                [
                    one.label
                    for one in self._options
                    if one.rare and getattr(values, one.name) != one.default
                ]
            )

        self._now = {name: getattr(values, name) for name in self._shows}
        self._show_preset()

    def _add_presets(self, presets: Presets) -> None:
        self._preset.addItems(list(presets.values))
        self._preset.activated.connect(self._take_preset)
        self._preset.setAccessibleName(presets.title)
        row = self._grid.rowCount()
        self._grid.addWidget(label(presets.title), row, 0)
        self._grid.addWidget(self._preset, row, 1, 1, 2)

    def _take_preset(self, number: int) -> None:
        assert self._presets is not None
        values = self._presets.values.get(self._preset.itemText(number), {})
        for name, value in values.items():
            self.show_value(name, value)
            self._now[name] = value
            self._changed(name, value)
        self._show_preset()

    def _show_preset(self) -> None:
        """Select the preset that the values are, or say that they are none."""
        if self._presets is None:
            return
        found = next(
            (
                words
                for words, preset in self._presets.values.items()
                if all(self._now.get(name) == value for name, value in preset.items())
            ),
            self._presets.other,
        )
        place = self._preset.findText(found)
        if place < 0:
            self._preset.addItem(found)
            place = self._preset.count() - 1
        elif found != self._presets.other and self._preset.count() > len(self._presets.values):
            self._preset.removeItem(self._preset.count() - 1)
        self._preset.setCurrentIndex(place)

    def show_value(self, name: str, value: Any) -> None:
        """Show one value."""
        self._shows[name](value)
        self._enable_by(name, value)

    def tell(self, name: str, value: Any) -> None:
        """Emit that a person has changed a field."""
        self._enable_by(name, value)
        self._now[name] = value
        self._show_preset()
        self._changed(name, value)

    def _enable_by(self, other: str, value: Any) -> None:
        for one in self._options:
            if one.only_with is not None and one.only_with[0] == other:
                self._rows[one.name].setEnabled(value == one.only_with[1])

    def add_heading(self, text: str) -> None:
        """Add a heading above the rows that follow."""
        row = self._grid.rowCount()
        if row > 1:
            self._grid.setRowMinimumHeight(row, 10)
            row += 1
        self._grid.addWidget(label(text, "heading"), row, 0, 1, 3)

    def _add_whole(self, one: Option) -> None:
        box = _quiet(QSpinBox())
        low, high = one.values.bounds or (0, 0)
        box.setRange(int(low), int(high))
        box.setSuffix(f" {one.unit}" if one.unit else "")
        box.valueChanged.connect(lambda value: self.tell(one.name, value))
        self.add_field(one.name, one.label, box, box.setValue, one.hint)

    def _add_line(self, one: Option) -> None:
        field = QLineEdit()
        field.editingFinished.connect(lambda: self.tell(one.name, " ".join(field.text().split())))

        def show(text: str) -> None:
            field.setText(text)
            field.setCursorPosition(0)

        self.add_field(one.name, one.label, field, show, one.hint)

    def _add_list(self, one: Option) -> None:
        """Add a field for words or phrases with commas between."""
        field = QLineEdit()

        def take() -> None:
            text = field.text()
            said = (
                text.split(",")
                if one.values.entry is Entry.PHRASES
                else (text.replace(",", " ").split())
            )
            told = (" ".join(part.split()) for part in said)
            self.tell(one.name, tuple(dict.fromkeys(filter(None, told))))

        def show(texts: tuple[str, ...]) -> None:
            field.setText(", ".join(texts))
            field.setCursorPosition(0)

        field.editingFinished.connect(take)
        self.add_field(one.name, one.label, field, show, one.hint)

    def _add_decimal(self, one: Option) -> None:
        shape = _DECIMALS[one.values.entry]
        box = _quiet(DecimalBox())
        low, high = one.values.bounds or (0, 0)
        box.setRange(low * shape.shown, high * shape.shown)
        box.setDecimals(shape.decimals)
        box.setSingleStep(shape.step)
        box.setSuffix(shape.suffix)
        box.valueChanged.connect(lambda value: self.tell(one.name, shape.kept(value / shape.shown)))
        self.add_field(
            one.name, one.label, box, lambda value: box.setValue(value * shape.shown), one.hint
        )

    def _add_colour(self, one: Option) -> None:
        swatch = QPushButton()
        swatch.setObjectName("swatch")

        def show(colour: str) -> None:
            swatch.setText(colour)
            dark = QColor(colour).lightnessF() < DARK
            swatch.setStyleSheet(
                f"background: {colour}; color: {'#ffffff' if dark else '#000000'};"
            )

        def ask() -> None:
            chosen = QColorDialog.getColor(QColor(swatch.text()), self, one.label)
            if chosen.isValid():
                show(chosen.name())
                self.tell(one.name, chosen.name())

        swatch.clicked.connect(ask)
        self.add_field(one.name, one.label, swatch, show)

    def add_choice(self, name: str, title: str, options: Mapping[str, Any]) -> None:
        """Add a list of choices by their words."""
        box = _quiet(QComboBox())
        # Qt would give back plain texts for values that are both text and more.
        values = list(options.values())
        box.addItems(list(options))
        box.activated.connect(lambda index: self.tell(name, values[index]))

        def show(value: Any) -> None:
            if value not in values:
                values.append(value)
                box.addItem(f"{value:g}" if isinstance(value, float) else str(value))
            box.setCurrentIndex(values.index(value))

        self.add_field(name, title, box, show)

    def _add_tick(self, one: Option) -> None:
        box = QCheckBox(one.label)
        box.clicked.connect(lambda on: self.tell(one.name, on))
        row = self._grid.rowCount()
        self._grid.addWidget(box, row, 1, 1, 2)
        self._rows[one.name] = box
        self._shows[one.name] = box.setChecked

    def add_field(
        self, name: str, title: str, field: QWidget, show: Callable[[Any], None], note: str = ""
    ) -> None:
        """Add a row with a field of a kind of its own."""
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


def _grid() -> QGridLayout:
    grid = QGridLayout()
    grid.setContentsMargins(0, 0, 0, 0)
    grid.setHorizontalSpacing(14)
    grid.setVerticalSpacing(7)
    grid.setColumnStretch(2, 1)
    return grid


class _NoWheel(QObject):
    """Keeps the mouse wheel from changing a field without the focus."""

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

"""The order in which Tab goes through a window: that in which its parts are laid out.

Qt goes by when widgets were made, which puts cards, entries and whatever comes later at the end.
"""

from __future__ import annotations

from collections.abc import Iterator

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QApplication,
    QLayout,
    QMainWindow,
    QScrollArea,
    QStackedWidget,
    QWidget,
)


def go_on(window: QWidget, forward: bool) -> bool:
    """Give the focus to the next or previous part of a window; return whether that was possible:
    what is not in its layout has an order of its own."""
    parts = list(dict.fromkeys(parts_of(window)))
    now = QApplication.focusWidget()
    place = next((n for n, one in enumerate(parts) if one is now or one.focusProxy() is now), None)
    if place is None or len(parts) < 2:
        return False
    found = parts[(place + (1 if forward else -1)) % len(parts)]
    reason = Qt.FocusReason.TabFocusReason if forward else Qt.FocusReason.BacktabFocusReason
    found.setFocus(reason)
    around = found.parentWidget()
    while around is not None:
        if isinstance(around, QScrollArea):
            around.ensureWidgetVisible(found)
        around = around.parentWidget()
    return True


def parts_of(widget: QWidget) -> Iterator[QWidget]:
    """Yield what Tab goes to in a widget, in the order of its layout."""
    if not widget.isVisibleTo(widget.window()) or not widget.isEnabled():
        return
    takes = widget.focusPolicy() & Qt.FocusPolicy.TabFocus
    if takes and not isinstance(widget, QScrollArea):
        yield widget
    elif isinstance(widget, QMainWindow):
        yield from _maybe(widget.centralWidget())
    elif isinstance(widget, QStackedWidget):
        yield from _maybe(widget.currentWidget())
    elif isinstance(widget, QScrollArea):
        yield from _maybe(widget.widget())
    layout = widget.layout()
    if layout is not None and not isinstance(widget, QMainWindow | QStackedWidget):
        yield from _within(layout)


def _within(layout: QLayout) -> Iterator[QWidget]:
    for number in range(layout.count()):
        item = layout.itemAt(number)
        widget, inner = (None, None) if item is None else (item.widget(), item.layout())
        if widget is not None:
            yield from parts_of(widget)
        elif inner is not None:
            yield from _within(inner)


def _maybe(widget: QWidget | None) -> Iterator[QWidget]:
    return iter(()) if widget is None else parts_of(widget)

"""Size and place of the window: never larger than the screen, and remembered for the same
screens."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QByteArray, QRect, QTimer
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QMainWindow

from tamarind.application import personal

USUAL = (1280, 800)
FRAME = (8, 44)
"""What a window manager's frame may add, before it has: at both sides, above and below together."""

MOST_KEPT = 12


def put(window: QMainWindow) -> None:
    """Place the window where it was left, or where the screen has room for it."""
    kept = _places().get(screens())
    if not (isinstance(kept, str) and window.restoreGeometry(QByteArray.fromBase64(kept.encode()))):
        room = _room(window)
        window.resize(
            min(USUAL[0], room.width() - FRAME[0]), min(USUAL[1], room.height() - FRAME[1])
        )
    # What the frame takes is known only once there is one.
    QTimer.singleShot(0, window, lambda: fit(window))


def fit(window: QMainWindow) -> None:
    """Shrink a window that is larger, with its frame, than the screen."""
    if window.isMaximized() or window.isFullScreen():
        return
    room, outer = _room(window), window.frameGeometry()
    over_wide = max(outer.width() - room.width(), 0)
    over_high = max(outer.height() - room.height(), 0)
    if over_wide or over_high:
        window.resize(window.width() - over_wide, window.height() - over_high)
        outer = window.frameGeometry()
    left = min(max(outer.left(), room.left()), max(room.right() - outer.width() + 1, room.left()))
    top = min(max(outer.top(), room.top()), max(room.bottom() - outer.height() + 1, room.top()))
    if (left, top) != (outer.left(), outer.top()):
        window.move(left, top)


def keep(window: QMainWindow) -> None:
    """Remember the place for these screens."""
    places = _places()
    places.pop(screens(), None)
    while len(places) >= MOST_KEPT:
        places.pop(next(iter(places)))
    places[screens()] = bytes(window.saveGeometry().toBase64().data()).decode()
    personal.keep(personal.WINDOW_PLACES, places)


def _places() -> dict[str, Any]:
    """Return the kept places by the layout of the screens."""
    kept = personal.read(personal.WINDOW_PLACES)
    return dict(kept)


def _room(window: QMainWindow) -> QRect:
    """Return the screen's area without panels."""
    screen = window.screen() or QGuiApplication.primaryScreen()
    return screen.availableGeometry()


def screens() -> str:
    """Return a description of the current screens."""
    return " ".join(
        f"{g.width()}x{g.height()}+{g.x()}+{g.y()}"
        for g in sorted(
            (screen.geometry() for screen in QGuiApplication.screens()),
            key=lambda g: (g.x(), g.y()),
        )
    )

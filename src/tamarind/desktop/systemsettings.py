"""The person's settings of the desktop that concern every program: size of text, contrast, dark or
light, read from the settings portal (XDG Desktop Portal, org.freedesktop.portal.Settings)."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

LONGEST_WAIT_MS = 400
PORTAL = "org.freedesktop.portal.Desktop"
PATH = "/org/freedesktop/portal/desktop"
SETTINGS = "org.freedesktop.portal.Settings"
NOBODY = ("org.freedesktop.DBus.Error.ServiceUnknown", "org.freedesktop.DBus.Error.NoReply")
LOW, HIGH = 1.0, 2.5
"""Text is made no smaller than usual, and not so large that no page has room."""


@dataclass(frozen=True, slots=True)
class SystemSettings:
    """``text_scale`` is how much larger than usual text is wanted; ``is_dark`` None: not said."""

    text_scale: float = 1.0
    high_contrast: bool = False
    is_dark: bool | None = None


def has_session_bus() -> bool:
    """Whether there is a desktop to talk to."""
    return bool(os.environ.get("DBUS_SESSION_BUS_ADDRESS"))


def read() -> SystemSettings:
    """Return what the desktop says; the defaults where there is no portal."""
    if not has_session_bus():
        return SystemSettings()
    try:
        scheme = _value("org.freedesktop.appearance", "color-scheme")
        contrast = _value("org.freedesktop.appearance", "contrast")
        scale = _value("org.gnome.desktop.interface", "text-scaling-factor")
    except TimeoutError:
        return SystemSettings()
    return SystemSettings(
        min(max(float(scale), LOW), HIGH) if isinstance(scale, int | float) else 1.0,
        contrast == 1,
        {1: True, 2: False}.get(scheme) if isinstance(scheme, int) else None,
    )


def _value(namespace: str, key: str) -> object:
    """Return a setting, or None if there is none. Raises TimeoutError if nobody answers."""
    from PySide6.QtDBus import QDBus, QDBusConnection, QDBusMessage

    call = QDBusMessage.createMethodCall(PORTAL, PATH, SETTINGS, "Read")
    call.setArguments([namespace, key])
    bus = QDBusConnection.sessionBus()
    answer = bus.call(call, QDBus.CallMode.Block, LONGEST_WAIT_MS)
    if answer.errorName() in NOBODY:
        raise TimeoutError(answer.errorName())
    if answer.type() is not QDBusMessage.MessageType.ReplyMessage or not answer.arguments():
        return None
    value = answer.arguments()[0]
    while hasattr(value, "variant"):
        value = value.variant()
    found: object = value
    return found


@contextmanager
def scaled(factor: float) -> Iterator[None]:
    """Make the application that is made within this context draw everything by so much larger."""
    before = os.environ.get("QT_SCALE_FACTOR")
    if factor > 1:
        os.environ["QT_SCALE_FACTOR"] = f"{factor * _number(before):.3f}"
    try:
        yield
    finally:
        # Programs that are started from here have their own say.
        if before is None:
            os.environ.pop("QT_SCALE_FACTOR", None)
        else:
            os.environ["QT_SCALE_FACTOR"] = before


def _number(text: str | None) -> float:
    try:
        return float(text or 1)
    except ValueError:
        return 1.0

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
SCALE, THEME = "QT_SCALE_FACTOR", "QT_QPA_PLATFORMTHEME"
LOW, HIGH = 1.0, 2.5
"""Text is made no smaller than usual, and not so large that no page has room."""


@dataclass(frozen=True, slots=True)
class SystemSettings:
    """``text_scale`` is how much larger than usual text is wanted; ``is_dark`` None: not said;
    ``has_portal``: the desktop has dialogs for files."""

    text_scale: float = 1.0
    high_contrast: bool = False
    is_dark: bool | None = None
    has_portal: bool = False


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
        has_portal=True,
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
def applied(settings: SystemSettings) -> Iterator[None]:
    """Let the application that is made within this context draw everything as large as is wanted,
    and use the desktop's own dialogs for files."""
    wanted: dict[str, str] = {}
    if settings.text_scale > 1:
        wanted[SCALE] = f"{settings.text_scale * _number(os.environ.get(SCALE)):.3f}"
    if settings.has_portal and THEME not in os.environ:
        wanted[THEME] = "xdgdesktopportal"
    before = {name: os.environ.get(name) for name in wanted}
    os.environ.update(wanted)
    try:
        yield
    finally:
        # Programs that are started from here have their own say.
        for name, value in before.items():
            os.environ.pop(name)
            if value is not None:
                os.environ[name] = value


def _number(text: str | None) -> float:
    try:
        return float(text or 1)
    except ValueError:
        return 1.0

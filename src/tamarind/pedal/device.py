"""Find and read pedals among the system's input devices, through the optional package ``evdev``.

A pedal is an input device with a few keys and nothing else, or one that calls itself a pedal. While
it is open it is this program's alone: many pedals send letters, which nobody wants in the text.
"""

from __future__ import annotations

import contextlib
import os
from collections.abc import Iterator
from dataclasses import dataclass
from importlib.util import find_spec
from pathlib import Path
from typing import Protocol

from tamarind.pedal.acts import Press

FOLDER = Path("/dev/input")
MOST_KEYS = 12
"""A device with more keys is a keyboard, or a mouse."""

_POWER = frozenset((116, 142, 143, 205))
"""Codes of the buttons that computers are switched off and on with."""

_NAMES = ("pedal", "foot")


class Pedal(Protocol):
    """A pedal that is open."""

    name: str
    codes: tuple[int, ...]

    def presses(self) -> Iterator[Press]:
        """Yield each press and release as it comes, until the pedal is closed or unplugged."""

    def close(self) -> None:
        """Release the pedal."""


@dataclass(frozen=True, slots=True)
class FoundPedals:
    """The opened pedals, and a sentence on why others cannot be used, or ""."""

    pedals: tuple[Pedal, ...]
    problem: str = ""


def find() -> FoundPedals:
    """Open all pedals that may be read."""
    if find_spec("evdev") is None:
        return FoundPedals((), "To use a foot pedal install the package evdev: pip install evdev.")
    there = sorted(FOLDER.glob("event*")) if FOLDER.is_dir() else []
    readable = [path for path in there if os.access(path, os.R_OK)]
    refused = len(there) - len(readable)
    pedals: list[Pedal] = []
    for path in readable:
        import evdev  # slow to import

        with contextlib.suppress(OSError):
            device = evdev.InputDevice(str(path))
            codes = device.capabilities().get(evdev.ecodes.EV_KEY, [])
            moves = {evdev.ecodes.EV_REL, evdev.ecodes.EV_ABS} & set(device.capabilities())
            if is_pedal(device.name, codes, bool(moves)):
                pedals.append(_Device(device, tuple(sorted(codes))))
            else:
                device.close()
    problem = ""
    if refused and not pedals:
        problem = (
            f"{refused} input devices may not be read. If one is your pedal: an administrator adds"
            " you to the group “input” (usermod -aG input NAME), then log in again."
        )
    return FoundPedals(tuple(pedals), problem)


def is_pedal(name: str, codes: list[int], moves: bool) -> bool:
    """Whether a device with this name and these keys is a pedal; ``moves`` if it has a pointer."""
    if any(part in name.casefold() for part in _NAMES):
        return bool(codes)
    few = 0 < len(codes) <= MOST_KEYS
    return few and not moves and not set(codes) <= _POWER and not set(codes) & _POWER


class _Device:
    """A pedal of the system."""

    def __init__(self, device: object, codes: tuple[int, ...]) -> None:
        self._device: object = device
        self.name: str = getattr(device, "name", "pedal")
        self.codes = codes
        with contextlib.suppress(OSError):
            device.grab()  # type: ignore[attr-defined]

    def presses(self) -> Iterator[Press]:
        """Yield each press and release, without key repeats."""
        import evdev

        with contextlib.suppress(OSError):
            for event in self._device.read_loop():  # type: ignore[attr-defined]
                if event.type == evdev.ecodes.EV_KEY and event.value in (0, 1):
                    yield Press(event.code, event.value == 1)

    def close(self) -> None:
        """Release the pedal; waiting for presses ends."""
        with contextlib.suppress(OSError):
            self._device.close()  # type: ignore[attr-defined]

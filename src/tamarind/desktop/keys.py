"""The keys of every command: the default ones, or the person's own.

Own keys are the person's, not the job's.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PySide6.QtGui import QKeySequence

from tamarind.application import personal
from tamarind.desktop.commands import all_commands, find, shown

RENAMED = {"dress": "punctuate"}
"""Commands that had another name when somebody may have given them keys."""

TAKEN = {
    "Return": "split the cue at the caret",
    "Backspace": "delete",
    "Tab": "go to the next control",
    "Ctrl+C": "copy",
    "Ctrl+X": "cut",
    "Ctrl+V": "paste",
    "Ctrl+A": "select all",
    "Ctrl+Left": "a word to the left",
    "Ctrl+Right": "a word to the right",
    "Ctrl+Home": "to the start of the text",
    "Ctrl+End": "to the end of the text",
    "Ctrl+Backspace": "delete a word",
    "Ctrl+Delete": "delete a word",
}
"""Keys of typing, which no command can have."""


class Keys:
    """The person's own keys, over the defaults of the commands."""

    def __init__(self, own: Mapping[str, Sequence[str]] | None = None) -> None:
        self._own = {name: tuple(keys) for name, keys in (own or {}).items() if find(name)}

    def of(self, name: str) -> tuple[str, ...]:
        """Return a command's current keys."""
        declared = find(name)
        known = declared.keys if declared is not None else ()
        return self._own.get(name, known)

    def is_own(self, name: str) -> bool:
        """Whether a command has other keys than its defaults."""
        return name in self._own

    def set(self, name: str, keys: Sequence[str]) -> None:
        """Set a command's keys; setting the defaults removes its own keys."""
        clean = tuple(dict.fromkeys(filter(None, map(written, keys))))
        declared = find(name)
        if declared is not None and tuple(map(written, declared.keys)) == clean:
            self._own.pop(name, None)
        else:
            self._own[name] = clean

    def reset(self) -> None:
        """Give every command its default keys."""
        self._own.clear()

    def conflict(self, name: str, key: str) -> str | None:
        """Return what else a key does, in words; None if it is free for a command."""
        key = written(key)
        if key in TAKEN:
            return TAKEN[key]
        if key and "+" not in key and not key.startswith("F"):
            return "typing"
        for command in all_commands():
            if command.name != name and key in map(written, self.of(command.name)):
                return command.label
        return None

    def data(self) -> dict[str, tuple[str, ...]]:
        """Return what is to be saved."""
        return dict(self._own)


def written(key: str) -> str:
    """Return a key as Qt writes it; "" for what is no key."""
    return QKeySequence(key).toString(QKeySequence.SequenceFormat.PortableText)


def read_keys() -> Keys:
    """Read the person's keys; the defaults where they make no sense."""
    kept = personal.read(personal.KEYS)
    kept = {RENAMED.get(name, name): keys for name, keys in kept.items()}
    own = {name: keys for name, keys in kept.items() if isinstance(keys, list)}
    return Keys({name: [key for key in keys if isinstance(key, str)] for name, keys in own.items()})


def keep_keys(keys: Keys) -> None:
    """Save the keys for all jobs."""
    personal.keep(personal.KEYS, keys.data())


_current = Keys()


def current() -> Keys:
    """Return the keys in use."""
    return _current


def use(keys: Keys) -> None:
    """Use other keys from now on."""
    global _current
    _current = keys


def key_of(name: str) -> str:
    """Return a command's first key, for hints; a dash if it has none."""
    keys = _current.of(name)
    return shown(keys[0]) if keys else "–"

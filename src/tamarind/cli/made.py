"""What was made of which recording: a small file beside the texts, by which a later run knows what
is done, and which files it may write over."""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import json
import os
from dataclasses import dataclass, field
from pathlib import Path

from tamarind.system.files import read_file, write_whole

NAME = ".tamarind-made.json"
LARGEST = 64 << 20


@dataclass(frozen=True, slots=True)
class MadeText:
    """A text: the digest of its bytes, the recording's fingerprint and path, the digest of the
    settings."""

    digest: str
    recording: str
    path: str
    settings: str


_KEYS = ("digest", "recording", "path", "settings")


@dataclass(slots=True)
class Ledger:
    """All that was made in one folder, by path below it."""

    folder: Path
    entries: dict[str, MadeText] = field(default_factory=dict)
    _noted: dict[str, MadeText] = field(default_factory=dict)

    @classmethod
    def of(cls, folder: Path) -> Ledger:
        """The ledger of a folder; empty where there is none that makes sense."""
        entries: dict[str, MadeText] = {}
        try:
            data = json.loads(read_file(folder / NAME, LARGEST))
            for name, made in data["made"].items():
                entries[name] = MadeText(*(str(made[key]) for key in _KEYS))
        except (OSError, ValueError, KeyError, TypeError, AttributeError, RecursionError):
            return cls(folder)
        return cls(folder, entries)

    def is_ours(self, target: Path) -> bool:
        """Whether a file is one that was made here, and nobody has changed since."""
        made = self._entry(target)
        return made is not None and made.digest == _digest_of(target)

    def is_of(self, target: Path, recording: str, path: Path) -> bool:
        """Whether a file that is there was made of this recording, or of one that lay under the
        same path before."""
        made = self._entry(target)
        if made is None or not target.exists():
            return False
        return made.recording == recording or made.path == _written(path)

    def is_of_another(self, target: Path, recording: str, path: Path) -> bool:
        """Whether a file that is there was made of another recording, which is not one that lay
        under the same path before."""
        there = self._entry(target) is not None and target.exists()
        return there and not self.is_of(target, recording, path)

    def is_done(self, target: Path, recording: str, settings: str) -> bool:
        """Whether it is there, made of this recording with these settings."""
        made = self._entry(target)
        done = made is not None and (made.recording, made.settings) == (recording, settings)
        return done and self.is_ours(target)

    def note(self, target: Path, data: bytes, recording: str, path: Path, settings: str) -> None:
        """A text has been written."""
        entry = MadeText(digest(data), recording, _written(path), settings)
        self.entries[self._key(target)] = self._noted[self._key(target)] = entry

    def save(self) -> None:
        """Write what has been noted, beside what another run has written meanwhile; raises
        OSError."""
        folder = os.open(self.folder, os.O_RDONLY)
        try:
            with contextlib.suppress(OSError):
                fcntl.flock(folder, fcntl.LOCK_EX)
            self.entries = Ledger.of(self.folder).entries | self._noted
            made = {
                name: {key: getattr(one, key) for key in _KEYS}
                for name, one in sorted(self.entries.items())
            }
            data = json.dumps({"version": 1, "made": made}, indent=0)
            write_whole(self.folder / NAME, data.encode())
        finally:
            os.close(folder)

    def _entry(self, target: Path) -> MadeText | None:
        return self.entries.get(self._key(target))

    def _key(self, target: Path) -> str:
        return _plain(target.relative_to(self.folder))


def digest(data: bytes) -> str:
    """What tells one text from another."""
    return hashlib.blake2b(data, digest_size=16).hexdigest()


def _written(path: Path) -> str:
    return _plain(path.resolve())


def _plain(path: Path) -> str:
    """A path as text that any file can hold."""
    return os.fsencode(path).decode("utf-8", "backslashreplace")


def _digest_of(path: Path) -> str:
    try:
        return digest(read_file(path))
    except OSError:
        return ""

"""The ledger of a batch: which text was made of which recording, by which a later run skips what is
done and knows which files it may overwrite."""

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
    """One text: the digest of its bytes, the recording's fingerprint and path, the digest of the
    settings."""

    digest: str
    recording: str
    path: str
    settings: str


_KEYS = ("digest", "recording", "path", "settings")


@dataclass(slots=True)
class Ledger:
    """The texts made in one folder, by relative path."""

    folder: Path
    entries: dict[str, MadeText] = field(default_factory=dict)
    _noted: dict[str, MadeText] = field(default_factory=dict)

    @classmethod
    def of(cls, folder: Path) -> Ledger:
        """Read the ledger of a folder; empty where there is none that makes sense."""
        entries: dict[str, MadeText] = {}
        try:
            data = json.loads(read_file(folder / NAME, LARGEST))
            for name, made in data["made"].items():
                entries[name] = MadeText(*(str(made[key]) for key in _KEYS))
        except (OSError, ValueError, KeyError, TypeError, AttributeError, RecursionError):
            return cls(folder)
        return cls(folder, entries)

    def is_ours(self, target: Path) -> bool:
        """Whether a file was made here and nobody has changed it since."""
        made = self._entry(target)
        return made is not None and made.digest == _digest_of(target)

    def is_of(self, target: Path, recording: str, path: Path) -> bool:
        """Whether an existing file was made of this recording, or of one that had the same path
        before."""
        made = self._entry(target)
        if made is None or not target.exists():
            return False
        return made.recording == recording or made.path == _written(path)

    def is_of_another(self, target: Path, recording: str, path: Path) -> bool:
        """Whether an existing file was made of another recording that never had this path."""
        there = self._entry(target) is not None and target.exists()
        return there and not self.is_of(target, recording, path)

    def is_done(self, target: Path, recording: str, settings: str) -> bool:
        """Whether a file exists and was made of this recording with these settings."""
        made = self._entry(target)
        done = made is not None and (made.recording, made.settings) == (recording, settings)
        return done and self.is_ours(target)

    def note(self, target: Path, data: bytes, recording: str, path: Path, settings: str) -> None:
        """Add a text that has been written."""
        entry = MadeText(digest(data), recording, _written(path), settings)
        self.entries[self._key(target)] = self._noted[self._key(target)] = entry

    def save(self) -> None:
        """Write the ledger, merged with what another run has written meanwhile. Raises OSError."""
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
    """Return a digest of a text's bytes."""
    return hashlib.blake2b(data, digest_size=16).hexdigest()


def _written(path: Path) -> str:
    return _plain(path.resolve())


def _plain(path: Path) -> str:
    """Return a path as text that any file can hold."""
    return os.fsencode(path).decode("utf-8", "backslashreplace")


def _digest_of(path: Path) -> str:
    try:
        return digest(read_file(path))
    except OSError:
        return ""

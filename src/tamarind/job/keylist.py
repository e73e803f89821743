"""The key list of names that were taken out: as a file, encrypted on wish."""

from __future__ import annotations

import base64
import contextlib
import json
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from tamarind.job.jobfile import SUFFIX as JOB_SUFFIX
from tamarind.language.identifying import Tells
from tamarind.language.takingout import KeyEntry, Taken
from tamarind.system.errors import ToldError
from tamarind.system.files import read_file
from tamarind.transcript.codec import word_of, word_row

FORMAT, VERSION = "tamarind-key-list", 1
SUFFIX = ".key.json"
KEY = "key list"
"""Under this name a job keeps the list of its last copy."""

LARGEST = 256 << 20
_ROUNDS, _BLOCK, _LANES = 1 << 15, 8, 1
"""Of scrypt (RFC 7914): 32 MB and about a tenth of a second for each guess of a password."""


class KeyListError(ToldError):
    """A key list cannot be read; the message is one sentence."""


@dataclass(frozen=True, slots=True)
class KeyList:
    """``entries`` for people; ``taken`` by recording what was taken out of its text, ``texts`` by
    recording whatever else was changed there, by its place ("es 12", "speaker 1")."""

    entries: tuple[KeyEntry, ...]
    taken: Mapping[int, Sequence[Taken]] = field(default_factory=dict)
    texts: Mapping[int, Mapping[str, str]] = field(default_factory=dict)

    def packed(self, password: str = "") -> str:
        """Return the list as the text of a file, encrypted if there is a password."""
        data = {
            "entries": [
                {"kind": one.tells.value, "forms": list(one.forms), "is": one.replacement}
                for one in self.entries
            ],
            "taken": {
                str(key): [
                    [one.cue, one.first, list(one.new), [word_row(word) for word in one.words]]
                    for one in taken
                ]
                for key, taken in self.taken.items()
            },
            "texts": {str(key): dict(texts) for key, texts in self.texts.items()},
        }
        head: dict[str, Any] = {"format": FORMAT, "version": VERSION}
        if password:
            head |= _encrypted(json.dumps(data, ensure_ascii=False), password)
        else:
            head |= data
        return json.dumps(head, ensure_ascii=False, indent=1) + "\n"


def text_of(path: Path) -> str:
    """Return the text of a key list in a file of its own, or in the job that it was kept with.
    Raises KeyListError and OSError."""
    try:
        if path.suffix != JOB_SUFFIX:
            return read_file(path, LARGEST).decode("utf-8", "replace")
        with contextlib.closing(
            sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)
        ) as db:
            row = db.execute("SELECT value FROM setting WHERE key = ?", (KEY,)).fetchone()
    except (ValueError, sqlite3.Error):
        raise KeyListError(f"“{path.name}” cannot be read.") from None
    if row is None or not row[0]:
        raise KeyListError(f"“{path.name}” has no key list: no name was taken out of it.")
    return str(row[0])


def is_encrypted(text: str) -> bool:
    """Whether a key list needs a password."""
    try:
        return "encrypted" in json.loads(text)
    except (ValueError, TypeError):
        return False


def read_key_list(text: str, password: str = "") -> KeyList:
    """Return the key list in a file's text. Raises KeyListError."""
    try:
        head = json.loads(text)
        if head.get("format") != FORMAT or head.get("version") != VERSION:
            raise KeyListError("The file is no key list of this version.")
        data = json.loads(_decrypted(head, password)) if "encrypted" in head else head
        entries = tuple(
            KeyEntry(Tells(one["kind"]), tuple(map(str, one["forms"])), str(one["is"]))
            for one in data["entries"]
        )
        taken = {
            int(key): [
                Taken(int(cue), int(first), tuple(map(word_of, words)), tuple(map(str, new)))
                for cue, first, new, words in rows
            ]
            for key, rows in data["taken"].items()
        }
        texts = {
            int(key): {str(name): str(said) for name, said in own.items()}
            for key, own in data["texts"].items()
        }
    except (ValueError, TypeError, KeyError, AttributeError, RecursionError):
        raise KeyListError("The file is no key list, or it is damaged.") from None
    return KeyList(entries, taken, texts)


def _encrypted(text: str, password: str) -> dict[str, str]:
    """Encrypt with a key from a password (scrypt) by AES-128 in CBC with HMAC (Fernet)."""
    import os

    from cryptography.fernet import Fernet

    salt = os.urandom(16)
    made = Fernet(_key(password, salt)).encrypt(text.encode())
    return {"salt": base64.b64encode(salt).decode(), "encrypted": made.decode()}


def _decrypted(head: Mapping[str, Any], password: str) -> str:
    from cryptography.fernet import Fernet, InvalidToken

    try:
        salt = base64.b64decode(head["salt"])
        return Fernet(_key(password, salt)).decrypt(head["encrypted"].encode()).decode()
    except InvalidToken:
        raise KeyListError("The password is not that of this key list.") from None


def _key(password: str, salt: bytes) -> bytes:
    from cryptography.hazmat.primitives.kdf.scrypt import Scrypt

    made = Scrypt(salt, 32, _ROUNDS, _BLOCK, _LANES).derive(password.encode())
    return base64.urlsafe_b64encode(made)

"""A stand-in for the server of translation models, on this computer.

    python -m tamarind.translation.engines.pretendedshelf FOLDER

offers the models in FOLDER, each in a folder named after its pair, such as en-pt. It can be slow,
break off, and lie about what it gives.
"""

from __future__ import annotations

import hashlib
import json
import struct
import sys
import threading
from dataclasses import dataclass
from pathlib import Path
from urllib.parse import unquote

from tamarind.system.localserver import Answers, FileFaults, LocalServer

RECORDS = "/v1/buckets/main/collections/models/records"
_BLOCK = 1 << 16
_KINDS = (("model.", "model"), ("lex.", "lex"), ("srcvocab", "srcvocab"), ("trgvocab", "trgvocab"),
          ("vocab", "vocab"))  # fmt: skip


@dataclass
class ShelfFaults(FileFaults):
    """Faults of the server: wrong checksums of packed contents, and an odd version."""

    packs_wrongly: bool = False
    version: str = "3.0"


class PretendedShelf(LocalServer):
    """Runs within its context; ``records`` is the value for ``TAMARIND_TRANSLATION_SHELF``."""

    def __init__(self, folder: Path) -> None:
        self.faults = ShelfFaults()
        super().__init__(_ShelfAnswers, place=folder, faults=self.faults)
        self.records = f"{self.address}{RECORDS}"


class _ShelfAnswers(Answers):
    place: Path
    faults: ShelfFaults

    def do_GET(self) -> None:
        """Send the root, the list, or a file or the rest of one."""
        path = unquote(self.path)
        if path == "/v1/":
            host = self.headers.get("Host", "")
            where = {"attachments": {"base_url": f"http://{host}/files/"}}
            self.say(json.dumps({"capabilities": where}).encode())
        elif path == RECORDS:
            self.say(json.dumps({"data": self._records()}).encode())
        elif path.startswith("/files/") and (self.place / path[7:].removesuffix(".zst")).is_file():
            self.give(packed((self.place / path[7:].removesuffix(".zst")).read_bytes()))
        else:
            self.send_error(404)

    def _records(self) -> list[dict[str, object]]:
        found: list[dict[str, object]] = []
        for folder in sorted(one for one in self.place.iterdir() if one.is_dir()):
            source, target = folder.name.split("-", 1)
            for path in sorted(folder.iterdir()):
                kind = next((kind for begins, kind in _KINDS if path.name.startswith(begins)), "")
                if not kind:
                    continue
                data = path.read_bytes()
                file = packed(data)
                said = hashlib.sha256(b"" if self.faults.lies else file).hexdigest()
                inside = hashlib.sha256(b"" if self.faults.packs_wrongly else data).hexdigest()
                name = f"{path.name}.zst"
                attachment = {
                    "filename": name, "location": f"{folder.name}/{name}", "size": len(file),
                    "hash": said,
                }  # fmt: skip
                found.append({
                    "name": path.name, "fileType": kind, "sourceLanguage": source,
                    "targetLanguage": target,
                    "version": self.faults.version, "architecture": "tiny",
                    "decompressedHash": inside, "attachment": attachment,
                })  # fmt: skip
        return found


def packed(data: bytes) -> bytes:
    """Return a Zstandard frame (RFC 8878) that holds data in uncompressed blocks."""
    parts = [b"\x28\xb5\x2f\xfd\xa0", struct.pack("<I", len(data))]
    starts = range(0, len(data), _BLOCK) or [0]
    for at in starts:
        block = data[at : at + _BLOCK]
        is_last = at + _BLOCK >= len(data)
        parts += [struct.pack("<I", len(block) << 3 | is_last)[:3], block]
    return b"".join(parts)


if __name__ == "__main__":
    with PretendedShelf(Path(sys.argv[1])) as pretended:
        print(f"TAMARIND_TRANSLATION_SHELF={pretended.records}", flush=True)
        threading.Event().wait()

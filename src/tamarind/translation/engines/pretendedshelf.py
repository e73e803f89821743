"""A stand-in for where translation models are fetched from: on this computer, for trying.

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
import time
from dataclasses import dataclass
from http.server import BaseHTTPRequestHandler
from pathlib import Path
from urllib.parse import unquote

from tamarind.system.localserver import LocalServer

RECORDS = "/v1/buckets/main/collections/models/records"
PIECE = 4096
_BLOCK = 1 << 16
_KINDS = (("model.", "model"), ("lex.", "lex"), ("srcvocab", "srcvocab"), ("trgvocab", "trgvocab"),
          ("vocab", "vocab"))  # fmt: skip


@dataclass
class ShelfFaults:
    """How it behaves: seconds a piece, bytes after which each answer breaks off, files and what is
    packed in them that are not what it says."""

    seconds_a_piece: float = 0.0
    breaks_after: int | None = None
    lies: bool = False
    packs_wrongly: bool = False
    version: str = "3.0"


class PretendedShelf(LocalServer):
    """Runs while it is entered; ``records`` is what ``TAMARIND_TRANSLATION_SHELF`` is to be."""

    def __init__(self, folder: Path) -> None:
        self.manners = ShelfFaults()
        manners = self.manners

        class Handler(_Answers):
            place, told = folder, manners

        super().__init__(Handler)
        self.records = f"{self.address}{RECORDS}"


class _Answers(BaseHTTPRequestHandler):
    place: Path
    told: ShelfFaults
    protocol_version = "HTTP/1.1"

    def do_GET(self) -> None:
        """The root, the list, or a file or the rest of one."""
        path = unquote(self.path)
        if path == "/v1/":
            host = self.headers.get("Host", "")
            where = {"attachments": {"base_url": f"http://{host}/files/"}}
            self._say(json.dumps({"capabilities": where}).encode())
        elif path == RECORDS:
            self._say(json.dumps({"data": self._records()}).encode())
        elif path.startswith("/files/") and (self.place / path[7:].removesuffix(".zst")).is_file():
            self._give((self.place / path[7:].removesuffix(".zst")).read_bytes())
        else:
            self.send_error(404)

    def log_message(self, format: str, *args: object) -> None:
        """Nothing."""

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
                said = hashlib.sha256(b"" if self.told.lies else file).hexdigest()
                inside = hashlib.sha256(b"" if self.told.packs_wrongly else data).hexdigest()
                name = f"{path.name}.zst"
                attachment = {
                    "filename": name, "location": f"{folder.name}/{name}", "size": len(file),
                    "hash": said,
                }  # fmt: skip
                found.append({
                    "name": path.name, "fileType": kind, "sourceLanguage": source,
                    "targetLanguage": target, "version": self.told.version, "architecture": "tiny",
                    "decompressedHash": inside, "attachment": attachment,
                })  # fmt: skip
        return found

    def _give(self, data: bytes) -> None:
        data = packed(data)
        begins = self.headers.get("Range", "")
        start = int(begins.removeprefix("bytes=").rstrip("-") or 0)
        self.send_response(206 if start else 200)
        self.send_header("Content-Length", str(len(data) - start))
        self.end_headers()
        for at in range(start, len(data), PIECE):
            given = at - start
            if self.told.breaks_after is not None and given >= self.told.breaks_after:
                self.close_connection = True
                return
            try:
                self.wfile.write(data[at : at + PIECE])
            except OSError:  # nobody listens any more
                self.close_connection = True
                return
            time.sleep(self.told.seconds_a_piece)

    def _say(self, body: bytes) -> None:
        self.send_response(200)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)


def packed(data: bytes) -> bytes:
    """A Zstandard frame (RFC 8878) that holds data as it is, in blocks that are not compressed."""
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

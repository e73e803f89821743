"""A stand-in for the hub: a server on this machine with the same addresses, for trying.

    python -m tamarind.speech.recognisers.pretendedhub FOLDER

serves the models in FOLDER, each in a folder of its name, whatever the repository is called. It can
be slow, break off, lie about checksums and sizes, and not know what it is asked for.
"""

from __future__ import annotations

import hashlib
import json
import sys
import threading
import time
from dataclasses import dataclass
from http.server import BaseHTTPRequestHandler
from pathlib import Path
from urllib.parse import unquote

from tamarind.system.localserver import LocalServer

LARGE = 1000
"""From so many bytes on a file has its SHA-256 in the list, as large files have on the hub."""

PIECE = 4096


@dataclass
class HubFaults:
    """How it behaves: seconds a piece, bytes after which each answer breaks off, checksums and
    sizes that are not true, how many of its answers were given, how many bytes of files it sent."""

    seconds_a_piece: float = 0.0
    breaks_after: int | None = None
    lies: bool = False
    extra_size: int = 0
    goes_on: bool = True
    answers: int = 0
    sent: int = 0


class PretendedHub(LocalServer):
    """Runs while it is entered; ``address`` is what ``TAMARIND_HUB`` is to be."""

    def __init__(self, folder: Path) -> None:
        self.manners = HubFaults()
        manners = self.manners

        class Handler(_Answers):
            place, told = folder, manners

        super().__init__(Handler)


class _Answers(BaseHTTPRequestHandler):
    place: Path
    told: HubFaults
    protocol_version = "HTTP/1.1"

    def do_GET(self) -> None:
        """A list of files, or a file or the rest of one."""
        self.told.answers += 1
        parts = unquote(self.path).strip("/").split("/")
        if parts[:2] == ["api", "models"] and parts[4:] == ["tree", "main"]:
            self._list(self._model(parts[3]))
        elif parts[2:4] == ["resolve", "main"] and len(parts) == 5:
            self._give(self._model(parts[1]) / parts[4])
        else:
            self.send_error(404)

    def log_message(self, format: str, *args: object) -> None:
        """Nothing."""

    def _model(self, repository: str) -> Path:
        """The folder whose name the repository's ends in."""
        names = sorted((one.name for one in self.place.iterdir()), key=len, reverse=True)
        return self.place / next((n for n in names if repository.endswith(n)), "nothing")

    def _list(self, folder: Path) -> None:
        if not folder.is_dir():
            self.send_error(404)
            return
        entries: list[dict[str, object]] = [{"type": "directory", "path": "old", "oid": "0"}]
        for path in sorted(folder.iterdir()):
            data = path.read_bytes()
            size = len(data) + self.told.extra_size
            truth = b"" if self.told.lies else data
            git = hashlib.sha1(b"blob %d\0" % len(data) + truth, usedforsecurity=False)
            entry = {"type": "file", "path": path.name, "size": size, "oid": git.hexdigest()}
            if len(data) >= LARGE:
                entry["lfs"] = {"oid": hashlib.sha256(truth).hexdigest(), "size": size}
            entries.append(entry)
        body = json.dumps(entries).encode()
        self.send_response(200)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def _give(self, path: Path) -> None:
        if not path.is_file():
            self.send_error(404)
            return
        data = path.read_bytes()
        begins = self.headers.get("Range", "")
        start = int(begins.removeprefix("bytes=").rstrip("-") or 0) if self.told.goes_on else 0
        self.send_response(206 if start else 200)
        self.send_header("Content-Length", str(len(data) - start))
        self.end_headers()
        given = 0
        for at in range(start, len(data), PIECE):
            if self.told.breaks_after is not None and given >= self.told.breaks_after:
                self.close_connection = True
                return
            try:
                self.wfile.write(data[at : at + PIECE])
                self.told.sent += PIECE
            except OSError:  # nobody listens any more
                self.close_connection = True
                return
            given += PIECE
            time.sleep(self.told.seconds_a_piece)


if __name__ == "__main__":
    with PretendedHub(Path(sys.argv[1])) as pretended:
        print(f"TAMARIND_HUB={pretended.address}", flush=True)
        threading.Event().wait()

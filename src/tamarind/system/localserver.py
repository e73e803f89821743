"""Local servers that stand in for outside services, with injected faults.

What injects a fault into an answer is here once; each stand-in says what its addresses give.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Mapping
from dataclasses import dataclass
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from types import TracebackType
from typing import Any, Self

PIECE = 4096
"""Bytes of a file that are sent at a time."""


@dataclass
class FileFaults:
    """Faults of a file server: seconds a piece, bytes after which each answer breaks off, wrong
    checksums, unsupported ranges; and counts of its answers and bytes so far."""

    seconds_a_piece: float = 0.0
    breaks_after: int | None = None
    lies: bool = False
    goes_on: bool = True
    answers: int = 0
    sent: int = 0


class Answers(BaseHTTPRequestHandler):
    """The request handler of a stand-in."""

    faults: Any
    protocol_version = "HTTP/1.1"

    def log_message(self, format: str, *args: object) -> None:
        """Write no log."""

    def say(self, body: bytes, status: int = 200, headers: Mapping[str, str] | None = None) -> None:
        """Send a whole answer."""
        self.send_response(status)
        for name, value in (headers or {}).items():
            self.send_header(name, value)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def give(self, data: bytes) -> None:
        """Send a file, or the rest of one for a range request; needs ``FileFaults``."""
        faults: FileFaults = self.faults
        begins = self.headers.get("Range", "")
        start = int(begins.removeprefix("bytes=").rstrip("-") or 0) if faults.goes_on else 0
        self.send_response(206 if start else 200)
        self.send_header("Content-Length", str(len(data) - start))
        self.end_headers()
        for at in range(start, len(data), PIECE):
            if faults.breaks_after is not None and at - start >= faults.breaks_after:
                self.close_connection = True
                return
            try:
                self.wfile.write(data[at : at + PIECE])
                faults.sent += PIECE
            except OSError:  # nobody listens any more
                self.close_connection = True
                return
            time.sleep(faults.seconds_a_piece)


class LocalServer:
    """Runs within its context, at ``address``."""

    def __init__(self, answers: type[Answers], port: int = 0, **given: Any) -> None:
        """Answer by ``answers``, with ``given`` as its attributes; port 0 is any free one."""
        handler = type("Given", (answers,), given)
        self._server = ThreadingHTTPServer(("127.0.0.1", port), handler)
        self.address = f"http://127.0.0.1:{self._server.server_address[1]}"

    def __enter__(self) -> Self:
        threading.Thread(target=self._server.serve_forever, daemon=True).start()
        return self

    def __exit__(
        self,
        kind: type[BaseException] | None,
        error: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        self._server.shutdown()
        self._server.server_close()

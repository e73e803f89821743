"""A small server on this computer alone, for the stand-ins of outside services."""

from __future__ import annotations

import threading
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from types import TracebackType
from typing import Self


class LocalServer:
    """Runs while it is entered, at ``address``."""

    def __init__(self, handler: type[BaseHTTPRequestHandler], port: int = 0) -> None:
        """With ``port`` 0 at any that is free."""
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

"""A stand-in for a translation server: on this computer, with the same interface, for trying.

    python -m tamarind.translation.engines.pretendedserver

It "translates" by marking each text with the target. It can be busy, want a key, be slow, answer
with something else, and point elsewhere.
"""

from __future__ import annotations

import json
import threading
import time
from dataclasses import dataclass, field
from http.server import BaseHTTPRequestHandler
from typing import Any

from tamarind.system.localserver import LocalServer

LANGUAGES = ("en", "pt", "es", "ja")


@dataclass
class ServerFaults:
    """How it behaves: the key it wants, how often it is still busy and for how many seconds, what
    it answers in place of a translation, where it points, seconds for each answer."""

    key: str = ""
    busy: int = 0
    wait: str = "0"
    answer: bytes | None = None
    status: int = 200
    points_to: str = ""
    slow_s: float = 0.0
    asked: list[Any] = field(default_factory=list)


class PretendedServer(LocalServer):
    """Runs while it is entered."""

    def __init__(self, port: int = 0) -> None:
        self.manners = ServerFaults()
        manners = self.manners

        class Handler(_Answers):
            told = manners

        super().__init__(Handler, port)


class _Answers(BaseHTTPRequestHandler):
    told: ServerFaults

    def do_GET(self) -> None:
        """Which languages there are."""
        if self.path != "/languages":
            self.send_error(404)
            return
        listed = [
            {"code": code, "name": code, "targets": [one for one in LANGUAGES if one != code]}
            for code in LANGUAGES
        ]
        self._give(200, json.dumps(listed).encode())

    def do_POST(self) -> None:
        """A translation, or what else its manners say."""
        manners = self.told
        asked = json.loads(self.rfile.read(int(self.headers.get("Content-Length", 0))))
        manners.asked.append(asked)
        time.sleep(manners.slow_s)
        if manners.points_to:
            self.send_response(302)
            self.send_header("Location", manners.points_to)
            self.end_headers()
        elif manners.busy:
            manners.busy -= 1
            self._give(429, b'{"error": "slow down"}', {"Retry-After": manners.wait})
        elif manners.key and asked.get("api_key") != manners.key:
            self._give(403, b'{"error": "Invalid API key"}')
        elif manners.answer is not None:
            self._give(manners.status, manners.answer)
        else:
            said = [f"{asked['target']}: {text}" for text in asked["q"]]
            self._give(200, json.dumps({"translatedText": said}).encode())

    def log_message(self, format: str, *args: object) -> None:
        """Nothing."""

    def _give(self, status: int, body: bytes, headers: dict[str, str] | None = None) -> None:
        self.send_response(status)
        for name, value in (headers or {}).items():
            self.send_header(name, value)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)


if __name__ == "__main__":
    with PretendedServer(5005) as server:
        print(f"A pretended translation server: {server.address} (Ctrl+C ends it)")
        threading.Event().wait()

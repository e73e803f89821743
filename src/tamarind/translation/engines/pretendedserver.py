"""A stand-in for a translation server: on this computer, with the same interface.

    python -m tamarind.translation.engines.pretendedserver

It "translates" by marking each text with the target. It can be busy, want a key, be slow, answer
with something else, and point elsewhere.
"""

from __future__ import annotations

import json
import threading
import time
from dataclasses import dataclass, field
from typing import Any

from tamarind.system.localserver import Answers, LocalServer

LANGUAGES = ("en", "pt", "es", "ja")


@dataclass
class ServerFaults:
    """Its behaviour: the key it wants, how often it is busy and for how many seconds, what it
    answers instead of a translation, where it redirects, seconds for each answer."""

    key: str = ""
    busy: int = 0
    wait: str = "0"
    answer: bytes | None = None
    status: int = 200
    points_to: str = ""
    slow_s: float = 0.0
    asked: list[Any] = field(default_factory=list)


class PretendedServer(LocalServer):
    """Runs within its context."""

    def __init__(self, port: int = 0) -> None:
        self.faults = ServerFaults()
        super().__init__(_ServerAnswers, port, faults=self.faults)


class _ServerAnswers(Answers):
    faults: ServerFaults

    def do_GET(self) -> None:
        """Send the list of languages."""
        if self.path != "/languages":
            self.send_error(404)
            return
        listed = [
            {"code": code, "name": code, "targets": [one for one in LANGUAGES if one != code]}
            for code in LANGUAGES
        ]
        self.say(json.dumps(listed).encode())

    def do_POST(self) -> None:
        """Send a translation, or the injected fault."""
        faults = self.faults
        asked = json.loads(self.rfile.read(int(self.headers.get("Content-Length", 0))))
        faults.asked.append(asked)
        time.sleep(faults.slow_s)
        if faults.points_to:
            self.send_response(302)
            self.send_header("Location", faults.points_to)
            self.end_headers()
        elif faults.busy:
            faults.busy -= 1
            self.say(b'{"error": "slow down"}', 429, {"Retry-After": faults.wait})
        elif faults.key and asked.get("api_key") != faults.key:
            self.say(b'{"error": "Invalid API key"}', 403)
        elif faults.answer is not None:
            self.say(faults.answer, faults.status)
        else:
            said = [f"{asked['target']}: {text}" for text in asked["q"]]
            self.say(json.dumps({"translatedText": said}).encode())


if __name__ == "__main__":
    with PretendedServer(5005) as server:
        print(f"A simulated translation server: {server.address} (Ctrl+C ends it)")
        threading.Event().wait()

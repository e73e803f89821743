"""A stand-in for the hub: a server on this machine with the same addresses, for tests and trying.

    python -m tamarind.speech.recognisers.pretendedhub FOLDER

serves the models in FOLDER, each in a folder of its name, whatever the repository is called. It can
be slow, break off, lie about checksums and sizes, and not know what it is asked for.
"""

from __future__ import annotations

import hashlib
import json
import sys
import threading
from dataclasses import dataclass
from pathlib import Path
from urllib.parse import unquote

from tamarind.system.localserver import Answers, FileFaults, LocalServer

LARGE = 1000
"""From so many bytes on a file has its SHA-256 in the list, as large files have on the hub."""


@dataclass
class HubFaults(FileFaults):
    """Faults of a hub: ``extra_size`` is added to every size that it tells."""

    extra_size: int = 0


class PretendedHub(LocalServer):
    """Runs within its context; ``address`` is the value for ``TAMARIND_HUB``."""

    def __init__(self, folder: Path) -> None:
        self.faults = HubFaults()
        super().__init__(_HubAnswers, place=folder, faults=self.faults)


class _HubAnswers(Answers):
    place: Path
    faults: HubFaults

    def do_GET(self) -> None:
        """Send a list of files, or a file or the rest of one."""
        self.faults.answers += 1
        parts = unquote(self.path).strip("/").split("/")
        if parts[:2] == ["api", "models"] and parts[4:] == ["tree", "main"]:
            self._list(self._model(parts[3]))
        elif parts[2:4] == ["resolve", "main"] and len(parts) == 5:
            self._give(self._model(parts[1]) / parts[4])
        else:
            self.send_error(404)

    def _model(self, repository: str) -> Path:
        """Return the folder whose name the repository's ends in."""
        names = sorted((one.name for one in self.place.iterdir()), key=len, reverse=True)
        return self.place / next((n for n in names if repository.endswith(n)), "nothing")

    def _list(self, folder: Path) -> None:
        if not folder.is_dir():
            self.send_error(404)
            return
        entries: list[dict[str, object]] = [{"type": "directory", "path": "old", "oid": "0"}]
        for path in sorted(folder.iterdir()):
            data = path.read_bytes()
            size = len(data) + self.faults.extra_size
            truth = b"" if self.faults.lies else data
            git = hashlib.sha1(b"blob %d\0" % len(data) + truth, usedforsecurity=False)
            entry = {"type": "file", "path": path.name, "size": size, "oid": git.hexdigest()}
            if len(data) >= LARGE:
                entry["lfs"] = {"oid": hashlib.sha256(truth).hexdigest(), "size": size}
            entries.append(entry)
        self.say(json.dumps(entries).encode())

    def _give(self, path: Path) -> None:
        if path.is_file():
            self.give(path.read_bytes())
        else:
            self.send_error(404)


if __name__ == "__main__":
    with PretendedHub(Path(sys.argv[1])) as pretended:
        print(f"TAMARIND_HUB={pretended.address}", flush=True)
        threading.Event().wait()

"""The person's own translation server: its address, whether it is on, and its key in the desktop's
keyring."""

from __future__ import annotations

import json
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

from tamarind.system.files import write_whole
from tamarind.system.folders import config_home
from tamarind.translation.engines.base import TranslationError
from tamarind.translation.engines.server import ServerEngine, checked_address

WHAT_LEAVES = (
    "While it is on, every sentence that is translated by this server leaves this computer, and "
    "nothing else does."
)
_FILE, _SERVICE = "translation-server.json", "tamarind translation server"


@dataclass(frozen=True, slots=True)
class OwnServer:
    """An address, "" for none, and whether it is used."""

    address: str = ""
    is_on: bool = False


def kept() -> OwnServer:
    """Return the kept server; none if that makes no sense."""
    try:
        data = json.loads((config_home() / _FILE).read_text("utf-8"))
        return OwnServer(checked_address(str(data["address"])), data["on"] is True)
    except (OSError, ValueError, KeyError, TypeError, TranslationError):
        return OwnServer()


def keep(server: OwnServer, key: str | None = None) -> None:
    """Keep a server, and its key if one is given. Raises TranslationError with a sentence."""
    address = checked_address(server.address) if server.address else ""
    data = json.dumps({"address": address, "on": server.is_on and bool(address)}, indent=1)
    try:
        config_home().mkdir(parents=True, exist_ok=True)
        write_whole(config_home() / _FILE, data.encode())
        if key is not None:
            _keep_key(address, key)
    except OSError as error:
        raise TranslationError(f"The server cannot be kept: {error.strerror}.") from None


def key_of(address: str) -> str:
    """Return the key of a server, or ""."""
    with suppress(Exception):
        import keyring

        found = keyring.get_password(_SERVICE, address)
        if found is not None:
            return str(found)
    try:
        keys = json.loads(_key_file().read_text("utf-8"))
        return str(keys.get(address, ""))
    except (OSError, ValueError, AttributeError):
        return ""


def engine() -> ServerEngine | None:
    """Return the server that is on, or None."""
    server = kept()
    return ServerEngine(server.address, key_of(server.address)) if server.is_on else None


def _keep_key(address: str, key: str) -> None:
    """Keep the key in the desktop's keyring; without one, in a file that only this person may
    read."""
    try:
        import keyring

        keyring.set_password(_SERVICE, address, key)
        _key_file().unlink(missing_ok=True)
    except Exception:
        file = _key_file()
        file.touch(mode=0o600)
        file.chmod(0o600)
        file.write_text(json.dumps({address: key} if key else {}), "utf-8")


def _key_file() -> Path:
    return config_home() / "translation-server.key"

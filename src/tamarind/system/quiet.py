"""Keep libraries from calling home, before any of them is loaded.

Imported with the package itself, so that it holds in every process: the window, the commands, the
workers (which inherit the environment as well) and scripts of others that import Tamarind.
"""

from __future__ import annotations

import os
from collections.abc import MutableMapping

SWITCHES = {
    # onnxruntime sends events of its use to its maker, and keeps a device id and a queue of them.
    "ORT_DISABLE_TELEMETRY": "1",
    # The hub client of the models extra tells who loads what; fetching itself is asked for.
    "HF_HUB_DISABLE_TELEMETRY": "1",
    "HF_HUB_DISABLE_IMPLICIT_TOKEN": "1",
    "DISABLE_TELEMETRY": "1",
    # What many programs and libraries have agreed on.
    "DO_NOT_TRACK": "1",
}
"""Environment variables by which libraries are kept from telling anybody anything."""


def hush(environment: MutableMapping[str, str] = os.environ) -> None:
    """Set all their switches, whatever they were."""
    environment.update(SWITCHES)

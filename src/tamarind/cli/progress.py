"""Report the progress of a batch on a terminal, in a log, or as JSON for another program."""

from __future__ import annotations

import json
from typing import Any, Protocol

from tamarind.batch.messages import Heard
from tamarind.batch.timeleft import human
from tamarind.cli.output import Output, harmless, is_quiet


class Meter(Protocol):
    """Receives the progress of a batch."""

    def begun(self, name: str) -> None:
        """A recording has begun; nothing is known of it yet."""

    def voices(self, name: str, share: float) -> None:
        """A share (0 to 1) of a recording was searched for voices."""

    def heard(self, name: str, event: Heard) -> None:
        """A recording has been transcribed so far."""

    def ended(self, name: str, text: str, **facts: Any) -> None:
        """A recording has ended, in a sentence and in facts."""

    def line(self, text: str) -> None:
        """Print another line."""


class PlainMeter:
    """Prints lines, and on a terminal one line of progress that is overwritten."""

    def __init__(self, stream: Output, live: bool, every_step: bool = False) -> None:
        self._stream, self._live, self._every_step = stream, live, every_step
        self._at: dict[str, str] = {}

    def begun(self, name: str) -> None:
        self._set(name, "finding speech…")

    def voices(self, name: str, share: float) -> None:
        self._tell(name, f"telling speakers apart, {share:.0%}")

    def heard(self, name: str, event: Heard) -> None:
        self._tell(name, f"{event.work.share:4.0%}, {human(event.work.left)} left")

    def _tell(self, name: str, step: str) -> None:
        if self._every_step:
            self.line(f"{name}: {step.strip()}")
        else:
            self._set(name, step)

    def ended(self, name: str, text: str, **facts: Any) -> None:
        self._at.pop(name, None)
        self.line(text)

    def line(self, text: str) -> None:
        text = harmless(text)
        self._stream.write(f"\r\x1b[K{text}\n" if self._live else f"{text}\n")
        self._draw()

    def _set(self, name: str, step: str) -> None:
        self._at[name] = step
        self._draw()

    def _draw(self) -> None:
        if self._live and self._at:
            parts = " · ".join(f"{name}: {step}" for name, step in self._at.items())
            self._stream.write(f"\r\x1b[K{harmless(parts)}")


class JsonMeter:
    """Prints one JSON object a line; ``event`` is begun, voices, heard, done, skipped, failed or
    note."""

    def __init__(self, stream: Output) -> None:
        self._stream = stream

    def begun(self, name: str) -> None:
        self._write({"event": "begun", "file": name})

    def voices(self, name: str, share: float) -> None:
        self._write({"event": "voices", "file": name, "share": round(share, 4)})

    def heard(self, name: str, event: Heard) -> None:
        self._write(
            {
                "event": "heard",
                "file": name,
                "share": round(event.work.share, 4),
                "until": event.until / 1000,
                "of": event.end / 1000,
                "seconds_left": round(event.work.left, 1),
            }
        )

    def ended(self, name: str, text: str, **facts: Any) -> None:
        self._write({"file": name, "text": text, **facts})

    def line(self, text: str) -> None:
        self._write({"event": "note", "text": text})

    def _write(self, data: dict[str, Any]) -> None:
        self._stream.write(json.dumps(data, ensure_ascii=False) + "\n")


class FailuresOnly(PlainMeter):
    """Prints failures only."""

    def __init__(self, stream: Output) -> None:
        super().__init__(stream, live=False)

    def ended(self, name: str, text: str, **facts: Any) -> None:
        if facts.get("event") == "failed":
            super().line(text)

    def line(self, text: str) -> None:
        """Leave out a line that only informs."""


def meter_for(kind: str, stream: Output) -> Meter:
    """Return the meter of a kind; "auto" is one overwritten line on a terminal and only results
    elsewhere."""
    if kind == "json":
        return JsonMeter(stream)
    if is_quiet():
        return FailuresOnly(stream)
    live = kind == "auto" and stream.isatty()
    return PlainMeter(stream, live, every_step=kind == "plain")

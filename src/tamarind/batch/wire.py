"""Encode the events of workers as bytes, and check them where they arrive.

A worker reads what strangers made. One that was taken over can say what it likes, but nothing that
it says is run, and nothing is believed that no worker could have said: every message has the types
and bounds of an event, or the worker is given up.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import fields, is_dataclass
from enum import Enum
from functools import cache
from pathlib import Path
from typing import Any, get_args

import msgspec
import numpy as np

from tamarind.batch import messages
from tamarind.batch.messages import Event
from tamarind.job.cuedata import DamagedError, cue_of, row_of
from tamarind.system.folders import cache_home
from tamarind.transcript.bounds import LATEST, is_clean
from tamarind.transcript.model import Cue, Word

MOST_BYTES = 256 << 20
LONGEST_TEXT = 50_000_000
"""A bookmark of a long recording is the longest of them."""

LARGEST_NUMBER = 1 << 52

_KINDS = {kind.__name__: kind for kind in get_args(Event)}
_NUMBERS = ("float16", "float32", "uint8")


class WireError(ValueError):
    """A message that no worker of ours sends."""


def packed(event: Event) -> bytes:
    """Encode an event."""
    return msgspec.msgpack.encode([type(event).__name__, event], enc_hook=_plain)


def unpacked(data: bytes) -> Event:
    """Decode an event. Raises WireError for anything else."""
    try:
        name, raw = msgspec.msgpack.decode(data, type=tuple[str, msgspec.Raw])
        event: Event = _decoder(name).decode(raw)
    except (msgspec.MsgspecError, KeyError, ValueError, TypeError, OverflowError) as error:
        raise WireError(f"A worker said what no worker says ({type(error).__name__}).") from None
    for value in _values(event):
        _check(value)
    return event


@cache
def _decoder(name: str) -> msgspec.msgpack.Decoder[Any]:
    kind = _KINDS[name]
    if kind is messages.SpeechFound:
        # Slow to import, and hardly ever wanted.
        from tamarind.speech.activity import Activity

        vars(messages)["Activity"] = Activity
    return msgspec.msgpack.Decoder(kind, dec_hook=_whole)


def _plain(value: Any) -> Any:
    if isinstance(value, np.ndarray):
        return [str(value.dtype), list(value.shape), value.tobytes()]
    if isinstance(value, Path):
        return str(value)
    if isinstance(value, np.generic):
        return value.item()
    raise TypeError(f"{type(value).__name__} is no plain data")


def _whole(kind: Any, value: Any) -> Any:
    """Rebuild a value of a type that the encoding does not have."""
    if kind is Path:
        path = Path(value)
        # All that workers make lies there.
        if not path.is_relative_to(cache_home()) or ".." in path.parts:
            raise ValueError("a file somewhere else")
        return path
    dtype, shape, data = value
    if dtype not in _NUMBERS or len(shape) > 2:
        raise ValueError("numbers of another kind")
    return np.frombuffer(data, dtype).reshape(shape)


def _values(value: Any) -> Iterator[Any]:
    """Yield all values in an event, at any depth."""
    if isinstance(value, tuple | list):
        for one in value:
            yield from _values(one)
        return
    yield value
    if is_dataclass(value) and not isinstance(value, Cue):
        for field in fields(value):
            yield from _values(getattr(value, field.name))


def _check(value: Any) -> None:
    if isinstance(value, str):
        if len(value) > LONGEST_TEXT or not is_clean(value):
            raise WireError("A worker sent a text that is none.")
    elif value is None or isinstance(value, bool | Enum | Path):
        return
    elif isinstance(value, int | float):
        if not math.isfinite(value) or abs(value) > LARGEST_NUMBER:
            raise WireError("A worker sent a number that cannot be.")
    elif isinstance(value, Cue):
        _check_cue(value)
    elif isinstance(value, Word) and not 0 <= value.start < value.end <= LATEST:
        raise WireError("A worker sent a word without a time.")


def _check_cue(cue: Cue) -> None:
    """Raise WireError unless a cue is valid."""
    try:
        cue_of(row_of(cue))
    except DamagedError as error:
        raise WireError(f"A worker sent a cue that is none ({error}).") from None

"""Cache the points of a recording's voices beside its decoded sound, section by section.

Speakers can be told apart anew from them in a moment, without listening again.
"""

from __future__ import annotations

import contextlib
import io
import zlib
from collections.abc import Generator, Iterator
from pathlib import Path
from zipfile import BadZipFile

import numpy as np

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.memory import forget
from tamarind.speech.cores import cores
from tamarind.speech.diarisation.encoder import VoiceEncoder
from tamarind.speech.diarisation.evidence import STEP_MS
from tamarind.speech.diarisation.voiceprint import WIDTH
from tamarind.speech.diarisation.windows import EmbeddedSpans, joined, points_of
from tamarind.system.files import write_whole

LONGEST_SECTION_MS = 1_800_000
"""So much is looked at at once: all of most recordings, and not more than memory likes."""

MADE_BY = 1
"""Points that another version of the encoder or of its windows made are made again."""

Span = tuple[int, int]


def section_borders(part: Span) -> list[int]:
    """Return where the sections of a part begin (ms), and its end; all about equally long."""
    start, end = part
    count = max(-(-(end - start) // LONGEST_SECTION_MS), 1)
    borders = np.linspace(start, end, count + 1) // STEP_MS * STEP_MS
    return [start, *map(int, borders[1:-1]), end]


def section_points(
    samples: Samples, section: Span, encoder: VoiceEncoder, threads: int, folder: Path | None
) -> Iterator[tuple[float, EmbeddedSpans]]:
    """Yield the progress (0 to 1) and the points of the next stretch of a section (from, to, in
    ms); all at once if they are in ``folder``. Their spans count from the section's start."""
    kept = folder / f"voices-{section[0]}-{section[1]}.npz" if folder is not None else None
    known = _read(kept) if kept is not None else None
    if known is not None:
        yield 1.0, known
        return
    parts: list[EmbeddedSpans] = []
    first, last = (moment * SAMPLE_RATE // 1000 for moment in section)
    for share, points in points_of(samples[first:last], encoder, threads):
        parts.append(points)
        yield share, points
    if kept is not None:
        _keep(kept, joined(parts))


def points_through(
    samples: Samples, part: Span, encoder: VoiceEncoder, folder: Path | None
) -> Generator[float, None, EmbeddedSpans]:
    """Yield the progress, and return the points of a whole part of a recording, with spans from its
    start."""
    found: list[EmbeddedSpans] = []
    borders = section_borders(part)
    for place, start in enumerate(borders[:-1]):
        section = start, borders[place + 1]
        for share, points in section_points(samples, section, encoder, cores(), folder):
            found.append(EmbeddedSpans(points.vectors, points.spans + start))
            yield (place + share) / (len(borders) - 1)
        forget(samples)
    return joined(found)


def _read(kept: Path) -> EmbeddedSpans | None:
    # Whatever is wrong with it, it is made again.
    with contextlib.suppress(OSError, ValueError, KeyError, EOFError, BadZipFile, zlib.error):
        with np.load(kept) as file:
            if int(file["made_by"]) != MADE_BY:
                return None
            vectors = np.asarray(file["vectors"], np.float32)
            spans = np.asarray(file["spans"], np.int64)
        if vectors.shape == (len(spans), WIDTH) and spans.shape == (len(vectors), 2):
            return EmbeddedSpans(vectors, spans)
    return None


def _keep(kept: Path, points: EmbeddedSpans) -> None:
    data = io.BytesIO()
    np.savez(data, made_by=MADE_BY, vectors=points.vectors, spans=points.spans)
    # Without room for them they are found again the next time.
    with contextlib.suppress(OSError):
        write_whole(kept, data.getvalue(), lasting=False)

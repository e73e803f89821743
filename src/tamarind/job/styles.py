"""The house styles that are kept with a job, so that it is complete wherever it is opened."""

from __future__ import annotations

from collections.abc import Mapping

from tamarind.job.recording import Recording
from tamarind.language.housestyle import HouseStyle
from tamarind.language.stylebook import ORDINARY_STYLE, SHIPPED


def style_of(
    recording: Recording,
    own: Mapping[str, HouseStyle],
    language: str = "",
    of_tracks: Mapping[str, str] | None = None,
) -> HouseStyle:
    """The house style of a recording, or of its track in a ``language``, which may have one of its
    own; that of ordinary captions if it is not here."""
    chosen = (of_tracks or {}).get(language, "")
    for key in (chosen, recording.style):
        found = own.get(key) or SHIPPED.get(key)
        if found is not None:
            return found
    return SHIPPED[ORDINARY_STYLE]

"""Choose among the house styles that are kept with a job."""

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
    """Return the house style of a recording, or of its track in a ``language``, which may have its
    own; the default one if it is not here."""
    chosen = (of_tracks or {}).get(language, "")
    for key in (chosen, recording.style):
        found = own.get(key) or SHIPPED.get(key)
        if found is not None:
            return found
    return SHIPPED[ORDINARY_STYLE]

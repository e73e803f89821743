"""The house styles that are kept with a job, so that it is complete wherever it is opened."""

from __future__ import annotations

import contextlib
import json
from collections.abc import Mapping

from tamarind.job.recording import Recording
from tamarind.language.housestyle import HouseStyle, StyleError, read_style
from tamarind.language.stylebook import ORDINARY_STYLE, SHIPPED


def unpacked(kept: str) -> dict[str, HouseStyle]:
    """The job's own styles by key; what cannot be read is left out. Raises ValueError or
    AttributeError for what are no styles at all."""
    found: dict[str, HouseStyle] = {}
    for key, data in json.loads(kept).items():
        with contextlib.suppress(StyleError):
            found[key] = read_style(json.dumps(data))
    return found


def packed(styles: Mapping[str, HouseStyle]) -> str:
    """Styles as they are kept with the job."""
    data = {key: json.loads(style.packed()) for key, style in styles.items()}
    return json.dumps(data, ensure_ascii=False)


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

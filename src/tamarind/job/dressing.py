"""Choose house style and caption style for a recording, by the settings of its job."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from tamarind.job.looks import look_of
from tamarind.job.recording import Recording
from tamarind.job.settings import JOB_LOOKS, JOB_STYLES, LOOK
from tamarind.job.styles import style_of
from tamarind.language.housestyle import HouseStyle
from tamarind.picture.looks import Look


@dataclass(frozen=True, slots=True)
class Dressing:
    """The house style and caption style of a recording; ``own_looks`` are the job's caption styles
    by key, which single cues may use."""

    style: HouseStyle
    look: Look
    own_looks: Mapping[str, Look] = field(default_factory=dict)


def dressing_of(
    recording: Recording, kept: Mapping[str, str], named: Look | None = None
) -> Dressing:
    """Choose by the settings ``kept`` with the job; a style that is ``named`` counts for all."""
    own = JOB_LOOKS.of(kept.get(JOB_LOOKS.key))
    style = style_of(recording, JOB_STYLES.of(kept.get(JOB_STYLES.key)))
    if named is not None:
        return Dressing(style, named)
    keys = [LOOK.of(kept.get(key)) for key in (LOOK.numbered(recording.id).key, LOOK.key)]
    return Dressing(style, look_of(tuple(keys), own), own)

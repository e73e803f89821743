"""Choose among the caption styles that are kept with a job."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from tamarind.picture.caption import Caption
from tamarind.picture.lookbook import SHIPPED, USUAL_LOOK
from tamarind.picture.looks import Look

ON_BOX = "*on a box"
"""In place of a key: the look of the recording, with a box behind its letters."""


def look_of(keys: tuple[str, ...], own: Mapping[str, Look]) -> Look:
    """Return the first caption style of these keys that is here; else the default one."""
    for key in keys:
        found = own.get(key) or SHIPPED.get(key)
        if found is not None:
            return found
    return SHIPPED[USUAL_LOOK]


def looks_for(captions: Sequence[Caption], usual: Look, own: Mapping[str, Look]) -> list[Look]:
    """Return the style of each caption: its own, or the recording's; one for all if none has its
    own."""
    keys = dict.fromkeys(caption.look for caption in captions)
    if not any(keys):
        return [usual]
    from tamarind.picture.contrast import on_box  # slow to import, and not always needed

    known = {"": usual, ON_BOX: on_box(usual)}
    found = {key: known.get(key) or own.get(key) or SHIPPED.get(key) or usual for key in keys}
    return [found[caption.look] for caption in captions]

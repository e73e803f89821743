"""Names for speakers on the command line: ``--names "Speaker 1=Ann"``."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from tamarind.cli.output import tell
from tamarind.cli.statuses import UseError
from tamarind.transcript.edits import name_speaker
from tamarind.transcript.model import Transcript


def names_in(pairs: Sequence[str] | None) -> dict[str, str]:
    """Parse "OLD=NEW" into new names by old ones. Raises UseError."""
    names: dict[str, str] = {}
    for pair in pairs or ():
        for part in pair.split(","):
            old, mark, new = (side.strip() for side in part.partition("="))
            if not mark or not old or not new:
                raise UseError(f"“{part.strip()}” says nobody's name; write it “Speaker 1=Ann”.")
            names[old.casefold()] = new
    return names


def with_names(text: Transcript, names: Mapping[str, str]) -> Transcript:
    """Return the text with its speakers renamed; unknown names are told."""
    known = {speaker.label.casefold(): speaker.id for speaker in text.speakers}
    for old, new in names.items():
        if old in known:
            text = name_speaker(text, known[old], new)
        else:
            there = ", ".join(speaker.label for speaker in text.speakers) or "none"
            tell(f"no speaker is called “{old}”; there are: {there}.")
    return text

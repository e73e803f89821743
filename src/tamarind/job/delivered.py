"""What was delivered of a recording, and whether its text has changed since."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from hashlib import blake2b
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from tamarind.job.document import Document


@dataclass(frozen=True, slots=True)
class Delivered:
    """``when`` in the ISO form, "" if it never was; ``client`` by name; ``digest`` of the text and
    its translations as they were."""

    when: str = ""
    client: str = ""
    digest: str = ""

    @classmethod
    def read(cls, kept: str) -> Delivered:
        """Return what is kept as text. Raises ValueError or TypeError."""
        found = cls(**{str(name): str(value) for name, value in json.loads(kept).items()})
        if found.when:
            datetime.fromisoformat(found.when)
        return found

    def kept(self) -> str:
        """Return it as text."""
        return json.dumps(
            {"when": self.when, "client": self.client, "digest": self.digest}, ensure_ascii=False
        )

    @property
    def day(self) -> str:
        """The day of delivery, for people."""
        return f"{datetime.fromisoformat(self.when):%-d %B %Y}" if self.when else ""


NEVER = Delivered()


def digest_of(document: Document) -> str:
    """Return a digest of everything in a text and its translations that a client gets."""
    digest = blake2b(digest_size=12)
    for part in _parts(document):
        digest.update(part.encode("utf-8", "surrogatepass"))
        digest.update(b"\0")
    return digest.hexdigest()


def _parts(document: Document) -> Iterator[str]:
    transcript = document.transcript
    yield transcript.language
    for speaker in transcript.speakers:
        yield f"{speaker.id} {speaker.name}"
    for cue in transcript.cues:
        yield f"{cue.start} {cue.end} {cue.speaker} {cue.breaks} {cue.opens_paragraph}"
        yield cue.heading
        yield cue.text
        yield from (f"{word.text} {word.spans}" for word in cue.words if word.spans)
    for track in document.tracks:
        yield track.language
        for cue in transcript.cues:
            yield track.text(cue.id)
    for description in document.descriptions:
        yield repr(description)

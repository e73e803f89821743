"""A recording's text, translations, excerpts and descriptions: the one value that edits and undo
act on."""

from __future__ import annotations

from dataclasses import dataclass, replace

from tamarind.transcript.descriptions import Description
from tamarind.transcript.excerpts import Excerpt, followed
from tamarind.transcript.model import Transcript
from tamarind.translation.tracks import Track, follow


@dataclass(frozen=True, slots=True)
class Document:
    """The source text, its tracks, its excerpts, and its audio descriptions."""

    transcript: Transcript
    tracks: tuple[Track, ...] = ()
    excerpts: tuple[Excerpt, ...] = ()
    descriptions: tuple[Description, ...] = ()

    def with_transcript(self, transcript: Transcript) -> Document:
        """Return the document after an edit of its source; the tracks follow split and joined cues,
        the excerpts their words."""
        if transcript is self.transcript:
            return self
        tracks = tuple(follow(track, self.transcript, transcript) for track in self.tracks)
        excerpts = self.excerpts
        if excerpts:
            excerpts = followed(excerpts, self.transcript, transcript)
        return Document(transcript, tracks, excerpts, self.descriptions)

    def track(self, language: str) -> Track:
        """Return the track in a language, an empty one if there is none."""
        return next((t for t in self.tracks if t.language == language), Track(language))

    def with_track(self, track: Track) -> Document:
        """Return the document with this track in place of the one in its language."""
        others = [t for t in self.tracks if t.language != track.language]
        if len(others) == len(self.tracks):
            return replace(self, tracks=(*self.tracks, track))
        tracks = tuple(track if t.language == track.language else t for t in self.tracks)
        return replace(self, tracks=tracks)

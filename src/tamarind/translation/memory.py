"""Said once, translated once: sentences that a person has translated, by their source."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping

from tamarind.transcript.model import Transcript
from tamarind.transcript.sentences import bare
from tamarind.translation.sentences import sentences_of
from tamarind.translation.tracks import Track

_SPACES = re.compile(r"\s+")


def remembered(texts: Iterable[tuple[Transcript, Track]]) -> dict[str, str]:
    """Translations by their sentences, where a person has written or approved all of them and
    nothing has changed since; of what was said twice the last counts."""
    found: dict[str, str] = {}
    for transcript, track in texts:
        found.update(_of(transcript, track))
    return found


def by_key(sentences: Mapping[str, str]) -> dict[str, str]:
    """Translations by the keys of their sentences."""
    return {key_of(said): translation for said, translation in sentences.items()}


def key_of(sentence: str) -> str:
    """What two sentences share that say the same: capitals and marks do not count."""
    return " ".join(filter(None, map(bare, _SPACES.split(sentence))))


def _of(transcript: Transcript, track: Track) -> Iterator[tuple[str, str]]:
    settled = {
        cue.id
        for cue in transcript.cues
        if (entry := track.texts.get(cue.id)) is not None
        and entry.is_settled
        and not track.is_stale(cue)
    }
    whole = {
        sentence.pieces[0].cue.id: sentence
        for sentence in sentences_of(transcript.cues, transcript.language)
        if all(piece.cue.id in settled for piece in sentence.pieces)
        and all(len(piece.words) == len(piece.cue.words) for piece in sentence.pieces)
    }
    for sentence in whole.values():
        text = " ".join(track.text(piece.cue.id) for piece in sentence.pieces)
        yield sentence.text, text

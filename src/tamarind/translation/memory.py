"""Translation memory: sentences that a person has translated, by their source.

A sentence that differs in one place from one that is known gets its translation too, mended there:
what the engine makes of the words that differ is looked for in the translation and replaced
(fuzzy-match repair, Ortega, Sánchez-Martínez and Forcada 2016).
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import takewhile

from tamarind.transcript.model import Transcript
from tamarind.transcript.sentences import bare
from tamarind.translation.sentences import sentences_of
from tamarind.translation.tracks import Track

FEWEST_WORDS, MOST_DIFFERENT = 4, 3
ALIKE = 0.6
"""At least so large a share of the words of two sentences that are alike is the same."""

MOST_GROWN = 3
"""Words of a translation for each of the source, at most."""

MOST_WITH_A_WORD = 2_000
_MARKS = ".,;:!?…¿¡“”«»\"'() "
_SPACES = re.compile(r"\s+")


def remembered(texts: Iterable[tuple[Transcript, Track]]) -> dict[str, str]:
    """Return translations by sentence, where a person has written or approved all of them and
    nothing has changed since; of repeated sentences the last counts."""
    found: dict[str, str] = {}
    for transcript, track in texts:
        found.update(_of(transcript, track))
    return found


@dataclass(frozen=True, slots=True)
class Like:
    """A known sentence and its translation, and the only words in which another differs."""

    said: str
    translation: str
    old: str
    new: str

    @property
    def is_name(self) -> bool:
        """Whether the difference is a name or number in both, so that no engine need be asked."""
        return all(
            word[:1].isupper() or word[:1].isdigit()
            for word in (*self.old.split(), *self.new.split())
        )


class TranslationMemory:
    """Translations by sentence, ignoring capitals and punctuation."""

    def __init__(self, sentences: Mapping[str, str] | None = None) -> None:
        self._said = {key_of(said): said for said in sentences or {}}
        self._translations = {key: (sentences or {})[said] for key, said in self._said.items()}
        self._with: dict[str, list[str]] = {}
        for key in self._said:
            for word in set(key.split()):
                self._with.setdefault(word, []).append(key)

    def exact(self, sentence: str) -> str | None:
        """Return the translation of the same sentence."""
        return self._translations.get(key_of(sentence))

    def like(self, sentence: str) -> Like | None:
        """Return the most similar sentence that differs in one place only; None if none is similar
        enough."""
        words = key_of(sentence).split()
        if len(words) < FEWEST_WORDS:
            return None
        rare = sorted((self._with.get(word, []) for word in set(words)), key=len)
        shared = Counter(key for keys in rare for key in keys[:MOST_WITH_A_WORD])
        best: tuple[int, Like] | None = None
        for key, count in shared.items():
            if count < ALIKE * len(words) - 1:
                continue
            said = self._said[key]
            place = _differing(key.split(), words)
            if place is not None and said.strip()[-1:] == sentence.strip()[-1:]:
                same, old, new = place
                if best is None or same > best[0]:
                    known, own = _words(said)[old], _words(sentence)[new]
                    pair = " ".join(known), " ".join(own)
                    best = same, Like(said, self._translations[key], *pair)
        return best[1] if best is not None else None


def _words(sentence: str) -> list[str]:
    """Return the words of a sentence's key, without punctuation around them."""
    return [token.strip(_MARKS) for token in _SPACES.split(sentence) if bare(token)]


def _differing(known: Sequence[str], words: Sequence[str]) -> tuple[int, slice, slice] | None:
    """Return how many words are the same, and where those that differ are, if few and together."""
    head = sum(1 for _ in takewhile(lambda p: p[0] == p[1], zip(known, words, strict=False)))
    rest = zip(known[head:][::-1], words[head:][::-1], strict=False)
    tail = sum(1 for _ in takewhile(lambda p: p[0] == p[1], rest))
    old, new = slice(head, len(known) - tail), slice(head, len(words) - tail)
    same = head + tail
    few = all(0 < part.stop - part.start <= MOST_DIFFERENT for part in (old, new))
    if not few or same < ALIKE * max(len(known), len(words)):
        return None
    return same, old, new


def repaired(like: Like, old: str, new: str) -> str | None:
    """Return the known translation with ``new`` in place of ``old``, the translations of the words
    that differ; None if ``old`` does not occur exactly once, or ``new`` looks as if the engine had
    not understood. Names and numbers are taken as they are."""
    if like.is_name:
        old, new = like.old, like.new
    old, new = old.strip(_MARKS), new.strip(_MARKS)
    most = MOST_GROWN * len(like.new.split())
    if not old or not new or len(new.split()) > most or set(new) & set("()[]{}"):
        return None
    if like.new[:1].islower():
        new = new[:1].lower() + new[1:]
    found = list(re.finditer(rf"(?<!\w){re.escape(old)}(?!\w)", like.translation, re.IGNORECASE))
    if len(found) != 1:
        return None
    first, last = found[0].span()
    if like.translation[first].isupper():
        new = new[:1].upper() + new[1:]
    return f"{like.translation[:first]}{new}{like.translation[last:]}"


def key_of(sentence: str) -> str:
    """Return the key of a sentence, ignoring capitals and punctuation."""
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

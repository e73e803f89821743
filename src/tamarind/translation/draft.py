"""Translate a text for the first time: sentence by sentence, spread over its cues."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace

from tamarind.captions.lines import with_breaks
from tamarind.language.housestyle import HouseStyle, Quotes, Wording
from tamarind.language.typography import restyled
from tamarind.transcript.languages import base_of
from tamarind.transcript.model import Cue, Transcript
from tamarind.translation.engines.base import going_on
from tamarind.translation.keeping import Keeper, translated_remark
from tamarind.translation.memory import Like, TranslationMemory, repaired
from tamarind.translation.routes import Route, Router
from tamarind.translation.sentences import Sentence, sentences_of, touched
from tamarind.translation.spreading import spread_text
from tamarind.translation.termbook import NO_PAIRS, TermBook
from tamarind.translation.tracks import Track, as_transcript, with_some

AT_ONCE = 24
"""Sentences that are translated before what has become of them is given."""


@dataclass(frozen=True, slots=True)
class Brief:
    """How to translate a text: the languages, the route, the glossary, names that stay, and the
    wording of the target (None: as it comes).

    ``known`` has translations of whole sentences that a person has made.
    """

    source: str
    target: str
    route: Route
    terms: TermBook = NO_PAIRS
    names: tuple[str, ...] = ()
    wording: Wording | None = None
    known: TranslationMemory = field(default_factory=TranslationMemory)


def draft(
    cues: Sequence[Cue],
    wanted: Sequence[int],
    brief: Brief,
    router: Router,
    is_stopped: Callable[[], bool] = going_on,
    tell_like: Callable[[int, Like], object] = lambda _cue, _like: None,
) -> Iterator[dict[int, str]]:
    """Yield translations of the cues whose ids are ``wanted``, by id, as they are completed.

    ``cues`` are all of the text, since sentences go over their borders. ``tell_like`` is told which
    cues got their text from a sentence like theirs. Raises TranslationError and Stopped.
    """
    translator = _Translator(brief, router, is_stopped, tell_like)
    sentences = touched(sentences_of(cues, brief.source), wanted)
    left = {cue.id for cue in cues if cue.words} & set(wanted)
    parts: dict[int, list[str]] = {}
    for at in range(0, len(sentences), AT_ONCE):
        some = sentences[at : at + AT_ONCE]
        for sentence, texts in zip(some, translator.translated(some), strict=True):
            for piece, text in zip(sentence.pieces, texts, strict=True):
                parts.setdefault(piece.cue.id, []).append(text)
        following = sentences[at + AT_ONCE] if at + AT_ONCE < len(sentences) else None
        going_on_in = following.pieces[0].cue.id if following is not None else None
        whole = [cue_id for cue_id in parts if cue_id in left and cue_id != going_on_in]
        if whole:
            yield {cue_id: " ".join(filter(None, parts.pop(cue_id))) for cue_id in whole}
            left.difference_update(whole)


def translated(
    transcript: Transcript,
    language: str,
    style: HouseStyle,
    router: Router,
    route: Route | None = None,
    terms: TermBook = NO_PAIRS,
    known: TranslationMemory | None = None,
) -> Transcript:
    """Return a whole text in another language, by the best route if none is given, with lines laid
    out by a house style. Raises TranslationError."""
    route = route or router.route(transcript.language, language)
    names = tuple(speaker.name for speaker in transcript.speakers if speaker.name)
    wording = in_target(style.wording)
    source = transcript.language
    brief = Brief(
        source,
        language,
        route,
        terms=terms,
        names=names,
        wording=wording,
        known=known or TranslationMemory(),
    )
    track = Track(language)
    for texts in draft(transcript.cues, [cue.id for cue in transcript.cues], brief, router):
        track = with_some(track, transcript.cues, texts)
    return with_breaks(as_transcript(track, transcript), style.captions)


def in_target(wording: Wording) -> Wording:
    """Return a style's wording for a translation: quotation marks "as they are" become the target
    language's."""
    if wording.quotes is not Quotes.AS_THEY_ARE:
        return wording
    return replace(wording, quotes=Quotes.OF_THE_LANGUAGE)


class _Translator:
    """Translates sentences into a text for each of their pieces."""

    def __init__(
        self,
        brief: Brief,
        router: Router,
        is_stopped: Callable[[], bool],
        tell_like: Callable[[int, Like], object],
    ) -> None:
        self._brief, self._router, self._is_stopped = brief, router, is_stopped
        self._tell_like = tell_like
        self._keeper = Keeper(brief.source, brief.target, brief.terms, brief.names)

    def translated(self, sentences: Sequence[Sentence]) -> list[list[str]]:
        """Return the translations in order."""
        brief = self._brief
        texts = [sentence.text for sentence in sentences]
        known = self._known(sentences)
        plain = [
            place
            for place, sentence in enumerate(sentences)
            if place not in known and not self._stays(sentence)
        ]
        said = self._keeper.translated([texts[place] for place in plain], self._run)
        whole = [known.get(place, text) for place, text in enumerate(texts)]
        for place, text in zip(plain, said, strict=True):
            whole[place] = self._written(texts[place], text)
        several = [place for place, s in enumerate(sentences) if len(s.pieces) > 1]
        hints = self._run([piece.text for place in several for piece in sentences[place].pieces])
        result = []
        for place, (sentence, text) in enumerate(zip(sentences, whole, strict=True)):
            if sentence.is_remark:
                text = translated_remark(text, brief.source, brief.target)
            own: list[str] | None = None
            if place in several:
                own, hints = hints[: len(sentence.pieces)], hints[len(sentence.pieces) :]
            pieces = [piece.text for piece in sentence.pieces]
            result.append(spread_text(pieces, text, brief.target, own))
        return result

    def _known(self, sentences: Sequence[Sentence]) -> dict[int, str]:
        """Return by index what a person has translated, or something similar, repaired."""
        memory, found = self._brief.known, {}
        alike: dict[int, Like] = {}
        for place, sentence in enumerate(sentences):
            exact = memory.exact(sentence.text)
            if exact is not None:
                found[place] = exact
            elif not self._stays(sentence):
                like = memory.like(sentence.text)
                if like is not None:
                    alike[place] = like
        parts = [(like.old, like.new) for like in alike.values()]
        run = self._run([part for pair in parts for part in pair])
        for (place, like), old, new in zip(alike.items(), run[::2], run[1::2], strict=True):
            repairs = repaired(like, old, new)
            if repairs is not None:
                found[place] = repairs
                for piece in sentences[place].pieces:
                    self._tell_like(piece.cue.id, like)
        return found

    def _stays(self, sentence: Sentence) -> bool:
        """Whether a sentence is not translated: a remark, or already in the target language."""
        return sentence.is_remark or base_of(sentence.language or self._brief.source) == base_of(
            self._brief.target
        )

    def _run(self, texts: Sequence[str]) -> list[str]:
        if not texts:
            return []
        return self._router.translate(self._brief.route, texts, self._is_stopped)

    def _written(self, source: str, text: str) -> str:
        text = _marks_like(source, text)
        wording = self._brief.wording
        return text if wording is None else restyled(text, wording, self._brief.target)


def _marks_like(source: str, text: str) -> str:
    """Restore a dash or "…" that engines write as a hyphen between spaces or three full stops."""
    if "…" in source and "..." not in source:
        text = text.replace("...", "…")
    dash = next((dash for dash in ("–", "—") if dash in source), None)
    if dash is None or " - " in source:
        return text
    spaced = f" {dash} " if f" {dash} " in source else dash
    return text.replace(" - ", spaced)

"""Find what a degree of verbatim leaves out of what somebody says.

Besides the disfluencies that the words alone show (``clean``): phrases that mean nothing where they
stand, starts that were given up for another, sounds in brackets; and for a text that is edited for
reading openers such as "So," and the listener's "mm-hm". Sources: Shriberg, "Preliminaries to a
Theory of Speech Disfluencies" (1994), for what a repair looks like; Schourup, "Common Discourse
Particles in English Conversation" (1985), for when "you know" and "I mean" mean nothing.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator, Mapping, Sequence
from itertools import groupby

from tamarind.captions.functionwords import FunctionWords, function_words
from tamarind.language.clean import Disfluency, DisfluencyKind, disfluencies
from tamarind.language.housestyle import PHRASES, Verbatim, Wording
from tamarind.transcript.languages import base_of
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.reconcile import letters_of
from tamarind.transcript.sentences import CLOSERS, OPENERS, ends_sentence

PAUSE_MS = 150
"""A pause of so much sets words off as a comma does."""

RESTART_WITHIN = 7
"""A start that is given up has fewer words than this."""

_SET_OFF = (",", ";", ":", "–", "—", "-", "…", ".", "?", "!")
_BROKEN_OFF = ("–", "—", "-", "…")

_MEANS_SOMETHING_AFTER = {
    "you know": "do did does don't didn't doesn't can could would will to should if as what how "
    "let that because than when whether did'you might may won't wouldn't shall must all only",
    "i mean": "what that know how which whatever all did do if",
}
"""Words after which a phrase is part of the sentence."""

_MEANS_SOMETHING_BEFORE = {
    "you know": "what who where when why how that if whether which the him her them it about me",
    "i mean": "it that business to",
    "sort of": "you him her them",
    "kind of": "you him her them",
}
"""Words before which it is, unless a mark stands between."""

_HEDGES = frozenset({"sort of", "kind of"})
"""Nouns after a determiner or an adjective ("this kind of moss"), nothing after others."""

_MAY_STAND_BEFORE_HEDGES = frozenset(
    "just really actually even still also then always it's that's he's she's they're we're "
    "i'm you're".split()
)
_SOUNDS = frozenset(
    "laughter laughs laughing laugh chuckles chuckling chuckle coughs coughing cough sighs sigh "
    "sniffs sniff breath breathes breathing pause clears throat clearing".split()
)
_TELLS_A_GAP = ("inaudible", "unclear", "crosstalk", "indistinct", "unintelligible", "redacted")
_OPENERS: Mapping[str, frozenset[str]] = {
    "en": frozenset("so well okay ok right anyway yeah now".split()),
    "es": frozenset("bueno pues vale entonces".split()),
    "fr": frozenset("bon ben alors".split()),
    "de": frozenset("also naja tja nun".split()),
    "it": frozenset("allora beh dunque".split()),
    "pt": frozenset("então bom pois".split()),
    "ca": frozenset("bé doncs".split()),
}
_LISTENING: Mapping[str, frozenset[str]] = {
    "en": frozenset("mhm mmhm mmhmm uhhuh yeah okay ok right sure hm hmm mm oh wow".split()),
    "es": frozenset("mhm ajá ya vale claro".split()),
    "fr": frozenset("mhm ouais daccord".split()),
    "de": frozenset("mhm aha ja okay genau".split()),
}
_STUTTER = re.compile(r"^(\W*)((\w{1,3})-)+(?=\3\w)", re.IGNORECASE)
_OPENS_BRACKET, _CLOSES_BRACKET = re.compile(r"^[\[(]"), re.compile(r"[\])][.,?!…]*$")


def without_stutter(text: str) -> str:
    """Return a word without its first letters said again and again: "w-w-was" becomes "was"."""
    found = _STUTTER.match(text)
    if found is None:
        return text
    rest = text[found.end() :]
    is_capital = text[len(found[1]) :][:1].isupper()
    return found[1] + (rest[:1].upper() + rest[1:] if is_capital else rest)


def left_out(transcript: Transcript, wording: Wording) -> list[Disfluency]:
    """Return what the style's degree of verbatim leaves out of a text, in order, not overlapping;
    places count through the words of all cues."""
    if wording.verbatim is Verbatim.FULL:
        return []
    found: list[Disfluency] = []
    at = 0
    turns: list[tuple[int, list[Word], Cue]] = []
    for _, cues in groupby(transcript.cues, key=lambda cue: (cue.speaker, cue.language)):
        run = list(cues)
        words = [word for cue in run for word in cue.words]
        if words:
            turns.append((at, words, run[0]))
        at += len(words)
    for number, (first, words, cue) in enumerate(turns):
        language = cue.language or transcript.language
        if wording.verbatim is Verbatim.EDITED and _only_listens(turns, number, language):
            found.append(Disfluency(first, first + len(words), DisfluencyKind.LISTENING))
            continue
        found += [
            Disfluency(first + one.first, first + one.last, one.kind)
            for one in of_one_speaker(words, language, wording)
        ]
    return found


def of_one_speaker(words: Sequence[Word], language: str, wording: Wording) -> list[Disfluency]:
    """Return what is left out of words that one speaker says in a language."""
    texts = [word.text for word in words]
    letters = [letters_of(text) for text in texts]
    classes = function_words(language)
    found = [
        *_sounds(texts, is_edited=wording.verbatim is Verbatim.EDITED),
        *disfluencies(texts, wording.fillers),
        *_phrases(words, letters, wording.phrases, classes),
        *_given_up(words, letters, classes),
    ]
    if wording.verbatim is Verbatim.EDITED:
        gone = {place for one in found for place in range(one.first, one.last)}
        found += _openings(texts, letters, language, gone)
    return _apart(found)


def _apart(found: Sequence[Disfluency]) -> list[Disfluency]:
    """Return what was found in order; where some overlap, the longest that begins first stays."""
    kept: list[Disfluency] = []
    for one in sorted(found, key=lambda one: (one.first, -one.last)):
        if not kept or one.first >= kept[-1].last:
            kept.append(one)
        elif one.last > kept[-1].last:
            kept[-1] = Disfluency(kept[-1].first, one.last, kept[-1].kind)
    return kept


def _sounds(texts: Sequence[str], is_edited: bool) -> Iterator[Disfluency]:
    """Yield sounds in brackets; for an edited text all but those that tell of missing words."""
    opened: int | None = None
    for place, text in enumerate(texts):
        if _OPENS_BRACKET.match(text):
            opened = place
        if opened is not None and _CLOSES_BRACKET.search(text):
            inside = [letters_of(one).casefold() for one in texts[opened : place + 1]]
            is_square = texts[opened].startswith("[")
            tells = any(one.startswith(_TELLS_A_GAP) for one in inside) or not any(inside)
            if set(inside) <= _SOUNDS or (is_edited and is_square and not tells):
                yield Disfluency(opened, place + 1, DisfluencyKind.SOUND)
            opened = None


def _phrases(
    words: Sequence[Word],
    letters: Sequence[str],
    phrases: Collection[str],
    classes: FunctionWords,
) -> Iterator[Disfluency]:
    """Yield phrases where they mean nothing; the person's own wherever they stand."""
    by_first: dict[str, list[list[str]]] = {}
    for phrase in phrases:
        own = [letters_of(one) for one in phrase.split()]
        if all(own) and own:
            by_first.setdefault(own[0], []).append(own)
    for place, said in enumerate(letters):
        for own in sorted(by_first.get(said, ()), key=len, reverse=True):
            last = place + len(own)
            if list(letters[place:last]) != own or _ends_within(words[place : last - 1]):
                continue
            if _means_nothing(words, letters, place, last, classes):
                yield Disfluency(place, last, DisfluencyKind.PHRASE)
                break


def _ends_within(words: Sequence[Word]) -> bool:
    return any(word.text.endswith(_SET_OFF) for word in words)


def _means_nothing(
    words: Sequence[Word],
    letters: Sequence[str],
    first: int,
    last: int,
    classes: FunctionWords,
) -> bool:
    name = " ".join(word.text.strip(OPENERS + CLOSERS + ".,;:?!…") for word in words[first:last])
    name = name.casefold()
    if name not in _SHIPPED:
        return True
    before = _plain(words[first - 1]) if first and not _is_marked(words[first - 1]) else ""
    after = _plain(words[last]) if last < len(words) and not _is_marked(words[last - 1]) else ""
    if before in _MEANS_SOMETHING_AFTER.get(name, "").split():
        return False
    if words[last - 1].text.endswith("?") and name == "you know":
        return first > 0 and _is_marked(words[first - 1])
    opens = first == 0 or _is_marked(words[first - 1]) or _pauses(words, first)
    closes = last == len(words) or _is_marked(words[last - 1]) or _pauses(words, last)
    if name in _HEDGES:
        if after in _MEANS_SOMETHING_BEFORE[name].split() or (not after and closes):
            return False
        light = classes.pronouns | classes.auxiliaries | classes.conjunctions
        light = (light | classes.objects | _MAY_STAND_BEFORE_HEDGES) - classes.determiners
        return before in light or (bool(before) and opens and closes)
    if opens and closes:
        return True
    if after in _MEANS_SOMETHING_BEFORE.get(name, "").split():
        return False
    # Where no subject can stand: "we were you know digging", "the I mean the drain".
    bare = classes.determiners | classes.prepositions | _BEING
    return name in _MEANS_SOMETHING_AFTER and before in bare


_SHIPPED = frozenset(phrase.casefold() for phrase in PHRASES)
_BEING = frozenset("is are was were be been being am".split())


def _plain(word: Word) -> str:
    return word.text.strip(OPENERS + CLOSERS + ".,;:?!…").casefold().replace("’", "'")


def _is_marked(word: Word) -> bool:
    return word.text.rstrip(CLOSERS).endswith(_SET_OFF)


def _pauses(words: Sequence[Word], place: int) -> bool:
    """Whether there is a pause before a word, as far as the times of words are known to be
    measured."""
    before, word = words[place - 1], words[place]
    return word.start - before.end >= PAUSE_MS


def _given_up(
    words: Sequence[Word], letters: Sequence[str], classes: FunctionWords
) -> Iterator[Disfluency]:
    """Yield starts that are given up for another which begins with the same words.

    "I was going to, I was thinking" begins anew after a mark or a pause; what is given up is no
    whole clause: it ends in a function word or a dash, so that "we dug drains, we dug pits" stays.
    """
    leaning = classes.determiners | classes.prepositions | classes.auxiliaries
    leaning |= classes.conjunctions
    place = 0
    while place < len(words):
        last = _restarts_at(words, letters, place, leaning, classes.pronouns)
        if last:
            yield Disfluency(place, last, DisfluencyKind.FALSE_START)
        place = last or place + 1


def _restarts_at(
    words: Sequence[Word],
    letters: Sequence[str],
    place: int,
    leaning: Collection[str],
    pronouns: Collection[str],
) -> int:
    """Return where a start at ``place`` is begun anew; 0 if it is not."""
    for again in range(place + 1, min(place + RESTART_WITHIN, len(words) - 1)):
        before = words[again - 1].text.rstrip(CLOSERS)
        if before.endswith((".", "?", "!")) or not all(letters[place:again]):
            return 0
        if letters[again] != letters[place]:
            continue
        is_broken_off = before.endswith(_BROKEN_OFF)
        if not (is_broken_off or before.endswith(",") or _pauses(words, again)):
            continue
        same = letters[again : again + 2] == letters[place : place + 2]
        if again - place >= 2 and same and (is_broken_off or _plain(words[again - 1]) in leaning):
            return again
        # "I think, I think we should": the same subject and verb once more.
        if again - place == 2 and same and _plain(words[place]) in pronouns:
            return again
        if is_broken_off and _plain(words[place]) in pronouns:
            return again
    return 0


def _openings(
    texts: Sequence[str], letters: Sequence[str], language: str, gone: Collection[int]
) -> Iterator[Disfluency]:
    """Yield words that only open a sentence, with a comma behind and more to follow; the words
    ``gone`` before them do not count."""
    known = _OPENERS.get(base_of(language), frozenset())
    opens = True
    for place, text in enumerate(texts):
        if opens and place in gone:
            continue
        alone = text.rstrip(CLOSERS).endswith(",") and place + 1 < len(texts)
        if opens and alone and letters[place] in known:
            yield Disfluency(place, place + 1, DisfluencyKind.OPENING)
            continue
        opens = ends_sentence(text)


def _only_listens(turns: Sequence[tuple[int, list[Word], Cue]], number: int, language: str) -> bool:
    """Whether a turn only shows that somebody listens, while one other speaker goes on."""
    known = _LISTENING.get(base_of(language), frozenset())
    words = turns[number][1]
    if not 0 < number < len(turns) - 1 or len(words) > 2:
        return False
    before, after = turns[number - 1], turns[number + 1]
    return (
        all(letters_of(word.text) in known for word in words)
        and before[2].speaker is not None
        and before[2].speaker == after[2].speaker
        and not before[1][-1].text.rstrip(CLOSERS).endswith("?")
    )

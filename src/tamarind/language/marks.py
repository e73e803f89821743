"""Propose punctuation and capitals for a text; its words never change.

With the sound, a fresh hearing of it is matched word by word, and what it has of marks and
capitals is taken over; where it goes on and on without an end, pauses help. Without the sound,
sentences end where the speech pauses and captions part, and capitals follow.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass, replace

from tamarind.language.grammar import Issue, letters_to_words
from tamarind.transcript.edits import opens_paragraph
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.reconcile import letters_of, runs
from tamarind.transcript.sentences import CLOSERS, MARKS, OPENERS

SENTENCE_PAUSE_MS, CLAUSE_PAUSE_MS = 550, 280
LONG_SENTENCE = 30
"""So many words are heard without an end only where the recogniser gives no marks."""

BARE_SHARE = 0.02
"""A text with fewer marks for its words has none to speak of."""

_ASKING = frozenset(
    "who what when where why how which whose is are was were do does did can could "
    "would will shall should has have had isn't aren't wasn't didn't don't".split()
)
_JOINING = frozenset("and but so because which although though while or".split())
_UNFINISHED = frozenset(
    "a an the of to in on at by for from with and or but because if that my our your his her their "
    "its is are was were be very".split()
)


@dataclass(frozen=True, slots=True)
class MarkProposal:
    """The cue with id ``cue`` would read ``after`` instead of ``before``."""

    cue: int
    before: str
    after: str


def is_bare(transcript: Transcript) -> bool:
    """Whether a text of some length has next to no punctuation."""
    words = [word.text for cue in transcript.cues for word in cue.words]
    marked = sum(word[-1:] in MARKS for word in words)
    return len(words) >= 20 and marked < BARE_SHARE * len(words)


def from_hearing(transcript: Transcript, heard: Sequence[Word]) -> list[MarkProposal]:
    """Propose punctuation and capitals from a new transcription, for the words that match.

    Marks that are there already stay.
    """
    flat = [word for cue in transcript.cues for word in cue.words]
    texts = [word.text for word in flat]
    said = list(flat)
    at = heard_at = 0
    previous = "."
    for old, new in runs(flat, [word.text for word in heard]):
        if len(old) == len(new):
            for place, token in enumerate(new):
                capital = previous[-1:] in ".?!…"
                texts[at + place] = _dressed(old[place].text, token, capital)
                match = heard[heard_at + place]
                said[at + place] = replace(old[place], start=match.start, end=match.end)
                previous = token
        elif old and new:
            texts[at] = _capital_like(old[0].text, new[0], previous[-1:] in ".?!…")
            last = at + len(old) - 1
            texts[last] = _marked(texts[last], new[-1])
            previous = new[-1]
        elif new:
            if at and new[-1][-1:] in ".?!…":
                texts[at - 1] = _marked(texts[at - 1], new[-1])
            previous = new[-1]
        at += len(old)
        heard_at += len(new)
    texts = _with_pauses(transcript, texts, said)
    return _proposals(transcript, _with_starts(texts, only_first=True))


def _with_pauses(transcript: Transcript, texts: Sequence[str], said: Sequence[Word]) -> list[str]:
    """Split long stretches without a sentence end at their pauses; ``said`` are the word times."""
    result = list(texts)
    places = [place for place, cue in enumerate(transcript.cues) for _ in cue.words]
    first = 0
    for last, text in enumerate(texts):
        ends = text.rstrip(CLOSERS)[-1:] in ".?!…"
        if not ends and last + 1 < len(texts):
            continue
        if last + 1 - first >= LONG_SENTENCE:
            opening: list[str] = []
            for number in range(first, last + (not ends)):
                opening.append(letters_of(result[number]))
                behind = number + 1
                following = (places[behind], said[behind]) if behind < len(said) else None
                mark = _mark_after(transcript, places[number], said[number], following, opening)
                result[number] = _marked(result[number], mark)
                if result[number].rstrip(CLOSERS)[-1:] in ".?!…":
                    opening = []
                    if following is not None:
                        word = result[behind]
                        result[behind] = word[0].upper() + word[1:]
        first = last + 1
    return result


def from_pauses(
    transcript: Transcript,
    names: Collection[str] = (),
    capitals: Callable[[str], Sequence[Issue]] = lambda text: (),
) -> list[MarkProposal]:
    """Propose marks where the speech pauses, and capitals after them; ``names`` are written as they
    are, and words that a grammar checker wants capitalised (``capitals``) get a capital.

    For a text whose sound is not there. It is a start to be read, no more.
    """
    written = {letters_of(name): name for name in names if len(name.split()) == 1}
    texts: list[str] = []
    opening: list[str] = []
    places = [(place, word) for place, cue in enumerate(transcript.cues) for word in cue.words]
    for number, (place, word) in enumerate(places):
        text = _named(word.text, written)
        following = places[number + 1] if number + 1 < len(places) else None
        opening.append(letters_of(text))
        mark = _mark_after(transcript, place, word, following, opening)
        if mark and text[-1:] not in MARKS:
            text = _marked(text, f"x{mark}")
        if text[-1:] in ".?!…":
            opening = []
        texts.append(text)
    texts = _with_starts(texts, only_first=False)
    spans = letters_to_words(texts)
    for issue in capitals(" ".join(texts)):
        new = issue.suggestions[0] if issue.suggestions else ""
        for number, (first, last) in enumerate(spans):
            core = texts[number][issue.start - first : issue.end - first]
            if first <= issue.start and issue.end <= last and core.casefold() == new.casefold():
                texts[number] = texts[number].replace(core, new, 1)
    return _proposals(transcript, texts)


def _mark_after(
    transcript: Transcript,
    place: int,
    word: Word,
    following: tuple[int, Word] | None,
    opening: Sequence[str],
) -> str:
    """Return the mark for a word, by the pause after it; ``opening`` is its sentence so far."""
    asks = bool(opening) and opening[0] in _ASKING
    end = "?" if asks else "."
    if following is None:
        return end
    next_place, next_word = following
    if next_place != place and opens_paragraph(transcript.cues, next_place):
        return end
    bare = letters_of(word.text)
    pause = next_word.start - word.end
    if bare in _UNFINISHED:
        return ""
    if pause >= SENTENCE_PAUSE_MS and letters_of(next_word.text) not in ("of", "to"):
        return end
    if pause >= CLAUSE_PAUSE_MS and letters_of(next_word.text) in _JOINING:
        return ","
    return ""


def _named(text: str, written: dict[str, str]) -> str:
    letters = letters_of(text)
    if letters in written:
        return _around(text, written[letters])
    return "I" + text[1:] if letters == "i" or text[:2] in ("i'", "i’") else text


def _around(text: str, core: str) -> str:
    """Return another core within the marks of a word."""
    head = text[: len(text) - len(text.lstrip(OPENERS))]
    tail = text[len(text.rstrip(CLOSERS + MARKS)) :]
    return f"{head}{core}{tail}"


def _dressed(text: str, token: str, capital: bool) -> str:
    """Return a word with the marks and capitals of the one transcribed for it.

    ``capital`` says that a sentence begins with it.
    """
    if letters_of(text) == letters_of(token):
        core = token.strip(OPENERS + CLOSERS + MARKS)
        old = text.strip(OPENERS + CLOSERS + MARKS)
        # The person's spelling stays; only its capitals may follow.
        text = _around(text, core if core.casefold() == old.casefold() else old)
        text = _capital_like(text, token, capital)
    else:
        text = _capital_like(text, token, capital)
    return _marked(text, token)


def _capital_like(text: str, token: str, capital: bool) -> str:
    letters = token.lstrip(OPENERS)
    if capital and letters[:1].isupper() and text[:1].islower():
        return text[0].upper() + text[1:]
    return text


def _marked(text: str, token: str) -> str:
    """Return a word with the final mark of another, if it has none itself."""
    bare = token.rstrip(CLOSERS)
    mark = bare[-1:] if bare[-1:] in MARKS else ""
    if not mark or text.rstrip(CLOSERS)[-1:] in MARKS:
        return text
    core = text.rstrip(CLOSERS)
    return f"{core}{mark}{text[len(core) :]}"


def _with_starts(texts: Sequence[str], only_first: bool) -> list[str]:
    """Capitalise the starts of sentences; with ``only_first`` only the start of the text."""
    result = list(texts)
    starts = True
    for place, text in enumerate(result):
        if starts and text[:1].islower():
            result[place] = text[0].upper() + text[1:]
        starts = not only_first and text.rstrip(CLOSERS)[-1:] in ".?!…"
    return result


def _proposals(transcript: Transcript, texts: Sequence[str]) -> list[MarkProposal]:
    found: list[MarkProposal] = []
    at = 0
    for cue in transcript.cues:
        own = texts[at : at + len(cue.words)]
        at += len(cue.words)
        after = " ".join(own)
        if after != cue.text:
            found.append(MarkProposal(cue.id, cue.text, after))
    return found


def taken(transcript: Transcript, proposals: Sequence[MarkProposal]) -> Transcript:
    """Return the text with the proposals whose cues still read as they did."""
    by_cue = {proposal.cue: proposal for proposal in proposals}
    cues = tuple(_dressed_cue(cue, by_cue.get(cue.id)) for cue in transcript.cues)
    return Transcript(transcript.language, cues, transcript.speakers, transcript.preamble)


def _dressed_cue(cue: Cue, proposal: MarkProposal | None) -> Cue:
    if proposal is None or proposal.before != cue.text:
        return cue
    texts = proposal.after.split()
    words = zip(texts, cue.words, strict=True)
    return replace(cue, words=tuple(replace(word, text=text) for text, word in words))

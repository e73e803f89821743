"""Write each name in one form: where a text has "PBX" and "Pbx", use the more frequent one.

Only capitals differ between the forms that are made one: a name of the glossary decides, else the
form that stands more often within sentences and is more certain.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import replace

from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.sentences import CLOSERS, OPENERS, ends_sentence

_MARKS = f"{OPENERS}{CLOSERS}.,;:!?…–—-'’"
FEWEST_LETTERS = 2


def with_one_form(transcript: Transcript, terms: Sequence[str] = ()) -> Transcript:
    """Return the text with one form for each name; ``terms`` are names as they are to be
    written."""
    chosen = _chosen(transcript, terms)
    if not chosen:
        return transcript
    cues: list[Cue] = []
    starts = True
    for cue in transcript.cues:
        cues.append(_rewritten(cue, chosen, starts))
        starts = ends_sentence(cue.words[-1].text) if cue.words else starts
    return transcript if tuple(cues) == transcript.cues else replace(transcript, cues=tuple(cues))


def _chosen(transcript: Transcript, terms: Sequence[str]) -> dict[str, str]:
    """Return the form to use by lower-case word, where there are several."""
    forms: dict[str, dict[str, float]] = defaultdict(lambda: defaultdict(float))
    starts = True
    for cue in transcript.cues:
        for word in cue.words:
            core = _core(word.text)
            # A capital at the start of a sentence says nothing; one within the word does.
            if len(core) >= FEWEST_LETTERS and (not starts or _is_shaped(core)):
                forms[core.casefold()][core] += word.confidence if word.confidence else 1.0
            starts = ends_sentence(word.text)
    chosen: dict[str, str] = {}
    given = {_core(one).casefold(): _core(one) for one in terms if " " not in one.strip()}
    for small, counts in forms.items():
        if small in given and any(form != given[small] for form in counts):
            chosen[small] = given[small]
        elif len(counts) > 1 and any(map(_is_shaped, counts)):
            chosen[small] = max(counts, key=lambda form: (counts[form], form < small))
    return chosen


def _is_shaped(core: str) -> bool:
    """Whether a word has capitals that no start of a sentence explains: "PBX", "McLeod"."""
    return any(letter.isupper() for letter in core[1:])


def _rewritten(cue: Cue, chosen: Mapping[str, str], starts: bool) -> Cue:
    words = []
    for word in cue.words:
        words.append(_in_form(word, chosen, starts))
        starts = ends_sentence(word.text)
    return cue if tuple(words) == cue.words else replace(cue, words=tuple(words))


def _in_form(word: Word, chosen: Mapping[str, str], starts: bool) -> Word:
    core = _core(word.text)
    form = chosen.get(core.casefold())
    # In small letters, or at the start of a sentence, it may be another word: "us", "It".
    is_name = _is_shaped(core) or (core[:1].isupper() and not starts)
    if form is None or form == core or form.islower() or not is_name:
        return word
    return replace(word, text=word.text.replace(core, form, 1))


def _core(text: str) -> str:
    return text.strip(_MARKS)

"""Apply fixes to a text, one or many, each only where the text is still as it was when checked."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from tamarind.captions.limits import Limits
from tamarind.captions.relayout import relay
from tamarind.checks.check import CheckContext
from tamarind.checks.checker import caption_findings
from tamarind.checks.finding import Fix, Rebreak, Relook, Retime, Reword
from tamarind.language.housestyle import HouseStyle
from tamarind.transcript.edits import delete, replace_cues, set_look, with_cues
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.reconcile import held, retext
from tamarind.transcript.tokens import Glued, joined, tokens_of


def fixed(transcript: Transcript, fixes: Iterable[Fix], limits: Limits) -> tuple[Transcript, int]:
    """Return the text with the fixes made, and how many of them still fitted it."""
    places = {cue.id: place for place, cue in enumerate(transcript.cues)}
    rest = [fix for fix in fixes if fix.cue in places]
    # From the end backwards, so that what is not yet fixed stays where it was; words before times.
    rest.sort(key=lambda fix: (isinstance(fix, Reword), places[fix.cue], _first(fix)), reverse=True)
    made = 0
    for fix in rest:
        new = _made(transcript, fix, limits, places[fix.cue])
        made += new is not transcript
        transcript = new
    return transcript, made


def _first(fix: Fix) -> int:
    return fix.first if isinstance(fix, Reword) else 0


def _made(transcript: Transcript, fix: Fix, limits: Limits, place: int) -> Transcript:
    """Return the text with one fix made, or None; ``place`` is where the cue was, and mostly still
    is."""
    if place >= len(transcript.cues) or transcript.cues[place].id != fix.cue:
        try:
            place = transcript.place_of(fix.cue)
        except KeyError:
            return transcript
    cue = transcript.cues[place]
    if isinstance(fix, Reword):
        return _reworded(transcript, place, fix, limits)
    if isinstance(fix, Retime):
        return _retimed(transcript, place, fix)
    if isinstance(fix, Rebreak):
        if cue.breaks is None:
            return transcript
        return with_cues(transcript, place, place + 1, replace(cue, breaks=None))
    if isinstance(fix, Relook):
        return set_look(transcript, place, place + 1, fix.look)
    return _recut(transcript, place, limits)


def _retimed(transcript: Transcript, place: int, fix: Retime) -> Transcript:
    """Return the cue at the times of the fix, as far as its neighbours leave room."""
    cue = transcript.cues[place]
    before = transcript.cues[place - 1].end if place else 0
    following = transcript.cues[place + 1 : place + 2]
    start = max(fix.start, min(before, cue.start))
    end = fix.end
    if following:
        end = min(end, max(following[0].start, min(cue.end, fix.end)))
    if end - start < max(len(cue.words), 1) or (start, end) == (cue.start, cue.end):
        return transcript
    new = replace(cue, start=start, end=end, words=held(cue.words, start, end))
    return with_cues(transcript, place, place + 1, new)


def _reworded(transcript: Transcript, place: int, fix: Reword, limits: Limits) -> Transcript:
    cue = transcript.cues[place]
    last = fix.first + len(fix.old)
    if tuple(word.text for word in cue.words[fix.first : last]) != fix.old:
        return transcript
    tokens = [word.token for word in cue.words]
    new = tokens_of(fix.new)
    if new and fix.first < last and cue.words[fix.first].glued:
        new[0] = Glued(new[0])
    tokens[fix.first : last] = new
    if not tokens:
        return delete(transcript, place)
    new_cue = retext(cue, joined(tokens))
    if new_cue.breaks is not None and _is_too_wide(new_cue, limits) > _is_too_wide(cue, limits):
        # Lines that were set for shorter words are broken anew.
        new_cue = replace(new_cue, breaks=None)
    return replace_cues(transcript, place, place + 1, new_cue)


def _is_too_wide(cue: Cue, limits: Limits) -> bool:
    return any(limits.width(line) > limits.line_length for line in cue.lines)


def _recut(transcript: Transcript, place: int, limits: Limits) -> Transcript:
    """Lay out the cue anew, alone or with its neighbours, whichever breaks the fewest limits;
    return the same text if none breaks fewer than now."""
    count = len(transcript.cues)
    first, last = max(place - 1, 0), min(place + 2, count)
    best, fewest = transcript, _breaches(transcript, first, last, limits)
    for low, high in ((place, place + 1), (first, place + 1), (place, last), (first, last)):
        new = relay(transcript, low, high, limits, also_locked=True)
        breaches = _breaches(new, first, last + len(new.cues) - count, limits)
        if breaches < fewest:
            best, fewest = new, breaches
    return best


def _breaches(transcript: Transcript, first: int, last: int, limits: Limits) -> int:
    """Count the limits broken by some cues, and between them and the next."""
    context = CheckContext(HouseStyle("", limits))
    return sum(
        1 for place in range(first, last) for _ in caption_findings(transcript, place, context)
    )

"""Checks of a text against its sound: text without speech, speech without text, doubts,
speakers."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Sequence

from tamarind.checks.check import SOUND, Around, Check, CheckContext, CheckMemory, Span
from tamarind.checks.finding import Finding, Reword
from tamarind.language.housestyle import Level
from tamarind.transcript.model import Cue, Transcript

LEAST_SPOKEN = 0.15
"""A cue in less of which somebody speaks is text without speech."""

BESIDE_MS = 150
LONGEST_UNHEARD_MS = 1_200
"""Speech of so long without text is told."""


class SilentTextCheck(Check):
    """Hardly anybody speaks while the words of a cue should be said."""

    key, title, group, uses = "silent-text", "text without speech", SOUND, ("speech",)

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Add up the speech between the first word and the last."""
        speech = around.context.speech
        if speech is None:
            return
        start, end = around.cue.words[0].start, around.cue.words[-1].end
        spoken = 0
        at = max(bisect_right(speech, (start, -1)) - 1, 0)
        while at < len(speech) and speech[at][0] < end:
            first, last = speech[at]
            spoken += max(min(last, end) - max(first, start), 0)
            at += 1
        if spoken < LEAST_SPOKEN * (end - start):
            yield self.found(around.cue, "nobody speaks here")


class UnheardCheck(Check):
    """Somebody speaks and there is no text for it; reported at the cue before."""

    key, title, group, level = "unheard", "speech without text", SOUND, Level.MUST

    def in_text(
        self, text: Transcript, context: CheckContext, memory: CheckMemory
    ) -> Iterator[Finding]:
        """Look for speech between words."""
        cues = [cue for cue in text.cues if cue.words]
        # A word is where its cue is shown, too: text typed by hand has no times of its own.
        taken = [(min(c.start, c.words[0].start), max(c.end, c.words[-1].end)) for c in cues]
        starts = [start for start, _ in taken]
        for first, last in context.unheard if context.speech is None else context.speech:
            at = first
            place = max(bisect_right(starts, first) - 1, 0)
            while place < len(taken) and taken[place][0] < last:
                start, end = taken[place]
                place += 1
                if start - BESIDE_MS - at >= LONGEST_UNHEARD_MS:
                    yield self._told(cues, starts, (at, start))
                at = max(at, end + BESIDE_MS)
            if last - at >= LONGEST_UNHEARD_MS:
                yield self._told(cues, starts, (at, last))

    def _told(self, cues: Sequence[Cue], starts: Sequence[int], span: Span) -> Finding:
        start, end = span
        place = max(bisect_right(starts, start) - 1, 0)
        reason = f"{(end - start) / 1000:.1f} s of speech without text"
        return Finding(self.key, cues[place].id if cues else 0, start, reason)


class AtOnceCheck(Check):
    """Two people speak at once and nobody has proofed it: some words are easily missing."""

    key, title, group = "at-once", "two speak at once", SOUND

    def in_text(
        self, text: Transcript, context: CheckContext, memory: CheckMemory
    ) -> Iterator[Finding]:
        """Find the cues of the spans that the transcription told."""
        cues = [cue for cue in text.cues if cue.words]
        starts = [cue.start for cue in cues]
        for first, last in context.at_once:
            place = max(bisect_right(starts, first) - 1, 0)
            if cues and not cues[place].settled and cues[place].end > first:
                cue = cues[place]
                reason = f"two speak at once for {(last - first) / 1000:.1f} s"
                yield Finding(self.key, cue.id, first, reason, cue.text)


class DoubtCheck(Check):
    """A word below the confidence threshold that nobody has reviewed; alternatives are offered as
    fixes."""

    key, title, group, uses = "doubt", "uncertain word", SOUND, ("threshold",)

    def in_cue(self, around: Around) -> Iterator[Finding]:
        """Compare the confidence of each word with the threshold."""
        cue = around.cue
        for place, word in enumerate(cue.words):
            if word.is_doubt(around.context.threshold):
                reason = f"confidence {word.confidence:.0%}"
                old = (word.text,)
                fixes = (Reword(cue.id, place, old, one) for one in word.alternatives if one)
                yield self.at(cue, place, place + 1, reason, *fixes)


class NamelessSpeakerCheck(Check):
    """A speaker has no name, or a cue has no speaker where others have one; reported once each."""

    key, title, group = "speaker", "speaker without a name", SOUND

    def in_text(
        self, text: Transcript, context: CheckContext, memory: CheckMemory
    ) -> Iterator[Finding]:
        """Look at the first cue of each speaker."""
        seen: set[int | None] = set()
        nameless = {speaker.id for speaker in text.speakers if not speaker.name}
        named = len(nameless) < len(text.speakers)
        for cue in text.cues:
            if cue.speaker in seen or not cue.words:
                continue
            seen.add(cue.speaker)
            if cue.speaker in nameless:
                yield self.found(cue, "a speaker without a name")
            elif cue.speaker is None and named:
                yield self.found(cue, "nobody is said to speak here")

"""Keep the findings of the house style up to date while a person types, in a thread of its own."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import nullcontext
from dataclasses import dataclass, replace
from importlib import import_module
from time import monotonic, sleep
from typing import TYPE_CHECKING

from tamarind.application.contrastcheck import ContrastMeter
from tamarind.application.events import Event
from tamarind.application.session import Session
from tamarind.application.tasks import Tasks
from tamarind.checks.finding import Finding, Fix, PlacedFinding, mark_of, summary
from tamarind.formats.broadcast.smpte import PLAIN_TIMECODES, Timecodes
from tamarind.formats.format import Options
from tamarind.job.looks import ON_BOX
from tamarind.job.settings import (
    DISMISSED,
    EXPORT_DOCUMENTS,
    EXPORT_ENCODING,
    EXPORT_RATE,
    EXPORT_TIMECODE,
)
from tamarind.system.garbage import without_collecting
from tamarind.system.later import Later
from tamarind.transcript.model import Transcript

if TYPE_CHECKING:
    from tamarind.checks import catalogue, check, checker, fixing
    from tamarind.checks.check import CheckContext
    from tamarind.formats import documents
    from tamarind.speech import activity
else:
    catalogue = Later("tamarind.checks.catalogue")
    check = Later("tamarind.checks.check")
    checker = Later("tamarind.checks.checker")
    fixing = Later("tamarind.checks.fixing")
    documents = Later("tamarind.formats.documents")
    activity = Later("tamarind.speech.activity")

RESTS_MS = 450
"""Checks follow when typing has rested for so long."""

FIRST_AFTER_MS = 1_200
STEPS_ASIDE_S = 0.02
Span = tuple[int, int]


def _limited(suffixes: Sequence[str]) -> tuple[str, ...]:
    """Return the formats that cannot hold every cue."""
    known = documents.WRITTEN
    return tuple(one for one in suffixes if one in known and known[one].lacks is not None)


def _kept_timecodes(session: Session) -> Timecodes:
    """Read the job's timecode settings; plain ones if those make no sense."""
    get = session.settings.get
    try:
        return Timecodes.called(get(EXPORT_TIMECODE), get(EXPORT_RATE))
    except ValueError:
        return PLAIN_TIMECODES


@dataclass(frozen=True, slots=True)
class _Checked:
    """The findings of one text, with their counts."""

    transcript: Transcript
    told: tuple[PlacedFinding, ...]
    summary: str
    others: tuple[PlacedFinding, ...]
    """Without doubts, which the desk shows by themselves."""

    others_summary: str

    @classmethod
    def of(cls, transcript: Transcript, told: Sequence[PlacedFinding]) -> _Checked:
        """Count findings in the background thread, so that the window need not."""
        others = tuple(one for one in told if one.finding.rule != "doubt")
        return cls(transcript, tuple(told), summary(told), others, summary(others))


class Checking:
    """The findings of every recording that was asked for, and always of the shown one."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self.changed: Event[[int]] = Event()
        """There are new findings for a recording."""
        self._checkers: dict[int, checker.Checker] = {}
        self._found: dict[int, _Checked] = {}
        self._asked: dict[int, int] = {}
        self._number = 0
        self._closed = False
        self._hears = False
        self._typed_until = 0.0
        self._listened_to: set[int] = set()
        self._speech: dict[int, tuple[activity.Activity, tuple[Span, ...]]] = {}
        self._dismissed = dict.fromkeys(_by_recording(session), True)
        self._encoding = session.settings.get(EXPORT_ENCODING)
        self._files: tuple[tuple[str, ...], Options] | None = None
        self._tasks = Tasks(session.loop, "checking", latest_only=False)
        self._later = session.loop.timer(RESTS_MS, self._check_shown)
        self._at_first = session.loop.timer(FIRST_AFTER_MS, self._later.start)
        session.texts.changed.connect(self._document_changed)
        session.shown_changed.connect(self._later.start)
        session.doubts_changed.connect(self._later.start)
        session.recordings.list_changed.connect(self._recordings_changed)
        session.recordings.changed.connect(self._recording_changed)
        session.styles.changed.connect(self.start_afresh)
        session.on_demand.speech_found.connect(self._speech_found)
        session.looks.changed.connect(self.start_afresh)
        self._contrast_check = ContrastMeter(
            session.loop,
            session.recordings,
            session.texts,
            preview=session.preview,
            looks=session.looks,
            on_demand=session.on_demand,
        )
        self._contrast_check.changed.connect(self._picture_looked_at)
        self._is_loaded = False
        # The window comes first.
        self._at_first.start()

    def close(self) -> None:
        """Stop checking."""
        self._closed = True
        self._later.stop()
        self._at_first.stop()
        self._asked.clear()
        self._tasks.close()
        self._contrast_check.close()

    def findings(self, recording_id: int | None) -> list[PlacedFinding]:
        """Return the findings of a recording in order, without ignored ones."""
        found = self._found.get(recording_id) if recording_id is not None else None
        if found is None:
            return []
        assert recording_id is not None
        if not self._dismissed:
            return list(found.told)
        return [
            one for one in found.told if mark_of(recording_id, one.finding) not in self._dismissed
        ]

    def summary(self, recording_id: int) -> str:
        """Return the number of findings in words."""
        found = self._found.get(recording_id)
        if found is not None and not self._dismissed:
            return found.summary
        return summary(self.findings(recording_id))

    def beside_doubts(self, recording_id: int) -> tuple[Sequence[PlacedFinding], str]:
        """Return the findings that are not doubts, and their number in words."""
        found = self._found.get(recording_id)
        if found is not None and not self._dismissed:
            return found.others, found.others_summary
        told = [one for one in self.findings(recording_id) if one.finding.rule != "doubt"]
        return told, summary(told)

    def is_known(self, recording_id: int) -> bool:
        """Whether the findings are those of the current text."""
        found = self._found.get(recording_id)
        return found is not None and found.transcript is self._session.texts.transcript(
            recording_id
        )

    def check(self, recording_ids: Sequence[int]) -> None:
        """Bring the findings of these recordings up to date; ``changed`` is emitted for each."""
        for key in recording_ids:
            if not self.is_known(key) and self._session.texts.transcript(key).cues:
                self._start(key)

    def listen(self) -> None:
        """Check texts against the sound from now on, measuring first where somebody speaks."""
        if not self._hears:
            self._hears = True
            self._later.start()

    def fix(self, recording_id: int, fixes: Sequence[Fix], label: str) -> int:
        """Apply fixes as one step of undo; return how many still fitted the text."""
        text = self._session.texts.transcript(recording_id)
        limits = self._session.styles.limits_of(recording_id)
        new, made = fixing.fixed(text, fixes, limits)
        if made:
            self._session.texts.edit(recording_id, label, new)
        return made

    def dismiss(self, recording_id: int, finding: Finding) -> None:
        """Ignore a finding in this recording for as long as its words stay the same."""
        self._dismissed[mark_of(recording_id, finding)] = True
        self._session.settings.keep(DISMISSED, tuple(self._dismissed))
        self.changed.emit(recording_id)

    def dismissed_count(self) -> int:
        """Return how many findings are ignored in this job."""
        return len(self._dismissed)

    def restore_dismissed(self) -> None:
        """Report ignored findings again."""
        self._dismissed.clear()
        self._session.settings.keep(DISMISSED, ())
        self._later.start()
        if self._session.shown is not None:
            self.changed.emit(self._session.shown)

    def set_files(self, suffixes: Sequence[str], options: Options) -> None:
        """Say which files will be written, so that what they cannot hold is found."""
        only = replace(
            documents.USUAL,
            timecodes=options.timecodes,
            rows=options.rows,
            painted=options.painted,
        )
        now = _limited(suffixes), only
        if (now, options.bytes.encoding) != (self._written(), self._encoding):
            self._files, self._encoding = now, options.bytes.encoding
            self.start_afresh()

    def _written(self) -> tuple[tuple[str, ...], Options]:
        """Return the files to be written that cannot hold every cue, with their encoding and
        timecodes."""
        if self._files is None:
            only = replace(documents.USUAL, timecodes=_kept_timecodes(self._session))
            chosen = self._session.settings.get(EXPORT_DOCUMENTS)
            self._files = _limited(chosen), only
        return self._files

    def context(self, recording_id: int) -> CheckContext:
        """Return what a recording's text is checked with."""
        session = self._session
        recording = session.recordings.get(recording_id)
        terms = tuple(term.text for term in session.styles.glossary_of(recording).terms)
        tracks = session.texts.document(recording_id).tracks
        measured = session.on_demand.speech(recording_id) if self._listens(recording_id) else None
        speech = None
        if measured is not None:
            self._listened_to.add(recording_id)
            speech = self._spans(recording_id, measured)
        files, file_options = self._written()
        return check.CheckContext(
            session.styles.of(recording),
            tracks=tracks,
            terms=terms,
            speech=speech,
            unheard=recording.unheard,
            threshold=session.threshold,
            encoding=self._encoding,
            files=files,
            file_options=file_options,
            track_limits={
                one.language: session.styles.limits_of(recording_id, one.language) for one in tracks
            },
            at_once=recording.at_once,
            contrasts=self._contrast_check.of(recording_id),
            readable=ON_BOX,
        )

    def _spans(self, recording_id: int, measured: activity.Activity) -> tuple[Span, ...]:
        """Return when somebody speaks (ms), computed once for each measurement."""
        kept = self._speech.get(recording_id)
        if kept is None or kept[0] is not measured:
            found = tuple(activity.in_ms(activity.find_speech(measured)))
            kept = self._speech[recording_id] = measured, found
        return kept[1]

    def _listens(self, recording_id: int) -> bool:
        return self._hears and self._session.sounds.has(recording_id)

    def _document_changed(self, recording_id: int) -> None:
        if recording_id == self._session.shown:
            self._typed_until = monotonic() + RESTS_MS / 1000
            self._later.start()

    def _recording_changed(self, recording_id: int) -> None:
        """Check again, since the recording's sound may be decoded now."""
        waits = self._hears and recording_id not in self._listened_to
        if waits and recording_id == self._session.shown and self._listens(recording_id):
            self._later.start()

    def _recordings_changed(self) -> None:
        for kept in (self._checkers, self._found, self._speech):
            for key in [key for key in kept if not self._session.recordings.has(key)]:
                del kept[key]
        self._later.start()

    def _speech_found(self, recording_id: int) -> None:
        if self._hears:
            self._found.pop(recording_id, None)
            self._later.start()

    def _picture_looked_at(self, recording_id: int) -> None:
        if not self._closed and self._session.recordings.has(recording_id):
            self._start(recording_id)

    def start_afresh(self) -> None:
        """Drop all findings, since the rules have changed."""
        self._found.clear()
        self._later.start()

    def _check_shown(self) -> None:
        if not self._is_loaded:
            # What checks need takes half a second to load, which nobody is to wait for.
            self._tasks.run(_load, self._loaded)
            return
        shown = None if self._closed else self._session.shown
        if shown is not None and self._session.texts.transcript(shown).cues:
            self._start(shown)
        elif shown is not None:
            self.changed.emit(shown)

    def _loaded(self, _nothing: None) -> None:
        self._is_loaded = True
        self._check_shown()

    def _start(self, key: int) -> None:
        self._number += 1
        number = self._asked[key] = self._number
        own = self._checkers.setdefault(key, checker.Checker())
        transcript, context = self._session.texts.transcript(key), self.context(key)
        is_known = key in self._found

        def stopped() -> bool:
            # While somebody types, Python's lock belongs to the window.
            while self._asked.get(key) == number and monotonic() < self._typed_until:
                sleep(STEPS_ASIDE_S)
            return self._asked.get(key) != number

        def work() -> _Checked | None:
            if stopped():
                return None
            # What all of a text comes to at first is a hundred thousand small values, which stay.
            with nullcontext() if is_known else without_collecting():
                told = own.check(transcript, context, stopped)
                return _Checked.of(transcript, told)

        def failed(sentence: str) -> None:
            # A checker that failed half way may know what is not so.
            self._checkers.pop(key, None)
            self._session.trouble.emit(sentence)
            self._take(key, number, _Checked.of(transcript, ()))

        self._tasks.run(work, lambda checked: self._take(key, number, checked), failed)

    def _take(self, key: int, number: int, checked: _Checked | None) -> None:
        wanted = self._asked.get(key) == number and self._session.recordings.has(key)
        if wanted and checked is not None:
            self._found[key] = checked
            self.changed.emit(key)


def _load() -> None:
    """Import the modules of the checks."""
    for name in ("checks.checker", "checks.fixing", "formats.documents", "speech.activity"):
        import_module(f"tamarind.{name}")


def _by_recording(session: Session) -> list[str]:
    """Return the keys of ignored findings by recording. Earlier versions did not say of which
    recording; theirs count for each."""
    keys = [recording.id for recording in session.recordings.all()]
    return [
        whole
        for mark in session.settings.get(DISMISSED)
        for whole in ([mark] if mark[:1].isdigit() else [f"{key}|{mark}" for key in keys])
    ]


def said(told: PlacedFinding) -> str:
    """Describe a finding in a few words."""
    return catalogue.CHECKS[told.finding.rule].title

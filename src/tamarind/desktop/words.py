"""The words for a recording's state, the same on every page."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from tamarind.application.session import Session
from tamarind.audio.media import MediaInfo
from tamarind.batch.timeleft import human
from tamarind.desktop.intake.hearing_fields import differing
from tamarind.formats.timecode import clock
from tamarind.job.recording import Recording, State
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.languageguess import speaks_against
from tamarind.transcript.languages import UNDETERMINED, name_of
from tamarind.transcript.survey import Survey

SECONDS_A_WORD = 0.55
SECONDS_A_DOUBT = 6.0
"""A word is listened to once, with pauses; a doubt is gone back to."""

MOST_LISTED = 3

QUIET_DB, VERY_QUIET_DB = -36.0, -46.0

_CLEAN = {True: "noise reduction", False: "no noise reduction"}


def listed(names: Sequence[str]) -> str:
    """Return the first few of some names, and how many more there are."""
    more = f" and {len(names) - MOST_LISTED} more" if len(names) > MOST_LISTED else ""
    return f"{', '.join(names[:MOST_LISTED])}{more}"


@dataclass(frozen=True, slots=True)
class RecordingState:
    """A state in two or three words, a fuller line, whether it needs attention, the share
    proofed."""

    text: str
    detail: str
    needs_attention: bool
    proofed: float


def stage_of(session: Session, recording: Recording) -> RecordingState:
    """Return a recording's state."""
    if recording.state is State.FAILED:
        return RecordingState("Cannot be transcribed", recording.problem or "", True, 0.0)
    if recording.state is State.ARRIVED:
        return RecordingState("Reading the file…", "", False, 0.0)
    queue = session.queue
    if recording.state is not State.READY and speaks_against(
        recording.guesses, *recording.how.languages
    ):
        chosen = name_of(recording.language)
        return RecordingState(
            "Another language?",
            f"sounds like {recording.guesses[0]}, transcribed as {chosen}",
            True,
            0.0,
        )
    if queue.is_being_heard(recording.id):
        return _being_heard(session, recording)
    place = queue.place_in_queue(recording.id)
    if place is not None:
        text = "Next" if place == 1 else f"Waiting, {_ordinal(place)} in the queue"
        if queue.paused:
            return RecordingState(text, "the batch is paused", False, 0.0)
        return RecordingState(text, "in the queue", False, 0.0)
    return _of_text(session, recording)


def _of_text(session: Session, recording: Recording) -> RecordingState:
    """Return the state of a recording that is neither being transcribed nor queued."""
    if recording.state is State.STOPPED:
        why = recording.problem or "transcribe to continue from there"
        return RecordingState(
            f"Stopped at {recording.heard_share:.0%}", why, bool(recording.problem), 0.0
        )
    if not session.texts.transcript(recording.id).cues:
        if recording.state is State.DRAFT:
            return RecordingState(
                "No speech found", recording.problem or "nothing to proof", False, 0.0
            )
        return RecordingState(
            "Not transcribed yet", recording.problem or "", bool(recording.problem), 0.0
        )
    survey = session.survey(recording.id)
    words, doubts, share = survey.words(), survey.doubt_count(), survey.proofed_share()
    facts = [f"{words:,}".replace(",", " ") + " words", _doubts(doubts)]
    if share < 1:
        facts.append(f"{human(proofing_seconds(survey))} to proof")
    detail = recording.problem or " · ".join(facts)
    delivered = session.clients.delivered(recording.id)
    if delivered.when:
        changed = session.clients.is_changed_since(recording.id)
        text = "Changed since delivery" if changed else "Delivered"
        return RecordingState(text, f"{delivered.day} · {detail}", changed, share)
    if share >= 1:
        return RecordingState("Proofed", detail, False, 1.0)
    if doubts:
        left = f"{doubts} to review" if share > 0 else "Draft ready"
        return RecordingState(left, detail, share > 0, share)
    return RecordingState("Draft ready", detail, False, share)


def _being_heard(session: Session, recording: Recording) -> RecordingState:
    news = session.queue.progress(recording.id)
    if news is None:
        sought = session.queue.voices_sought(recording.id)
        detail = "finding speech" if sought is None else f"detecting speakers, {sought:.0%}"
        return RecordingState("Transcribing…", detail, False, 0.0)
    work = news.work
    speed = work.recorded / max(work.seconds, 0.1)
    detail = f"{human(work.left)} left · {speed:.0f}× real time"
    return RecordingState(f"Transcribing… {work.share:.0%}", detail, False, 0.0)


def proofing_seconds(survey: Survey) -> float:
    """Estimate how long a careful person takes for what is not proofed yet."""
    left = survey.words() * (1 - survey.proofed_share())
    return left * SECONDS_A_WORD + survey.doubt_count() * SECONDS_A_DOUBT


def level_in_words(info: MediaInfo) -> str:
    """Return what is unusual about a recording's level, or ""."""
    if info.clipped:
        return "too loud, peaks cut off"
    if info.loud_db is None:
        return ""
    if info.loud_db < VERY_QUIET_DB:
        return "very quiet"
    return "quiet" if info.loud_db < QUIET_DB else ""


def differences(
    recording: Recording, how: HearingOptions, style: str, style_name: str = ""
) -> list[str]:
    """Return in a word or two how a recording's settings differ from the job's.

    ``style`` is the key of theirs, ``style_name`` what its own is called.
    """
    own = recording.how
    if how.language == UNDETERMINED and recording.guesses:
        # What was found out is said already.
        how = replace(how, language=own.language)
    words = differing(own, how)
    if own.recogniser != how.recogniser:
        words.append(own.recogniser.rsplit("/", 1)[-1])
    if own.source.clean != how.source.clean:
        words.append(_CLEAN[own.source.clean])
    if recording.style != style:
        words.append(style_name)
    if recording.part != (0, None):
        words.append(f"{_time(recording.part[0])} to {_time(recording.part_end)}")
    return words


def _time(time: int) -> str:
    return clock(time, 0, hours=False)


def _doubts(count: int) -> str:
    return (
        "no uncertain words"
        if not count
        else "1 uncertain word"
        if count == 1
        else f"{count} uncertain words"
    )


def _ordinal(number: int) -> str:
    if number % 100 in (11, 12, 13):
        return f"{number}th"
    return f"{number}{({1: 'st', 2: 'nd', 3: 'rd'}).get(number % 10, 'th')}"

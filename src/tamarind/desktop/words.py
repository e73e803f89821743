"""What is said of a recording's state, in the same words on every screen."""

from __future__ import annotations

from dataclasses import dataclass

from tamarind.batch.timeleft import human, seconds_left
from tamarind.desktop.session import Session
from tamarind.job.recording import Recording, State


@dataclass(frozen=True, slots=True)
class Stage:
    """A state in two or three words, a fuller line, whether it asks for help, share proofed."""

    text: str
    detail: str
    is_plum: bool
    proofed: float


def stage_of(session: Session, recording: Recording) -> Stage:
    """How far a recording is."""
    if recording.state is State.FAILED:
        return Stage("Cannot be heard", recording.problem or "", True, 0.0)
    if recording.state is State.ARRIVED:
        return Stage("Looking at it…", "", False, 0.0)
    if session.is_being_heard(recording.id):
        return _being_heard(session, recording)
    place = session.place_in_line(recording.id)
    if place is not None:
        text = "Next" if place == 1 else f"Waiting, {_ordinal(place)} in line"
        return Stage(text, "as soon as the one before is done", False, 0.0)
    transcript = session.transcript(recording.id)
    if recording.state is State.STOPPED:
        why = recording.problem or "transcribe again to go on from there"
        return Stage(f"Stopped at {recording.heard_share:.0%}", why, bool(recording.problem), 0.0)
    if not transcript.cues:
        if recording.state is State.DRAFT:
            return Stage("No speech found", recording.problem or "nothing to proof", False, 0.0)
        return Stage("Not heard yet", recording.problem or "", bool(recording.problem), 0.0)
    survey = session.survey(recording.id)
    words, doubts, share = survey.words(), len(survey.doubts()), survey.proofed_share()
    detail = recording.problem or f"{words:,} words · {_doubts(doubts)}".replace(",", " ")
    if share >= 1:
        return Stage("Proofed", detail, False, 1.0)
    if doubts:
        left = f"{_doubts(doubts)} left" if share > 0 else "Draft ready"
        return Stage(left, detail, share > 0, share)
    return Stage("Draft ready", detail, False, share)


def _being_heard(session: Session, recording: Recording) -> Stage:
    news = session.progress(recording.id)
    if news is None:
        return Stage("Hearing…", "finding speech", False, 0.0)
    event, began = news
    share, left = seconds_left(event, began)
    speed = (event.until - began) / 1000 / max(event.seconds, 0.1)
    detail = f"{human(left)} left · {speed:.0f}× real time"
    return Stage(f"Hearing… {share:.0%}", detail, False, 0.0)


def _doubts(count: int) -> str:
    return "no doubts" if not count else "1 doubt" if count == 1 else f"{count} doubts"


def _ordinal(number: int) -> str:
    if number % 100 in (11, 12, 13):
        return f"{number}th"
    return f"{number}{({1: 'st', 2: 'nd', 3: 'rd'}).get(number % 10, 'th')}"

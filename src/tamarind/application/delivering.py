"""Gather what each client of the open job gets."""

from __future__ import annotations

from tamarind.application.session import Session
from tamarind.job.delivery import Parcel, ToDeliver, parcels
from tamarind.job.settings import DISMISSED


def parcels_of(session: Session) -> list[Parcel]:
    """Return what each client gets of the recordings of the job as they are now."""
    marks: tuple[str, ...] = session.settings.get(DISMISSED)
    ignored = frozenset(marks)
    recordings = session.recordings.all()
    works = [
        ToDeliver(
            recording,
            session.texts.document(recording.id),
            session.styles.of(recording),
            session.looks.of(recording.id),
            session.clients.about(recording.id),
            tuple(term.text for term in session.styles.glossary_of(recording).terms),
            ignored,
        )
        for recording in recordings
    ]
    return parcels(works, {one.id: session.clients.of(one.id) for one in recordings})

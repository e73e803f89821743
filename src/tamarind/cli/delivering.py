"""``tamarind deliver``: write what each client of a job wants into a folder."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from pathlib import Path

from tamarind.checks.finding import summary
from tamarind.cli.clients import client_of
from tamarind.cli.jobs import open_job
from tamarind.cli.output import tell, told
from tamarind.cli.statuses import DONE, SOME_FAILED, WRONG_USE
from tamarind.job.about import about
from tamarind.job.client import Client
from tamarind.job.delivery import Parcel, ToDeliver, deliver, parcels
from tamarind.job.dressing import dressing_of
from tamarind.job.jobfile import JobError
from tamarind.job.recording import Recording
from tamarind.job.settings import CLIENT, DELIVERED, DETAILS, DISMISSED, GLOSSARY, JOB_CLIENTS
from tamarind.job.store import JobStore
from tamarind.speech.glossary import terms_of
from tamarind.system.errors import ToldError
from tamarind.system.files import shown


def deliver_job(options: argparse.Namespace) -> int:
    """Deliver the texts of a job; return the exit status."""
    if not options.job.exists():
        return told(f"“{options.job}” is no job: there is no such file.", WRONG_USE)
    named = client_of(options)
    if options.client and named is None:
        return WRONG_USE
    try:
        opened = open_job(options.job)
    except JobError as error:
        return told(error, SOME_FAILED)
    try:
        for sentence in opened.told:
            tell(sentence)
        found = _parcels(opened.store, named)
        if not found:
            return told("No recording of the job has such a client: --client says one.", WRONG_USE)
        folder = options.output or options.job.absolute().parent
        return max(_deliver(opened.store, one, folder, options.overwrite) for one in found)
    finally:
        opened.store.close()


def _parcels(store: JobStore, named: Client | None) -> list[Parcel]:
    """Return what each client gets, or what the ``named`` one does: its recordings, or all where no
    recording has a client."""
    recordings = store.recordings()
    clients = _clients(store, recordings)
    works = [_work(store, one, clients[one.id] or named) for one in recordings]
    if named is not None and not any(clients.values()):
        clients = dict.fromkeys(clients, named)
        works = [replace(one, style=named.style, look=named.look or one.look) for one in works]
    elif named is not None:
        clients = {
            key: named if one is not None and one.name == named.name else None
            for key, one in clients.items()
        }
    return parcels(works, clients)


def _clients(store: JobStore, recordings: Sequence[Recording]) -> dict[int, Client | None]:
    known = JOB_CLIENTS.of(store.setting(JOB_CLIENTS.key))
    return {
        one.id: known.get(CLIENT.of(store.setting(CLIENT.numbered(one.id).key)))
        for one in recordings
    }


def _work(store: JobStore, recording: Recording, client: Client | None) -> ToDeliver:
    settings = store.settings()
    dressing = dressing_of(recording, settings)
    terms = [
        *GLOSSARY.of(settings.get(GLOSSARY.key)).terms,
        *terms_of(dressing.style.wording.terms).terms,
    ]
    return ToDeliver(
        recording,
        store.document(recording.id),
        dressing.style,
        dressing.look,
        about(DETAILS.of(settings.get(DETAILS.numbered(recording.id).key)), client),
        tuple(term.text for term in terms),
        frozenset(DISMISSED.of(settings.get(DISMISSED.key))),
    )


def _deliver(store: JobStore, parcel: Parcel, into: Path, overwrite: bool) -> int:
    """Deliver to one client, and note that; return the exit status."""
    name = parcel.client.name
    when = datetime.now()
    try:
        files = parcel.files(f"{when:%Y-%m-%d}")
        there = [one for one in files if (into / parcel.folder / one.name).exists()]
        if there and not overwrite:
            target = shown(str(into / parcel.folder / there[0].name))
            return told(f"{name}: {target} already exists; --overwrite replaces it.", SOME_FAILED)
        made = deliver(parcel, into, when)
    except ToldError as error:
        return told(f"{name}: {error}", SOME_FAILED)
    except OSError as error:
        return told(f"{name}: “{into}” cannot be written: {error.strerror}.", SOME_FAILED)
    for path in made.files:
        tell(shown(str(path)))
    for sentence in parcel.left_to_do():
        tell(f"{name}: {sentence}")
    for work in parcel.works:
        found = [o for o in made.found.get(work.recording.id, ()) if o.finding.rule != "doubt"]
        if found:
            tell(f"{name}: {work.recording.name}: {summary(found)}")
    with store.together():
        for key, delivered in made.delivered.items():
            store.set_setting(DELIVERED.numbered(key).key, DELIVERED.write(delivered))
    status = SOME_FAILED if parcel.missing() else DONE
    for sentence in made.failed:
        status = told(f"{name}: {sentence}", SOME_FAILED)
    return status

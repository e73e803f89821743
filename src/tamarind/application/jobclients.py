"""The clients that the open job knows, which recording is for whom, and what was delivered."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from tamarind.application.joblooks import JobLooks
from tamarind.application.jobsettings import JobSettings
from tamarind.application.jobstyles import JobStyles
from tamarind.application.keptsets import KeptSets
from tamarind.application.recordings import Recordings
from tamarind.application.texts import Texts
from tamarind.job.client import CLIENTS, Client
from tamarind.job.delivered import Delivered, digest_of
from tamarind.job.document import Document
from tamarind.job.recording import Recording
from tamarind.job.settings import (
    CLIENT,
    DELIVERED,
    DETAILS,
    EXPORT_CLIENT,
    EXPORT_DOCUMENTS,
    EXPORT_ENCODING,
    EXPORT_LOOK,
    EXPORT_NAMES,
    EXPORT_NUMBERED,
    JOB_CLIENTS,
)
from tamarind.system.later import Later

if TYPE_CHECKING:
    from tamarind.job import about as abouts
    from tamarind.job.about import About
else:
    # Wanted when documents are written.
    abouts = Later("tamarind.job.about")


class JobClients(KeptSets[Client]):
    """Choosing a client for recordings gives them its house style, caption style and languages."""

    def __init__(
        self,
        settings: JobSettings,
        recordings: Recordings,
        texts: Texts,
        *,
        styles: JobStyles,
        looks: JobLooks,
    ) -> None:
        super().__init__(settings, JOB_CLIENTS, CLIENTS)
        self._recordings, self._texts = recordings, texts
        self._styles, self._looks = styles, looks
        self._digests: dict[int, tuple[Document, str]] = {}

    def key_of(self, recording_id: int | None) -> str:
        """Return the key of a recording's client, or of that of new recordings; "" for none."""
        setting = CLIENT if recording_id is None else CLIENT.numbered(recording_id)
        key = self._settings.get(setting)
        return key if key in self._own else ""

    def of(self, recording_id: int) -> Client | None:
        """Return a recording's client, with its styles as they are now."""
        client = self._own.get(self.key_of(recording_id))
        if client is None:
            return None
        style = self._styles.own().get(client.style_key, client.style)
        look = self._looks.own().get(client.look_key, client.look)
        return replace(client, style=style, look=look)

    def choose(self, recording_ids: Sequence[int], key: str) -> None:
        """Set the client of recordings, "" for none; with no recordings, that of new ones."""
        self.hold(key)
        client = self._own.get(key)
        if client is not None:
            self._hold_styles(client)
        for recording_id in recording_ids:
            self._settings.keep(CLIENT.numbered(recording_id), key)
        everyone = [recording.id for recording in self._recordings.all()]
        if not recording_ids or {self.key_of(one) for one in everyone} == {key}:
            self._settings.keep(CLIENT, key)
            if client is not None:
                self._write_as(client)
        if client is not None:
            self._dress(recording_ids, client)
        self._recordings.list_changed.emit()
        self.changed.emit()

    def take(self, recordings: Sequence[Recording]) -> None:
        """Give new recordings the client of new recordings, if there is one."""
        key = self.key_of(None)
        if key and recordings:
            self.choose([recording.id for recording in recordings], key)

    def _hold_styles(self, client: Client) -> None:
        """Keep a client's styles with the job, unless it has them."""
        client = client.as_kept()
        if client.style_key not in self._styles.all():
            self._styles.keep(client.style_key, client.style)
        if client.look is not None and client.look_key not in self._looks.all():
            self._looks.keep(client.look_key, client.look)

    def _dress(self, recording_ids: Sequence[int], client: Client) -> None:
        self._styles.choose(recording_ids, client.style_key)
        if client.look is not None and recording_ids:
            self._looks.choose(client.look_key, recording_ids)
        spoken = client.delivery.spoken
        for recording in map(self._recordings.get, recording_ids):
            # The language of what is transcribed already stays.
            if spoken and not self._texts.transcript(recording.id).cues:
                how = replace(recording.how, language=spoken[0], others=spoken[1:])
                self._recordings.change(replace(recording, how=how))

    def _write_as(self, client: Client) -> None:
        """Let the Export page begin with what the client wants."""
        delivery = client.delivery
        keep = self._settings.keep
        keep(EXPORT_DOCUMENTS, delivery.documents)
        keep(EXPORT_NAMES, delivery.names)
        keep(EXPORT_CLIENT, client.name)
        keep(EXPORT_ENCODING, delivery.encoding)
        keep(EXPORT_LOOK, delivery.look)
        keep(EXPORT_NUMBERED, delivery.numbered)

    # What documents say of a recording

    def details(self, recording_id: int) -> dict[str, str]:
        """Return title, date and header fields of a recording's documents, by their names; those
        that its client wants are there, empty or not."""
        client = self.of(recording_id)
        wanted = dict.fromkeys(client.delivery.fields if client is not None else (), "")
        return wanted | self._settings.get(DETAILS.numbered(recording_id))

    def set_details(self, recording_id: int, details: Mapping[str, str]) -> None:
        """Set title, date and header fields."""
        self._settings.keep(DETAILS.numbered(recording_id), dict(details))
        self.changed.emit()

    def about(self, recording_id: int) -> About:
        """Return what documents say of a recording."""
        return abouts.about(self.details(recording_id), self.of(recording_id))

    # What was delivered

    def delivered(self, recording_id: int) -> Delivered:
        """Return what was last delivered of a recording."""
        return self._settings.get(DELIVERED.numbered(recording_id))

    def note_delivered(self, recording_id: int, delivered: Delivered) -> None:
        """Keep what was delivered of a recording."""
        self._settings.keep(DELIVERED.numbered(recording_id), delivered)
        self._recordings.list_changed.emit()

    def is_changed_since(self, recording_id: int) -> bool:
        """Whether a text has changed since it was delivered."""
        delivered = self.delivered(recording_id)
        if not delivered.when:
            return False
        document = self._texts.document(recording_id)
        known = self._digests.get(recording_id)
        if known is None or known[0] is not document:
            known = self._digests[recording_id] = document, digest_of(document)
        return known[1] != delivered.digest

    def forget(self, recording_id: int) -> None:
        """Drop what is kept of a recording that was removed, since another may get its number."""
        self._digests.pop(recording_id, None)
        self._settings.keep(CLIENT.numbered(recording_id), "")
        self._settings.keep(DELIVERED.numbered(recording_id), Delivered())
        self._settings.keep(DETAILS.numbered(recording_id), {})

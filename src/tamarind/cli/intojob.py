"""``tamarind transcribe --job``: add recordings and their drafts to a job."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from tamarind.cli.jobs import open_job
from tamarind.cli.output import tell
from tamarind.job.client import CLIENTS, Client
from tamarind.job.document import Document
from tamarind.job.recording import Recording, State
from tamarind.job.settings import CLIENT, JOB_CLIENTS, JOB_LOOKS, JOB_STYLES, LOOK
from tamarind.language.housestyle import HouseStyle
from tamarind.language.stylebook import SHIPPED, STYLES
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.transcript.model import Transcript

Section = tuple[int, int | None]
Span = tuple[int, int]


class IntoJob:
    """An open job that takes transcribed recordings; a text that it has is never replaced."""

    def __init__(self, path: Path, style: HouseStyle, client: Client | None) -> None:
        """Raises JobError."""
        opened = open_job(path)
        for sentence in opened.told:
            tell(sentence)
        self._store = opened.store
        self._look = ""
        self._style = self._keep(style)
        self._client = "" if client is None else self._keep_client(client)

    def _keep(self, style: HouseStyle) -> str:
        """Keep a style of the person's own with the job; return its key there."""
        shipped = next((key for key, one in SHIPPED.items() if one == style), None)
        if shipped is not None:
            return shipped
        kept = JOB_STYLES.of(self._store.setting(JOB_STYLES.key))
        key = STYLES.key_of(style.name)
        kept[key] = style
        self._store.set_setting(JOB_STYLES.key, JOB_STYLES.write(kept))
        return key

    def _keep_client(self, client: Client) -> str:
        """Keep a client with the job; return its key there."""
        kept = JOB_CLIENTS.of(self._store.setting(JOB_CLIENTS.key))
        key = CLIENTS.key_of(client.name)
        kept[key] = client
        self._store.set_setting(JOB_CLIENTS.key, JOB_CLIENTS.write(kept))
        if client.look is not None:
            looks = JOB_LOOKS.of(self._store.setting(JOB_LOOKS.key))
            looks[client.look_key] = client.look
            self._store.set_setting(JOB_LOOKS.key, JOB_LOOKS.write(looks))
        self._look = client.look_key
        return key

    def _known(self, path: Path) -> Recording | None:
        wanted = path.absolute()
        return next((one for one in self._store.recordings() if one.path == wanted), None)

    def has_text(self, path: Path) -> bool:
        """Whether the job has a text of this recording already."""
        known = self._known(path)
        return known is not None and bool(self._store.document(known.id).transcript.cues)

    def take(
        self,
        path: Path,
        text: Transcript,
        how: HearingOptions,
        *,
        section: Section,
        duration: int,
        mark: str,
        unheard: Sequence[Span],
    ) -> None:
        """Add a recording with its draft; ``duration`` (ms) and fingerprint are those of its
        file."""
        recording = self._known(path) or self._store.add_recording(path, how, self._style)
        end = duration if section[1] is None else min(section[1], duration)
        recording = replace(
            recording,
            how=how,
            style=self._style,
            duration=duration,
            fingerprint=mark,
            state=State.DRAFT,
            part=section,
            heard_until=end,
            unheard=tuple(unheard),
        )
        if self._client:
            self._store.set_setting(CLIENT.numbered(recording.id).key, self._client)
            self._store.set_setting(LOOK.numbered(recording.id).key, self._look)
        before = self._store.document(recording.id)
        self._store.save_heard(recording, before, Document(text), heard=text.cues, afresh=True)

    def close(self) -> None:
        """Close the job."""
        self._store.close()

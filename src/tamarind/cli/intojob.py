"""``tamarind transcribe --job``: add recordings and their drafts to a job."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from tamarind.cli.jobs import open_job
from tamarind.cli.output import tell
from tamarind.job.document import Document
from tamarind.job.recording import Recording, State
from tamarind.job.settings import JOB_STYLES
from tamarind.language.housestyle import HouseStyle
from tamarind.language.stylebook import SHIPPED
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.transcript.model import Transcript

Section = tuple[int, int | None]
Span = tuple[int, int]


class IntoJob:
    """An open job that takes transcribed recordings; a text that it has is never replaced."""

    def __init__(self, path: Path, style: HouseStyle, named: str) -> None:
        """``style`` is the house style that was given as ``named``. Raises JobError."""
        opened = open_job(path)
        for sentence in opened.told:
            tell(sentence)
        self._store = opened.store
        self._style = self._keep(style, named)

    def _keep(self, style: HouseStyle, named: str) -> str:
        """Keep a style of the person's own with the job; return its key there."""
        if named in SHIPPED:
            return named
        kept = JOB_STYLES.of(self._store.setting(JOB_STYLES.key))
        kept[style.name] = style
        self._store.set_setting(JOB_STYLES.key, JOB_STYLES.write(kept))
        return style.name

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
        before = self._store.document(recording.id)
        self._store.save_heard(recording, before, Document(text), heard=text.cues, afresh=True)

    def close(self) -> None:
        """Close the job."""
        self._store.close()

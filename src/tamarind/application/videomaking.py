"""Videos and files of excerpts that are made in the background, one after the other."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING

from tamarind.application.events import Event
from tamarind.application.loop import Loop
from tamarind.application.tasks import Tasks
from tamarind.audio.media import MediaError
from tamarind.system.files import write_whole

if TYPE_CHECKING:
    from tamarind.batch.videos import Order

SideFile = tuple[Path, Callable[[], bytes]]
"""A caption file beside a video, and what makes its bytes."""


class Stage(StrEnum):
    """How far a video is."""

    WAITING = "waiting"
    MAKING = "making"
    DONE = "done"
    FAILED = "failed"
    CANCELLED = "cancelled"


@dataclass(slots=True, eq=False)
class Video:
    """One that was asked for; ``share`` (0 to 1) of it is made, ``left`` seconds may be left."""

    order: Order
    beside: Sequence[SideFile] = ()
    stage: Stage = Stage.WAITING
    share: float = 0.0
    left: float | None = None
    problem: str = ""
    begun: float = field(default=0.0)


class VideoMaking:
    """What fails does not stop the others; what is cancelled leaves nothing."""

    def __init__(self, loop: Loop, make: Callable[..., None] | None = None) -> None:
        """``make`` is what makes a video, as ``make_elsewhere`` of the batch does."""
        self._loop, self._make = loop, make
        self._tasks = Tasks(loop, "making a video", latest_only=False)
        self.videos: list[Video] = []
        self.changed: Event[[]] = Event()
        self._closed = False

    @property
    def is_busy(self) -> bool:
        """Whether any is being made or waits."""
        return any(one.stage in (Stage.WAITING, Stage.MAKING) for one in self.videos)

    def add(self, orders: Sequence[tuple[Order, Sequence[SideFile]]]) -> None:
        """Make these after those that wait; those that have ended are forgotten."""
        if not self.is_busy:
            self.videos.clear()
        for order, beside in orders:
            video = Video(order, beside)
            self.videos.append(video)
            self._tasks.run(lambda video=video: self._work(video), self._ended)  # type: ignore[misc]
        self.changed.emit()

    def cancel(self) -> None:
        """Give up the one that is being made and all that wait."""
        for video in self.videos:
            if video.stage in (Stage.WAITING, Stage.MAKING):
                video.stage = Stage.CANCELLED
        self.changed.emit()

    def close(self) -> None:
        """The program ends."""
        self._closed = True
        self.cancel()
        self._tasks.close()

    def _work(self, video: Video) -> Video:
        """In the thread."""
        if video.stage is Stage.CANCELLED or self._closed:
            return video
        from tamarind.batch.videos import CancelledError, make_elsewhere  # slow to import

        make = self._make or make_elsewhere
        video.stage, video.begun = Stage.MAKING, time.monotonic()
        self._loop.post(self.changed.emit)
        try:
            for path, made in video.beside:
                write_whole(path, made())
            make(
                video.order,
                lambda share: self._told(video, share),
                lambda: video.stage is Stage.MAKING and not self._closed,
            )
        except CancelledError:
            video.stage = Stage.CANCELLED
        except MediaError as error:
            video.stage, video.problem = Stage.FAILED, str(error)
        except OSError as error:
            video.stage, video.problem = Stage.FAILED, f"{error.strerror or error}."
        else:
            video.stage, video.share = Stage.DONE, 1.0
        return video

    def _told(self, video: Video, share: float) -> None:
        passed = time.monotonic() - video.begun
        video.share = share
        video.left = passed / share * (1 - share) if share > 0.01 else None
        self._loop.post(self.changed.emit)

    def _ended(self, _video: Video) -> None:
        self.changed.emit()

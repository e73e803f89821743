"""Write a copy of a recording with chapter marks that players show."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

from tamarind.audio.media import MediaError
from tamarind.formats.data.chapters import Chapter
from tamarind.picture.chaptermarks import add_chapters


@dataclass(frozen=True, slots=True)
class ChapterOrder:
    """``target`` has the recording's suffix, since its streams are copied."""

    media: Path
    target: Path
    chapters: Sequence[Chapter]

    @property
    def targets(self) -> list[Path]:
        """The file that will be written."""
        return [self.target]

    def fill(self, told: Callable[[float], None] = lambda _share: None) -> None:
        """Write the file. Raises MediaError with a sentence, and OSError."""
        if self.target.exists() and self.target.samefile(self.media):
            raise MediaError("That is the recording itself: write to another name or folder.")
        marks = [(one.start, one.end, one.title) for one in self.chapters]
        add_chapters(self.media, self.target, marks)
        told(1.0)

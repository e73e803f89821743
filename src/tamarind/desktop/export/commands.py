"""The commands of the Export page: videos, web pages, chapters, accessibility."""

from __future__ import annotations

from typing import TYPE_CHECKING

from tamarind.desktop.commands import command

if TYPE_CHECKING:
    from tamarind.desktop.window import MainWindow


class ExportCommands:
    """Passes each command on to the page of its window."""

    def __init__(self, window: MainWindow) -> None:
        self._window = window

    @command(
        "Videos with captions…",
        "File",
        "Ctrl+Shift+U",
        name="videos",
        opens="export",
        also="subtitles burn burned hardcode mp4 mkv render embed movie",
    )
    def make_videos(self) -> None:
        """Make videos with captions drawn on them, or added as tracks, also of sound."""
        from tamarind.desktop.export.videos_dialog import VideosDialog  # slow to import

        picturing = self._window.proof.picturing
        frame = picturing.on_desk.frame
        window = self._window
        dialog = VideosDialog(
            window.session, frame, picturing.edit_look, window.export.folder, window
        )
        if dialog.exec():
            self._window.export.orders.make_videos(dialog)

    @command(
        "Pages to publish…",
        "File",
        "Ctrl+Shift+F",
        name="pages",
        opens="export",
        also="html web website publish player",
    )
    def make_pages(self) -> None:
        """Make web pages with player, captions and transcript."""
        from tamarind.desktop.export.pages_dialog import PagesDialog  # slow to import

        dialog = PagesDialog(self._window.session, self._window.export.folder, self._window)
        if dialog.exec():
            self._window.export.orders.make_pages(dialog)

    @command(
        "Add chapter marks to a recording…",
        "Tools",
        "Ctrl+Shift+F2",
        name="chapter_marks",
        opens="export",
        also="bookmarks sections",
    )
    def mark_chapters(self) -> None:
        """Copy the shown recording with the headings of its text as chapters."""
        self._window.export.orders.mark_chapters()

    @command(
        "Accessibility check…",
        "Checks",
        "Ctrl+R",
        name="everybody",
        opens="export",
        also="wcag a11y deaf blind captions",
    )
    def ask_for_everybody(self) -> None:
        """Show what is missing for those who do not hear, do not see, or read another language."""
        from tamarind.desktop.export.everybody_dialog import EverybodyDialog  # slow to import

        dialog = EverybodyDialog(self._window.session, self._window.checking, self._window)
        wanted: list[str] = []
        dialog.mend_asked.connect(wanted.append)
        dialog.exec()
        for name in wanted[:1]:
            self._window.commands.run(name)

"""What excerpts can become, by suffix; of little weight, so that help comes at once."""

from __future__ import annotations

SOUNDS = ("wav", "flac", "mp3", "m4a", "opus")
VIDEOS = ("mp4", "mkv", "webm")
CAPTIONS = ("srt", "vtt")
EDIT_LISTS = ("edl", "otio")
QUOTATIONS = ("docx", "html", "csv", "txt")
KINDS = (*SOUNDS, *VIDEOS, *CAPTIONS, *EDIT_LISTS, *QUOTATIONS)

USUAL_START = "01:00:00:00"
"""Where the record times of an edit list usually begin."""

"""The kinds of files that excerpts can become, by suffix, with the words for each."""

from __future__ import annotations

from tamarind.formats.documents import FORMATS

SOUNDS = {"wav": "WAV", "flac": "FLAC", "mp3": "MP3", "m4a": "M4A", "opus": "Opus"}
VIDEOS = {"mp4": "MP4", "mkv": "Matroska", "webm": "WebM"}
CAPTIONS = {one.suffix: one.label for one in FORMATS if one.for_excerpts}
EDIT_LISTS = {"edl": "EDL (CMX 3600)", "otio": "OpenTimelineIO"}
QUOTATIONS = {"docx": "Word processor", "html": "Web page", "csv": "Table", "txt": "Plain text"}
KINDS = {**SOUNDS, **VIDEOS, **CAPTIONS, **EDIT_LISTS, **QUOTATIONS}

USUAL_START = "01:00:00:00"
"""Where the record times of an edit list usually begin."""

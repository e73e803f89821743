"""Write documents into a job's tables: only what differs between two versions."""

from __future__ import annotations

import json
import sqlite3
from array import array
from operator import attrgetter

from tamarind.job.cuedata import checksum, row_of
from tamarind.job.document import Document
from tamarind.transcript.changed import changed_range
from tamarind.transcript.codec import speaker_row
from tamarind.transcript.descriptions import row_of as description_row
from tamarind.transcript.excerpts import row_of as excerpt_row
from tamarind.transcript.model import Cue, Transcript
from tamarind.translation.entries import changed_cues
from tamarind.translation.tracks import Track, entry_row


class DocumentRows:
    """Writes to an open database; the caller holds a transaction."""

    def __init__(self, db: sqlite3.Connection) -> None:
        self._db = db
        self._orders: dict[int, tuple[tuple[Cue, ...], array[int]]] = {}

    def save(self, recording_id: int, before: Document, after: Document) -> None:
        """Write what differs between two versions."""
        self._save_transcript(recording_id, before.transcript, after.transcript)
        self._save_tracks(recording_id, before, after)
        self._save_chosen(recording_id, before, after)

    def keep_order(self, recording_id: int, cues: tuple[Cue, ...]) -> None:
        """Write the order of a text's cues."""
        order = array("q", map(attrgetter("id"), cues))
        self._db.execute(
            "UPDATE recording SET cue_order = ? WHERE id = ?", (order.tobytes(), recording_id)
        )

    def _save_transcript(self, recording_id: int, before: Transcript, after: Transcript) -> None:
        if before is after:
            return
        first, old_last, new_last = changed_range(before.cues, after.cues)
        old = {cue.id: cue for cue in before.cues[first:old_last]}
        new = {cue.id: cue for cue in after.cues[first:new_last]}
        self._db.executemany(
            "REPLACE INTO cue (recording, id, start, end, speaker, opens_paragraph, settled,"
            " breaks, words, shaped, placement, note, more, mark)"
            " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
            [
                (recording_id, *(row := row_of(cue)), checksum(row))
                for cue in new.values()
                if old.get(cue.id) is not cue
            ],
        )
        self._db.executemany(
            "DELETE FROM cue WHERE recording = ? AND id = ?",
            [(recording_id, number) for number in old.keys() - new.keys()],
        )
        order = self._order_of(recording_id, before.cues)
        if list(old) != list(new):
            order = order[:first] + array("q", new) + order[old_last:]
            self._db.execute(
                "UPDATE recording SET cue_order = ? WHERE id = ?",
                (order.tobytes(), recording_id),
            )
        self._orders[recording_id] = (after.cues, order)
        about = before.speakers, before.language, before.preamble
        if about != (after.speakers, after.language, after.preamble):
            speakers = json.dumps(list(map(speaker_row, after.speakers)), ensure_ascii=False)
            self._db.execute(
                "UPDATE recording SET speakers = ?, text_language = ?, preamble = ? WHERE id = ?",
                (speakers, after.language, after.preamble, recording_id),
            )

    def _save_chosen(self, recording_id: int, before: Document, after: Document) -> None:
        """Write all excerpts and descriptions, which are few."""
        was, now = ((d.excerpts, d.descriptions) for d in (before, after))
        if was == now:
            return
        kept = [
            json.dumps(rows, ensure_ascii=False)
            for rows in (
                list(map(excerpt_row, after.excerpts)),
                list(map(description_row, after.descriptions)),
            )
        ]
        self._db.execute(
            "UPDATE recording SET excerpts = ?, descriptions = ? WHERE id = ?",
            (*kept, recording_id),
        )

    def _order_of(self, recording_id: int, cues: tuple[Cue, ...]) -> array[int]:
        """Return the ids of a text's cues in order, cached for the text that was saved last."""
        known = self._orders.get(recording_id)
        if known is not None and known[0] is cues:
            return known[1]
        return array("q", map(attrgetter("id"), cues))

    def _save_tracks(self, recording_id: int, before: Document, after: Document) -> None:
        old_tracks = {track.language: track for track in before.tracks}
        new_tracks = {track.language: track for track in after.tracks}
        for language in old_tracks.keys() - new_tracks.keys():
            for table in ("track", "translated"):
                self._db.execute(
                    f"DELETE FROM {table} WHERE recording = ? AND language = ?",
                    (recording_id, language),
                )
        for language, track in new_tracks.items():
            if old_tracks.get(language) is track:
                continue
            self._db.execute(
                "INSERT OR IGNORE INTO track (recording, language) VALUES (?, ?)",
                (recording_id, language),
            )
            old = old_tracks.get(language, Track(language)).texts
            differ = sorted(changed_cues(old, track.texts))
            self._db.executemany(
                "REPLACE INTO translated VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
                [
                    (
                        recording_id,
                        *(row := (language, cue, *entry_row(entry)))[:5],
                        checksum(row),
                        entry.comment,
                    )
                    for cue in differ
                    if (entry := track.texts.get(cue)) is not None
                ],
            )
            self._db.executemany(
                "DELETE FROM translated WHERE recording = ? AND language = ? AND cue = ?",
                [(recording_id, language, cue) for cue in differ if cue not in track.texts],
            )
        if list(old_tracks) != list(new_tracks):
            self._db.executemany(
                "UPDATE track SET position = ? WHERE recording = ? AND language = ?",
                [(place, recording_id, language) for place, language in enumerate(new_tracks)],
            )

"""Read everything in a job's file row by row, checking each value.

What is not as it was written is left out, or mended where its words can be kept, and noted in a
sentence. A file that gives no such note is whole.
"""

from __future__ import annotations

import json
import math
import os
import sqlite3
from array import array
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any, Protocol, TypeVar

from tamarind.audio.media import MediaInfo
from tamarind.formats.filenames import LONGEST_NAME
from tamarind.job.cuedata import (
    DamagedError,
    checksum,
    cue_of,
    cue_saved_from,
    cues_of,
    draft_cue_of,
    text,
    whole,
)
from tamarind.job.document import Document
from tamarind.job.recording import Recording, State
from tamarind.language.stylebook import ORDINARY_STYLE
from tamarind.speech.diarisation.voiceprint import Voiceprint
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.languageguess import Guess
from tamarind.transcript.bounds import LATEST, clean_text
from tamarind.transcript.codec import speaker_of
from tamarind.transcript.descriptions import description_of
from tamarind.transcript.excerpts import excerpt_of
from tamarind.transcript.model import Cue, Speaker, Transcript
from tamarind.translation.tracks import Track, Translated, entry_of

BROKEN = (sqlite3.DatabaseError, UnicodeDecodeError, OverflowError)
"""What reading a damaged database may raise; a message about it may be no UTF-8 either."""


class _WithNumber(Protocol):
    @property
    def id(self) -> int: ...


_Numbered = TypeVar("_Numbered", bound=_WithNumber)


@dataclass(slots=True)
class Contents:
    """What was read; ``damage`` says in sentences what was wrong, ``reordered`` whose order of cues
    did not fit their rows, which reading repairs."""

    settings: dict[str, str] = field(default_factory=dict)
    recordings: list[Recording] = field(default_factory=list)
    documents: dict[int, Document] = field(default_factory=dict)
    drafts: dict[int, tuple[Cue, ...]] = field(default_factory=dict)
    damage: list[str] = field(default_factory=list)
    reordered: list[int] = field(default_factory=list)


def read_all(db: sqlite3.Connection, folder: Path, drafts: bool) -> Contents:
    """Read a database with the current tables; paths of recordings are relative to ``folder``.

    Drafts, which are as long as the texts, are read only if that is asked for. Damaged pages are
    gone round as far as that goes.
    """
    contents = Contents()
    note = contents.damage.append
    for key, value in _rows(db, "setting", "key, value", "key", note):
        if isinstance(key, str) and isinstance(value, str):
            contents.settings[key] = clean_text(value)
        else:
            note("A setting of the job is damaged.")
    places: list[tuple[int, Recording]] = []
    columns = f"{RECORDING_COLUMNS}, position, {TEXT_COLUMNS}"
    texts: dict[int, tuple[Any, ...]] = {}
    for row in _rows(db, "recording", columns, "id", note):
        number = row[0]
        if type(number) is not int or number < 1 or number in texts:
            note("A recording has no number of its own and is left out.")
            continue
        recording, problems = recording_of(row, folder)
        for problem in problems:
            note(f"“{recording.name}”: {problem}")
        places.append((row[_POSITION] if type(row[_POSITION]) is int else 0, recording))
        texts[number] = row[_POSITION + 1 :]
    contents.recordings = [recording for _, recording in sorted(places, key=_place)]
    for recording in contents.recordings:
        document, problems, reordered = read_document(db, recording, texts[recording.id])
        contents.documents[recording.id] = document
        for problem in problems:
            note(f"“{recording.name}”: {problem}")
        if reordered:
            contents.reordered.append(recording.id)
        if drafts:
            contents.drafts[recording.id] = read_draft(db, recording.id)
    return contents


def _place(entry: tuple[int, Recording]) -> tuple[int, int]:
    return entry[0], entry[1].id


# Recordings

RECORDING_COLUMNS = (
    "id, path, fingerprint, info, duration, state, problem, language, part_start, part_end,"
    " heard_until, how, unheard, style, bookmark, listened, guesses, voices, at_once, from_sound"
)
TEXT_COLUMNS = (
    "coalesce(text_language, language), speakers, cue_order, preamble, excerpts, descriptions"
)
TEXT_VALUES = 6
_POSITION = 20


def recording_of(row: Sequence[Any], folder: Path) -> tuple[Recording, list[str]]:
    """Return a recording and what of it was damaged; each invalid value becomes that of a new
    recording."""
    problems: list[str] = []

    def value(read: Any, what: str, otherwise: Any) -> Any:
        try:
            return read()
        except (ValueError, TypeError, KeyError, AttributeError, OverflowError, RecursionError):
            problems.append(f"{what} could not be read.")
            return otherwise

    path = value(lambda: _path(row[1]), "where its file lies", f"lost recording {row[0]}")
    language = value(lambda: text(row[7], 100), "its language", "en")
    how = value(
        lambda: _how(row[11], language), "how it is to be transcribed", HearingOptions(language)
    )
    info = value(lambda: _info(row[3]), "what is known of its file", None)
    state = value(lambda: State(row[5]), "how far it is", State.STOPPED)
    recording = Recording(
        row[0],
        folder / path,
        value(lambda: text(row[2], 100), "which file it is", ""),
        info=info,
        duration=value(lambda: whole(row[4], 0, LATEST), "its length", 0),
        state=state,
        problem=value(
            lambda: None if row[6] is None else text(row[6]), "what was wrong with it", None
        ),
        how=how,
        part=value(lambda: _part(row[8], row[9]), "its section", (0, None)),
        heard_until=value(lambda: whole(row[10]), "how far it is transcribed", 0),
        unheard=value(lambda: _spans(row[12]), "where there is no text", ()),
        style=value(lambda: text(row[13], 1_000), "its house style", ORDINARY_STYLE),
        bookmark=value(lambda: text(row[14]), "where transcribing goes on", ""),
        listened=value(lambda: _spans(row[15]), "what was listened to", ()),
        guesses=value(lambda: _guesses(row[16]), "which languages it may be in", ()),
        voices=value(lambda: _voices(row[17]), "who speaks in it", ()),
        at_once=value(lambda: _spans(row[18]), "where two speak at once", ()),
        from_sound=value(lambda: bool(whole(row[19], 0, 1)), "from where its times count", False),
    )
    return recording, problems


def _path(value: object) -> str:
    """Return a path; names that are not UTF-8 are kept as bytes."""
    path = os.fsdecode(value) if isinstance(value, bytes) else value
    if not isinstance(path, str) or not path or "\0" in path:
        raise DamagedError("a path")
    if any(len(os.fsencode(part)) > LONGEST_NAME for part in path.split("/")) or len(path) > 4_000:
        raise DamagedError("a path")
    return path


def _how(data: object, language: str) -> HearingOptions:
    loaded = json.loads(text(data, 100_000))
    return HearingOptions.from_data({**loaded, "language": language})


def _guesses(data: object) -> tuple[Guess, ...]:
    rows = json.loads(text(data, 10_000))
    return tuple(Guess(text(language, 100), _finite(share)) for language, share in rows)


def _voices(data: object) -> tuple[Voiceprint, ...]:
    rows = json.loads(text(data, 1_000_000))
    return tuple(Voiceprint(whole(speaker), text(packed, 1_000)) for speaker, packed in rows)


def _info(data: object) -> MediaInfo | None:
    if data is None:
        return None
    info = json.loads(text(data, 100_000))
    picture, rate, loud = info.get("picture"), info.get("frame_rate"), info.get("loud_db")
    if picture is not None:
        picture = (whole(picture[0], 0, 100_000), whole(picture[1], 0, 100_000))
    return MediaInfo(
        text(info["name"]), whole(info["duration"], 0, LATEST), text(info["container"]),
        codec=text(info["codec"]), channels=whole(info["channels"], 0, 10_000),
        sample_rate=whole(info["sample_rate"]),
        sound_tracks=whole(info["sound_tracks"], 0, 10_000), picture=picture,
        frame_rate=None if rate is None else _finite(rate),
        loud_db=None if loud is None else _finite(loud), clipped=bool(info.get("clipped")),
        tags=tuple(text(tag, 1_000) for tag in info.get("tags", ())),
        sound_starts=tuple(whole(start, 0, LATEST) for start in info.get("sound_starts", ())),
    )  # fmt: skip


def _finite(value: object) -> float:
    if type(value) not in (int, float) or not math.isfinite(value):  # type: ignore[arg-type]
        raise DamagedError("a number that is none")
    return float(value)  # type: ignore[arg-type]


def _part(start: object, end: object) -> tuple[int, int | None]:
    begun = whole(start)
    return begun, None if end is None else whole(end, begun)


def _spans(data: object) -> tuple[tuple[int, int], ...]:
    spans = json.loads(text(data))
    return tuple((whole(start), whole(end)) for start, end in spans)


# Texts


def read_document(
    db: sqlite3.Connection, recording: Recording, about: Sequence[Any]
) -> tuple[Document, list[str], bool]:
    """Return a recording's text with translations, what of it was damaged, and whether the order of
    its cues did not fit. ``about`` are the ``TEXT_COLUMNS``."""
    problems: list[str] = []
    try:
        speakers = _speakers(about[1])
    except (ValueError, TypeError, RecursionError):
        speakers = ()
        problems.append("the names of its speakers could not be read.")
    cues, lost = _cues(db, recording.id, problems)
    order, fits, gone = _order(about[2], cues)
    lost = max(lost, gone)
    if lost:
        problems.append(f"{lost} of its cues could not be read." if lost > 1
                        else "one of its cues could not be read.")  # fmt: skip
    language = about[0] if isinstance(about[0], str) and len(about[0]) < 100 else recording.language
    preamble = clean_text(about[3]) if isinstance(about[3], str) else ""
    transcript = Transcript(
        clean_text(language), tuple(cues[number] for number in order), speakers, preamble
    )
    tracks = _tracks(db, recording.id, problems)
    excerpts = _chosen(about[4], excerpt_of, "excerpts", problems)
    seen = _chosen(about[5], description_of, "descriptions", problems)
    return Document(transcript, tracks, excerpts, seen), problems, not fits


def _chosen(
    data: object, read: Callable[[Any], _Numbered], what: str, problems: list[str]
) -> tuple[_Numbered, ...]:
    """Return the rows that could be read, each with a number of its own; ``what`` they are."""
    found: dict[int, _Numbered] = {}
    lost = 0
    try:
        for row in json.loads(text(data)):
            try:
                one = read(row)
            except (ValueError, TypeError, KeyError, RecursionError):
                lost += 1
            else:
                lost += one.id in found
                found.setdefault(one.id, one)
    except (ValueError, TypeError, RecursionError):
        problems.append(f"its {what} could not be read.")
    if lost:
        problems.append(f"{lost} of its {what} could not be read." if lost > 1
                        else f"one of its {what} could not be read.")  # fmt: skip
    return tuple(found.values())


def _speakers(data: object) -> tuple[Speaker, ...]:
    speakers = tuple(map(speaker_of, json.loads(text(data))))
    if len({speaker.id for speaker in speakers}) < len(speakers):
        raise DamagedError("speakers")
    return speakers


_CUE_COLUMNS = (
    "id, start, end, speaker, opens_paragraph, settled, breaks, words, shaped, placement, note,"
    " more, mark"
)


def _cues(
    db: sqlite3.Connection, recording_id: int, problems: list[str]
) -> tuple[dict[int, Cue], int]:
    """Return a text's cues by number, and how many rows could not be read."""
    cues: dict[int, Cue] = {}
    repairs: list[Cue] = []
    lost = 0
    rows = list(_rows(db, "cue", _CUE_COLUMNS, "id", problems.append, recording_id))
    with suppress(DamagedError):
        whole_rows = [row[:-1] for row in rows]
        for (*_, mark), own in zip(rows, whole_rows, strict=True):
            _check_mark(mark, own)
        return {cue.id: cue for cue in cues_of(whole_rows)}, 0
    # Which of them are damaged is found one by one.
    for *row, mark in rows:
        try:
            _check_mark(mark, row)
            cue = cue_of(row)
        except DamagedError:
            saved = cue_saved_from(row)
            if saved is None:
                lost += 1
            else:
                repairs.append(saved)
            continue
        cues[cue.id] = cue
    free = max(cues, default=0) + 1
    for cue in repairs:
        number = cue.id if cue.id > 0 and cue.id not in cues else free
        free = max(free, number) + 1
        cues[number] = replace(cue, id=number)
        problems.append(f"a cue was damaged and kept as far as it made sense: “{cue.text[:60]}”.")
    return cues, lost


def _check_mark(mark: object, row: Sequence[Any]) -> None:
    """Raise DamagedError for a row whose checksum does not match."""
    if mark is not None and mark != checksum(row):
        raise DamagedError("its checksum")


def _order(data: object, cues: Mapping[int, Cue]) -> tuple[list[int], bool, int]:
    """Return the numbers of the cues in order, whether they were kept like this, and how many cues
    of the order have no row."""
    kept = array("q")
    if isinstance(data, bytes):
        kept.frombytes(data[: len(data) // 8 * 8])
    known = list(dict.fromkeys(number for number in kept if number in cues))
    if len(known) == len(kept) == len(cues):
        return known, True, 0
    missing = sorted(cues.keys() - set(known), key=lambda number: (cues[number].start, number))
    for number in missing:
        place = len(known)
        while place and cues[known[place - 1]].start > cues[number].start:
            place -= 1
        known.insert(place, number)
    return known, False, len(set(kept) - set(cues))


def _tracks(db: sqlite3.Connection, recording_id: int, problems: list[str]) -> tuple[Track, ...]:
    note = problems.append
    texts: dict[str, dict[int, Translated]] = {}
    for (language,) in _rows(db, "track", "language", "position, language", note, recording_id):
        if isinstance(language, str) and 0 < len(language) < 100:
            texts[clean_text(language)] = {}
    lost = 0
    columns = "language, cue, text, source, by_person, comment, mark"
    for *row, comment, mark in _rows(
        db, "translated", columns, "language, cue", note, recording_id
    ):
        language, cue, said, source, by_person = row
        try:
            noted = [text(comment)] if comment else []
            _check_mark(mark, [*row, *noted])
            entry = entry_of([text(said), text(source, 1_000), by_person, *noted])
            texts.setdefault(text(language, 100), {})[whole(cue, 1)] = entry
        except (DamagedError, ValueError):
            lost += 1
    if lost:
        problems.append(f"{lost} translated cues could not be read.")
    return tuple(Track(language, entries) for language, entries in texts.items())


def read_draft(db: sqlite3.Connection, recording_id: int) -> tuple[Cue, ...]:
    """Return the draft of a text without what is damaged."""
    cues = []
    columns = "number, start, end, speaker, opens_paragraph, words, more"
    for row in _rows(db, "draft", columns, "number", lambda _: None, recording_id):
        try:
            cues.append(draft_cue_of(row))
        except DamagedError:
            continue
    return tuple(cues)


# Rows


def _rows(
    db: sqlite3.Connection,
    table: str,
    columns: str,
    order: str,
    note: Callable[[str], None],
    recording_id: int | None = None,
) -> Iterator[tuple[Any, ...]]:
    """Yield the rows of a table in order. If a page cannot be read, the rows before and after it
    are yielded, and that is noted."""
    where = "" if recording_id is None else "WHERE recording = ?"
    given = () if recording_id is None else (recording_id,)
    keys = order.split(", ")
    seen: set[tuple[Any, ...]] = set()
    failed = False
    for direction in ("", " DESC"):
        ordered = ", ".join(f"{key}{direction}" for key in keys)
        query = f"SELECT {columns}, {order} FROM {table} {where} ORDER BY {ordered}"
        try:
            for row in db.execute(query, given):
                key = row[-len(keys) :]
                if not failed:
                    yield row[: -len(keys)]
                elif key in seen:
                    break
                else:
                    yield row[: -len(keys)]
                if not failed:
                    seen.add(key)
        except BROKEN:
            if not failed:
                note("a part of its file is damaged." if recording_id is not None
                     else "A part of the file is damaged.")  # fmt: skip
            failed = True
            continue
        if not failed:
            return

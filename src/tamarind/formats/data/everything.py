"""Read and write Tamarind's JSON (.json): everything known of a recording's text, for other
programs.

Times are in seconds; text inside a cue breaks lines with "\\n". Beyond the cues it may hold
"speakers", and under "translations", by language, a text (or null) for each cue.
"""

from __future__ import annotations

import json
import re
from collections.abc import Mapping, Sequence
from itertools import pairwise
from typing import Any

from tamarind.formats.captionfile import (
    LONGEST_NAME,
    FormatError,
    Repairs,
    brief,
    names_of,
    ordered,
)
from tamarind.formats.format import DocumentKind, Format, Origin
from tamarind.formats.spans import only_spans
from tamarind.transcript.bounds import LATEST, clean_text, is_language
from tamarind.transcript.codec import CUE_FIELDS, WORD_FIELDS, data_of, read_fields
from tamarind.transcript.fields import Holds
from tamarind.transcript.model import Cue, Speaker, Transcript, Word
from tamarind.transcript.reconcile import held, line_starts, spread
from tamarind.transcript.tokens import joined, tokens_of

SIGNATURE = "tamarind-transcript"
VERSION = 1


def write(
    transcript: Transcript,
    name: str,
    duration: int,
    translations: Mapping[str, Sequence[str | None]] | None = None,
) -> str:
    """Return the whole text as JSON; ``duration`` in ms, ``translations`` one text a cue."""
    names = names_of(transcript)
    data: dict[str, Any] = {
        "format": SIGNATURE,
        "version": VERSION,
        "media": {"name": name, "duration": duration / 1000},
        "language": transcript.language,
        "cues": [_cue_data(cue, names.get(cue.speaker)) for cue in transcript.cues],
    }
    if transcript.speakers:
        data["speakers"] = [speaker.label for speaker in transcript.speakers]
    if transcript.preamble:
        data["preamble"] = transcript.preamble
    if translations:
        data["translations"] = {language: list(texts) for language, texts in translations.items()}
    return json.dumps(data, ensure_ascii=False, indent=1) + "\n"


def read(text: str, language: str, repairs: Repairs | None = None) -> Transcript:
    """Read what ``write`` wrote. Raises FormatError with the place of what is wrong."""
    repairs = Repairs() if repairs is None else repairs
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise FormatError(f"The file is no JSON: {brief(error)}.") from None
    if not isinstance(data, dict) or data.get("format") != SIGNATURE:
        raise FormatError("The file is JSON, but not a Tamarind transcript.")
    if not isinstance(data.get("version"), int) or data["version"] > VERSION:
        raise FormatError("The file was written by a newer Tamarind; this one cannot read it.")
    speakers: dict[str, Speaker] = {}
    named = data.get("speakers")
    for name in map(_name, named if isinstance(named, list) else ()):
        if name:
            speakers.setdefault(name, Speaker(len(speakers) + 1, name))
    cues: list[Cue] = []
    for number, item in enumerate(_list(data.get("cues")), 1):
        try:
            cues.append(_cue(item, number, speakers))
        except (KeyError, TypeError, ValueError, AttributeError, OverflowError, RecursionError):
            raise FormatError(f"Cue {number} of the file is not as it should be.") from None
    if any(one.start > other.start for one, other in pairwise(cues)):
        repairs.note("Cues were not in the order of their times.")
        cues.sort(key=lambda cue: cue.start)
    declared = data.get("language")
    preamble = data.get("preamble")
    return Transcript(
        declared if isinstance(declared, str) and is_language(declared) else language,
        tuple(cues),
        tuple(speakers.values()),
        clean_text(preamble) if isinstance(preamble, str) else "",
    )


def media_of(text: str) -> tuple[str, int]:
    """Return name and duration (ms) of a JSON text's recording, if given."""
    media = json.loads(text).get("media")
    if not isinstance(media, dict):
        return "", 0
    name, duration = media.get("name"), media.get("duration")
    try:
        length = _ms(duration or 0)
    except (ValueError, TypeError, OverflowError):
        length = 0
    return clean_text(name)[:1000] if isinstance(name, str) else "", length


def _cue_data(cue: Cue, speaker: str | None) -> dict[str, Any]:
    data: dict[str, Any] = {
        "start": cue.start / 1000,
        "end": cue.end / 1000,
        "speaker": speaker,
        "text": "\n".join(cue.lines),
        "words": [
            {
                "text": word.text,
                "start": word.start / 1000,
                "end": word.end / 1000,
                "certainty": word.confidence,
                **data_of(word, WORD_FIELDS),
            }
            for word in cue.words
        ],
    }
    return data | data_of(cue, CUE_FIELDS)


def _cue(item: dict[str, Any], number: int, speakers: dict[str, Speaker]) -> Cue:
    start, end = ordered(_ms(item["start"]), _ms(item["end"]))
    name = _name(item.get("speaker"))
    speaker = None
    if name:
        speaker = speakers.setdefault(name, Speaker(len(speakers) + 1, name)).id
    lines = [tokens_of(line) for line in _text(item["text"]).split("\n")]
    tokens = [token for line in lines for token in line]
    words = tuple(_word(word) for word in _list(item.get("words", [])))
    if joined(word.token for word in words) != joined(tokens):
        words = tuple(spread(tokens, start, end))
        words = held(words, start, max(end, start + len(words)))
    else:
        words = held(words, start, max(end, start + len(words)))
    if isinstance(item.get("note"), str):
        item = {**item, "note": clean_text(item["note"])}
    return Cue(
        number,
        start,
        max(end, start + len(words)),
        words,
        speaker,
        breaks=line_starts(lines),
        **read_fields(item, CUE_FIELDS, is_foreign=True),
    )


def _word(item: dict[str, Any]) -> Word:
    start, end = ordered(_ms(item["start"]), _ms(item["end"]))
    confidence = item.get("certainty")
    more = read_fields(item, WORD_FIELDS, is_foreign=True)
    more["alternatives"] = tuple(map(clean_text, more.get("alternatives", ())))
    more["spans"] = only_spans(more.get("spans", ()))
    sure = None if confidence is None else float(confidence)
    if sure is not None and not 0 <= sure <= 1:
        raise ValueError("a certainty from 0 to 1")
    return Word(_text(item["text"]), start, end, sure, **more)


def _ms(seconds: Any) -> int:
    if isinstance(seconds, bool) or not isinstance(seconds, int | float | str):
        raise TypeError("a time in seconds")
    time = max(round(float(seconds) * 1000), 0)
    if time > LATEST:
        raise ValueError("a time beyond the end of any recording")
    return time


def _text(value: Any) -> str:
    if not isinstance(value, str):
        raise TypeError("a text")
    return clean_text(value)


def _name(value: Any) -> str:
    """Return a speaker's name on one line; "" if it is none."""
    if not isinstance(value, str):
        return ""
    return " ".join(clean_text(value).split())[:LONGEST_NAME]


def _list(value: Any) -> list[Any]:
    if not isinstance(value, list):
        raise FormatError("The file's list of cues or words is missing.")
    return value


def schema() -> dict[str, Any]:
    """Return the JSON Schema (draft 2020-12) of the files. Programs that read them should ignore
    what they do not know."""
    seconds = {"type": "number", "minimum": 0}
    text = {"type": "string"}
    texts = {"type": "array", "items": text}
    word = {
        "text": text, "start": seconds, "end": seconds,
        "certainty": {"anyOf": [{"type": "number", "minimum": 0, "maximum": 1}, {"type": "null"}]},
        "readings": texts, "spans": texts,
    }  # fmt: skip
    flags = {one.key: {"type": "boolean"} for one in CUE_FIELDS if one.default is False}
    remarks = {one.key: text for one in CUE_FIELDS if one.default == ""}
    cue = {
        "start": seconds, "end": seconds, "text": text,
        "speaker": {"type": ["string", "null"]},
        "words": {"type": "array", "items": _object(word, ("text", "start", "end"))},
        **flags, **remarks,
    }  # fmt: skip
    media = {"name": text, "duration": seconds}
    version = {"type": "integer", "minimum": 1, "maximum": VERSION}
    languages = {"type": "array", "items": {"type": ["string", "null"]}}
    whole = {
        "format": {"const": SIGNATURE}, "version": version, "media": _object(media, ()),
        "language": text, "speakers": texts, "preamble": text,
        "cues": {"type": "array", "items": _object(cue, ("start", "end", "text"))},
        "translations": {"type": "object", "additionalProperties": languages},
    }  # fmt: skip
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "A transcript of Tamarind",
        "description": "Times are in seconds; a line break in a cue's text is one on the screen.",
        **_object(whole, ("format", "version", "cues")),
    }


def _object(properties: Mapping[str, Any], required: Sequence[str]) -> dict[str, Any]:
    return {"type": "object", "required": list(required), "properties": dict(properties)}


FORMAT = Format(
    ("json",),
    "JSON of everything",
    DocumentKind.DATA,
    read=read,
    write=lambda transcript, source, options: write(
        transcript, source.name, source.duration, source.translations
    ),
    holds=frozenset(Holds),
    is_utf8=True,
    may_mark=False,
    sign=re.compile(r"\s*\{\s*\""),
    origin_of=lambda text: Origin(*media_of(text)),
    rank=2,
)
FORMATS = (FORMAT,)

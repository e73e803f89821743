"""Clients: what each wants of all work for it, as a value and as a small file to hand on."""

from __future__ import annotations

import base64
import binascii
import json
from collections.abc import Mapping
from dataclasses import asdict, dataclass, field, replace
from typing import Any

from tamarind.formats.captionfile import FormatError
from tamarind.formats.encoding import ENCODINGS, Bytes
from tamarind.formats.filenames import FIELDS, USUAL_PATTERN
from tamarind.formats.reading.template import Template, template_of
from tamarind.language.housestyle import SUFFIX as STYLE_SUFFIX
from tamarind.language.housestyle import HouseStyle, StyleError, read_style
from tamarind.language.stylebook import SHIPPED as SHIPPED_STYLES
from tamarind.language.stylebook import STYLES
from tamarind.picture.lookbook import LOOKS
from tamarind.picture.lookbook import SHIPPED as SHIPPED_LOOKS
from tamarind.picture.looks import Look, LookError, read_look
from tamarind.system.declared import (
    Entry,
    FileKind,
    Values,
    line,
    option,
    schema_of,
    texts,
    yes_or_no,
)
from tamarind.system.errors import ToldError
from tamarind.system.later import Later
from tamarind.system.shelf import Shelf
from tamarind.transcript.languages import is_known

documents: Any = Later("tamarind.formats.documents")

SUFFIX = ".client.json"
LARGEST = 24 << 20
"""Bytes of a client's file, which may hold templates with pictures."""


class ClientError(ToldError, ValueError):
    """A client cannot be read; the message is one sentence."""


FILE = FileKind("tamarind-client", 1, "client", ClientError)


def _encoding(value: Any) -> str:
    if value not in ENCODINGS:
        raise ValueError(f"one of {', '.join(ENCODINGS)}")
    return str(value)


_ENCODINGS = Values(
    _encoding,
    {"enum": list(ENCODINGS)},
    Entry.CHOICE,
    choices={words: name for name, words in ENCODINGS.items()},
)


@dataclass(frozen=True, slots=True)
class Delivery:
    """What is delivered to a client, and how it is written.

    ``spoken`` are the languages of its recordings, the first the main one; none leaves them as
    they are. ``translations`` are delivered besides the source text.
    """

    documents: tuple[str, ...] = option(
        ("docx", "srt"), texts(Entry.DOCUMENTS), "Documents", section="Files"
    )
    translations: tuple[str, ...] = option(
        (), texts(Entry.LANGUAGES), "Translations", section="Files"
    )
    names: str = option(
        USUAL_PATTERN,
        line(),
        "File names",
        section="Files",
        hint=" ".join(f"{{{name}}}" for name in FIELDS),
    )
    tells: bool = option(
        True, yes_or_no(), "With a list of what breaks the house style", section="Files"
    )
    spoken: tuple[str, ...] = option(
        (), texts(Entry.LANGUAGES), "Spoken", section="Recordings", hint="none: as chosen"
    )
    fields: tuple[str, ...] = option(
        (),
        texts(Entry.PHRASES),
        "Header fields",
        section="Documents",
        hint="such as Case, Present; their values are a recording's details",
    )
    closing: str = option(
        "",
        line(),
        "Note at the end",
        section="Documents",
        hint="{title} {date} {client} {proofed by}",
    )
    proofed_by: str = option("", line(), "Proofed by", section="Documents")
    numbered: bool = option(
        False, yes_or_no(), "Line numbers, wide margins", section="Documents", rare=True
    )
    look: bool = option(
        True, yes_or_no(), "Caption style, if the format has styles", section="Files", rare=True
    )
    encoding: str = option("utf-8", _ENCODINGS, "Encoding", section="Files", rare=True)
    crlf: bool = option(
        False,
        yes_or_no({"LF": False, "CR LF": True}),
        "Line ends",
        section="Files",
        rare=True,
    )
    mark: bool = option(False, yes_or_no(), "Byte-order mark", section="Files", rare=True)

    @property
    def bytes(self) -> Bytes:
        """How text files are encoded."""
        return Bytes(self.encoding, self.mark, self.crlf)


@dataclass(frozen=True, slots=True)
class Client:
    """Who gets texts: house style with its glossary, caption style (None: the job's), templates,
    and what is delivered."""

    name: str
    style: HouseStyle
    look: Look | None = None
    delivery: Delivery = field(default_factory=Delivery)
    templates: tuple[Template, ...] = ()

    def packed(self) -> str:
        """Return the client as the text of a file, complete anywhere."""
        return FILE.packed(
            self.name,
            {
                "style": json.loads(self.style.packed()),
                "look": None if self.look is None else json.loads(self.look.packed()),
                "delivery": asdict(self.delivery),
                "templates": [
                    {"name": one.name, "data": base64.b64encode(one.data).decode("ascii")}
                    for one in self.templates
                ],
            },
        )

    @property
    def style_key(self) -> str:
        """The key under which a job keeps its house style."""
        return _key(STYLES, SHIPPED_STYLES, self.style)

    @property
    def look_key(self) -> str:
        """The key under which a job keeps its caption style; "" if it has none."""
        return "" if self.look is None else _key(LOOKS, SHIPPED_LOOKS, self.look)

    def as_kept(self) -> Client:
        """Return the client with its styles as the person has them now, where there are such."""
        style = STYLES.own().get(self.style_key, self.style)
        looks = LOOKS.own() if self.look is not None else {}
        return replace(self, style=style, look=looks.get(self.look_key, self.look))


def _key(shelf: Shelf[Any], shipped: Mapping[str, Any], item: Any) -> str:
    same = (key for key, one in shipped.items() if one.name == item.name)
    return next(same, shelf.key_of(item.name))


def read_client(text: str) -> Client:
    """Return the client in a file's text; what is left out has its default. Raises ClientError."""
    name, data = FILE.read(text)
    try:
        style = read_style(json.dumps(data["style"])) if "style" in data else None
        kept = data.get("look")
        look = read_look(json.dumps(kept)) if kept is not None else None
    except (StyleError, LookError) as error:
        raise ClientError(f"The client “{name}” cannot be used. {error}") from None
    delivery = FILE.part(data, "delivery", Delivery)
    unknown = [one for one in delivery.documents if one not in documents.WRITTEN]
    unknown += [one for one in (*delivery.translations, *delivery.spoken) if not is_known(one)]
    if unknown:
        raise ClientError(f"The client “{name}” wants “{unknown[0]}”, which is not known here.")
    return Client(
        name,
        style or STYLES.shipped["ordinary"],
        look,
        delivery,
        _templates(name, data.get("templates", ())),
    )


def _templates(name: str, kept: Any) -> tuple[Template, ...]:
    try:
        pairs = [(str(one["name"]), base64.b64decode(one["data"], validate=True)) for one in kept]
        return tuple(template_of(*pair) for pair in pairs)
    except (TypeError, KeyError, ValueError, binascii.Error, FormatError):
        raise ClientError(f"A template of the client “{name}” cannot be used.") from None


CLIENTS: Shelf[Client] = Shelf(
    "client",
    "clients",
    SUFFIX,
    shipped={},
    read=read_client,
    wrong=ClientError,
    largest=LARGEST,
)
"""The person's clients, beside their house styles."""


def take_in(client: Client) -> Client:
    """Save a client that came from elsewhere with its styles for all jobs, and return it. A style
    that is another than the person's of the same name gets the client's name too. Raises
    OSError."""
    style = _taken(STYLES, client.style_key, client.style, client.name)
    look = client.look
    if look is not None:
        look = _taken(LOOKS, client.look_key, look, client.name)
    taken = replace(client, style=style, look=look)
    CLIENTS.keep(taken)
    return taken


def _taken(shelf: Shelf[Any], key: str, item: Any, whose: str) -> Any:
    there = {**shelf.shipped, **shelf.own()}.get(key)
    if there == item:
        return item
    if there is not None:
        item = replace(item, name=f"{item.name}, {whose}")
    shelf.keep(item)
    return item


def schema() -> dict[str, Any]:
    """Return the JSON Schema of files with a client."""
    template = {
        "type": "object",
        "required": ["name", "data"],
        "properties": {
            "name": {"type": "string"},
            "data": {"type": "string", "contentEncoding": "base64"},
        },
    }
    return FILE.schema(
        f"Its styles are those of files that end in {STYLE_SUFFIX} and .look.json.",
        {
            "style": {"type": "object"},
            "look": {"type": ["object", "null"]},
            "delivery": schema_of(Delivery),
            "templates": {"type": "array", "items": template},
        },
    )

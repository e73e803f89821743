"""A client's own document as template: its styles, and places to be filled in.

Places are marked as ``{title}``, ``{date}``, ``{client}``, ``{facts}`` or with the name of a header
field (``{case}``) anywhere in it, head and foot included; the text stands where a paragraph says
``{body}``, or else at the end.
"""

from __future__ import annotations

import io
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from tamarind.formats.captionfile import FormatError
from tamarind.formats.zipped import checked
from tamarind.system.files import read_file

SUFFIXES = ("docx", "odt")
BODY = "{body}"
LARGEST = 64 << 20

_PLACE = re.compile(r"\{([^{}]{1,60})\}")


@dataclass(frozen=True, slots=True)
class Template:
    """The bytes of a document; ``suffix`` is its kind and that of what is made from it."""

    name: str
    suffix: str
    data: bytes


def read_template(path: Path) -> Template:
    """Read a template. Raises FormatError with a sentence."""
    suffix = path.suffix.lower().lstrip(".")
    if suffix not in SUFFIXES:
        raise FormatError(f"“{path.name}” is no template: that is a .docx or .odt file.")
    try:
        data = read_file(path, LARGEST)
    except OSError as error:
        raise FormatError(f"“{path.name}” cannot be read: {error.strerror}.") from None
    except ValueError:
        raise FormatError(f"“{path.name}” is too large for a template.") from None
    return template_of(path.name, data)


def template_of(name: str, data: bytes) -> Template:
    """Return the template in the bytes of a document of this name. Raises FormatError."""
    suffix = name.rpartition(".")[2].lower()
    part = "word/document.xml" if suffix == "docx" else "content.xml"
    with checked(data, name) as file:
        if suffix not in SUFFIXES or part not in file.namelist():
            raise FormatError(f"“{name}” cannot be read: it is no .{suffix} document.")
    return Template(name, suffix, data)


def template_for(templates: tuple[Template, ...], suffix: str) -> Template | None:
    """Return the template for documents of a kind, or None."""
    return next((one for one in templates if one.suffix == suffix), None)


def opened(template: Template, load: Callable[[io.BytesIO], Any]) -> Any:
    """Open a client's document with a library's ``load``. Raises FormatError."""
    try:
        return load(io.BytesIO(template.data))
    except Exception as error:  # libraries have errors of their own, and damaged files find all
        raise FormatError(
            f"“{template.name}” cannot be used: it is damaged, or no .{template.suffix} document."
        ) from error


def filled(text: str, values: Mapping[str, str]) -> str:
    """Return a text with its places filled in; one that has no value of its name stays."""
    return _PLACE.sub(lambda found: values.get(found[1].casefold(), found[0]), text)


def has_places(text: str, values: Mapping[str, str]) -> bool:
    """Whether a text has a place to fill in."""
    return any(found[1].casefold() in values for found in _PLACE.finditer(text))

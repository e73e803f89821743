"""Read and write translation memories as TMX 1.4b (LISA, 2005)."""

from __future__ import annotations

import xml.etree.ElementTree as ET
from collections.abc import Mapping

from tamarind import __version__
from tamarind.formats.captionfile import FormatError
from tamarind.transcript.bounds import clean_text
from tamarind.transcript.languages import base_of

_LANGUAGE = "{http://www.w3.org/XML/1998/namespace}lang"
MOST_UNITS = 500_000


def write(pairs: Mapping[str, str], source: str, target: str) -> str:
    """Return a memory with a unit for each sentence and its translation."""
    root = ET.Element("tmx", {"version": "1.4"})
    ET.SubElement(
        root,
        "header",
        {
            "creationtool": "Tamarind", "creationtoolversion": __version__, "segtype": "sentence",
            "o-tmf": "Tamarind", "adminlang": "en", "srclang": source, "datatype": "plaintext",
        },
    )  # fmt: skip
    body = ET.SubElement(root, "body")
    for said, translation in pairs.items():
        unit = ET.SubElement(body, "tu")
        for language, text in ((source, said), (target, translation)):
            variant = ET.SubElement(unit, "tuv", {_LANGUAGE: language})
            ET.SubElement(variant, "seg").text = text
    ET.indent(root)
    return f'<?xml version="1.0" encoding="UTF-8"?>\n{ET.tostring(root, "unicode")}\n'


_CODES = frozenset(("bpt", "ept", "ph", "it", "ut"))
"""What holds codes of the program that a text came from."""


def _said(element: ET.Element) -> str:
    """Return the text of an element without codes."""
    parts = [element.text or ""]
    for child in element:
        if child.tag not in _CODES:
            parts.append(_said(child))
        parts.append(child.tail or "")
    return "".join(parts)


def read(text: str, source: str, target: str) -> dict[str, str]:
    """Return the sentences that a memory has in both languages, whatever their regions. Raises
    FormatError."""
    # The document type that TMX itself declares has no entities; any other has no place here.
    if "<!ENTITY" in text[:100_000].upper():
        raise FormatError("The memory declares entities, which none needs.")
    try:
        root = ET.fromstring(text.encode())
    except (ET.ParseError, ValueError) as error:
        raise FormatError(f"The memory is damaged: {error}.") from None
    if root.tag != "tmx":
        raise FormatError("This is no TMX file.")
    found: dict[str, str] = {}
    for number, unit in enumerate(root.iter("tu")):
        if number >= MOST_UNITS:
            break
        texts = {}
        for variant in unit.iter("tuv"):
            language = base_of(variant.get(_LANGUAGE) or variant.get("lang") or "")
            segment = variant.find("seg")
            if segment is not None:
                texts[language] = " ".join(clean_text(_said(segment)).split())
        said, translation = texts.get(base_of(source)), texts.get(base_of(target))
        if said and translation:
            found[said] = translation
    return found

"""Write transcripts as PDF through WeasyPrint: the web page on paper, tagged, with bookmarks and
embedded fonts."""

from __future__ import annotations

import hashlib
import logging
import os
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime
from functools import cache

from tamarind.formats.captionfile import FormatError
from tamarind.formats.format import DocumentKind, Format, FormatOption
from tamarind.formats.reading.office import day_of
from tamarind.formats.reading.page import ruled_page
from tamarind.formats.reading.page import write as page
from tamarind.formats.reading.parts import MARGIN, Reading, reading_of
from tamarind.picture.looks import Face, Weight
from tamarind.picture.shippedfonts import file_of
from tamarind.transcript.fields import Holds
from tamarind.transcript.model import Transcript

UNIVERSAL = "pdf/ua-1"
"""PDF for universal accessibility (ISO 14289-1): tagged, with its language and title."""

DAY_VARIABLE = "SOURCE_DATE_EPOCH"

_FACES = {
    "Vollkorn": (Face.BOOK, ((Weight.REGULAR, False), (Weight.SEMIBOLD, False),
                             (Weight.REGULAR, True))),
    "Cabin": (Face.PLAIN, ((Weight.REGULAR, False), (Weight.SEMIBOLD, False))),
    "JetBrains Mono": (Face.TYPED, ((Weight.REGULAR, False),)),
}  # fmt: skip
"""The faces that the page names, and those that ship for them."""

_WEIGHTS = {Weight.REGULAR: 400, Weight.SEMIBOLD: 600, Weight.BOLD: 700}


def write(transcript: Transcript, reading: Reading) -> bytes:
    """Return the PDF. Raises FormatError if the system's libraries for it are missing."""
    try:
        from weasyprint import CSS, HTML
        from weasyprint.text.fonts import FontConfiguration
    except OSError:
        raise FormatError(
            "PDF needs the system's library Pango: apt-get install libpango-1.0-0"
            " libpangoft2-1.0-0 libharfbuzz-subset0."
        ) from None
    logging.getLogger("weasyprint").setLevel(logging.ERROR)
    logging.getLogger("fontTools").setLevel(logging.ERROR)
    day = day_of(reading.date)
    written = ruled_page if reading.options.page_lines else page
    text = written(transcript, reading).replace(
        "</head>",
        f'<meta name="dcterms.created" content="{day.isoformat()}Z">'
        '<meta name="generator" content="Tamarind"></head>',
        1,
    )
    mark = hashlib.blake2b(text.encode(), digest_size=16).digest()
    with _as_of(day):
        fonts = FontConfiguration()
        look = CSS(string=_faces() + _paper(reading), font_config=fonts, url_fetcher=_fetcher())
        document = HTML(string=text, url_fetcher=_fetcher()).render(
            stylesheets=[look], font_config=fonts, pdf_variant=UNIVERSAL, pdf_tags=True
        )
        made = document.write_pdf(
            pdf_variant=UNIVERSAL, pdf_tags=True, pdf_identifier=mark, custom_metadata=False
        )
    assert isinstance(made, bytes)
    return made


@contextmanager
def _as_of(day: datetime) -> Iterator[None]:
    """Date the embedded fonts by that day, so that the same text makes the same bytes
    (reproducible-builds.org, SOURCE_DATE_EPOCH)."""
    before = os.environ.get(DAY_VARIABLE)
    os.environ[DAY_VARIABLE] = str(round(day.timestamp()))
    try:
        yield
    finally:
        if before is None:
            del os.environ[DAY_VARIABLE]
        else:
            os.environ[DAY_VARIABLE] = before


@cache
def _fetcher() -> object:
    """Return a fetcher for the shipped fonts and nothing else, so that no text of a recording can
    fetch anything."""
    from weasyprint.urls import URLFetcher

    class Shipped(URLFetcher):  # type: ignore[misc]
        """Fetches shipped fonts only."""

        def fetch(self, url: str, headers: object = None) -> object:
            if url not in _ALLOWED:
                raise ValueError("nothing is fetched")
            return super().fetch(url, headers)

    return Shipped(allowed_protocols=("file",), allow_redirects=False)


def _sources() -> dict[str, tuple[str, int, str]]:
    found = {}
    for name, (face, kinds) in _FACES.items():
        for weight, italic in kinds:
            address = file_of(face, weight, italic).as_uri()
            found[address] = name, _WEIGHTS[weight], "italic" if italic else "normal"
    return found


def _faces() -> str:
    return "".join(
        f'@font-face {{ font-family: "{name}"; font-weight: {weight}; font-style: {style};'
        f' src: url("{address}"); }}\n'
        for address, (name, weight, style) in _sources().items()
    )


_ALLOWED = frozenset(_sources())


def _paper(reading: Reading) -> str:
    """Return the CSS of the page, its header and its number."""
    left, right = reading.margins
    head = _quoted(" · ".join(filter(None, (reading.client or reading.title, reading.date))))
    foot = _quoted(reading.title if reading.client else "")
    line = (reading.paper.height - 2 * MARGIN) / max(reading.options.page_lines, 1)
    small = "font: 9pt Cabin, sans-serif; color: #6f655c;"
    return (
        f"@page {{ size: {reading.paper.name}; margin: 25mm {right}mm 25mm {left}mm;"
        f" @top-left {{ content: {head}; {small} }}"
        f" @bottom-left {{ content: {foot}; {small} }}"
        f' @bottom-right {{ content: counter(page) " / " counter(pages); {small} }} }}\n'
        "body { margin: 0; padding: 0; max-width: none; background: none; font-size: 11pt; }\n"
        ".speaker { break-after: avoid; } p { orphans: 3; widows: 3; }\n"
        "nav a { text-decoration: none; } nav a::after { content: leader('.')"
        " target-counter(attr(href), page); }\n"
        f".sheet {{ break-after: page; font: 10pt/{line}mm 'JetBrains Mono'; padding: 0;"
        " margin: 0 0 0 -2.4em; white-space: pre; }\n"
        "nav ol { list-style: none; padding: 0; }\n"
    )


def _quoted(text: str) -> str:
    """Return a text as a CSS string."""
    return '"' + "".join(f"\\{ord(c):06x}" if not c.isalnum() else c for c in text) + '"'


FORMAT = Format(
    ("pdf",),
    "PDF",
    DocumentKind.READING,
    write=lambda transcript, source, options: write(transcript, reading_of(source, options)),
    holds=frozenset({Holds.LOOK, Holds.SPEAKER, Holds.LANGUAGE, Holds.HEADING}),
    choices=frozenset({FormatOption.SIDE_BY_SIDE}),
    rank=4,
)
FORMATS = (FORMAT,)

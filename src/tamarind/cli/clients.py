"""Find the client that a command is for, and set by it what was not said otherwise."""

from __future__ import annotations

import argparse
from dataclasses import replace
from typing import Any

from tamarind.cli.output import tell
from tamarind.formats.reading.template import Template, read_template
from tamarind.job.about import TITLE, About, about
from tamarind.job.client import CLIENTS, Client, ClientError
from tamarind.language.housestyle import HouseStyle, Verbatim
from tamarind.language.stylebook import ORDINARY_STYLE, STYLES
from tamarind.picture.lookbook import LOOKS
from tamarind.picture.looks import Look


def client_called(name: str) -> Client | None:
    """Return the client of a name or in a file; None, which is told, if none is kept by that name.
    Raises ClientError for a file that is none."""
    try:
        return CLIENTS.find(name).as_kept()
    except ClientError:
        if name.endswith(".json") or "/" in name:
            raise
    tell(f"No client “{name}” is kept here: documents only bear the name.")
    return None


def client_settings(client: Client, options: argparse.Namespace) -> dict[str, Any]:
    """Return what a client sets of a command's options, by their names; ``options`` are those that
    were said."""
    delivery = client.delivery
    settings: dict[str, Any] = {
        "for_client": client,
        "style": None,
        "encoding": delivery.encoding,
        "bom": delivery.mark,
        "crlf": delivery.crlf,
        "line_numbers": delivery.numbered,
    }
    if options.command == "transcribe" and delivery.spoken:
        settings["language"] = ",".join(delivery.spoken)
    if options.command == "transcribe" and options.job is None:
        settings["formats"] = options.formats or list(delivery.documents)
        settings["translate"] = options.translate or list(delivery.translations)
    if options.command == "convert" and options.output is not None and not options.output.suffix:
        settings["formats"] = options.formats or list(delivery.documents)
    return settings


def client_of(options: argparse.Namespace) -> Client | None:
    """Return the client that the command is for."""
    client: Client | None = getattr(options, "for_client", None)
    return client


def style_for(options: argparse.Namespace) -> HouseStyle | None:
    """Return the house style that is named, or the client's, with the degree of verbatim that is
    named; None if nothing is. Raises StyleError."""
    client = client_of(options)
    style = None if client is None else client.style
    if options.style is not None:
        style = STYLES.find(options.style)
    if getattr(options, "verbatim", None) is None:
        return style
    return in_degree(style or STYLES.shipped[ORDINARY_STYLE], options)


def in_degree(style: HouseStyle, options: argparse.Namespace) -> HouseStyle:
    """Return a house style with the degree of verbatim that is named, if one is."""
    if options.verbatim is None or style.wording.verbatim.value == options.verbatim:
        return style
    wording = replace(style.wording, verbatim=Verbatim(options.verbatim))
    return replace(style, name=f"{style.name}, {options.verbatim}", wording=wording)


def look_for(options: argparse.Namespace) -> Look | None:
    """Return the caption style that is named, or the client's if documents are to have it. Raises
    LookError."""
    if options.caption_style:
        return LOOKS.find(options.caption_style)
    client = client_of(options)
    return client.look if client is not None and client.delivery.look else None


def about_for(options: argparse.Namespace) -> About:
    """Return what documents say besides their text, by the options and the client."""
    details = dict(options.fields) | ({TITLE: options.title} if options.title else {})
    return about(details, client_of(options))


def name_for(options: argparse.Namespace) -> str:
    """Return the client's name as documents bear it; "" if there is none."""
    client = client_of(options)
    return client.name if client is not None else str(options.client)


def templates_of(options: argparse.Namespace) -> tuple[Template, ...]:
    """Return the templates that are named, and the client's for other kinds of documents. Raises
    FormatError."""
    named = tuple(map(read_template, options.template))
    client = client_of(options)
    mine = client.templates if client is not None else ()
    return (*named, *(one for one in mine if one.suffix not in {own.suffix for own in named}))

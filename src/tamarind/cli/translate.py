"""``tamarind translate``: translate text files, and list what can be translated."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from tamarind.cli.fetchprogress import showing_progress
from tamarind.cli.files import STREAM
from tamarind.cli.output import tell, told
from tamarind.cli.statuses import DONE, SOME_FAILED, WRONG_USE, UseError
from tamarind.cli.textfiles import TextFile, in_and_out, planned, through
from tamarind.formats import documents
from tamarind.formats.captionfile import FormatError
from tamarind.formats.decoding import decode
from tamarind.language.housestyle import StyleError
from tamarind.language.stylebook import ORDINARY_STYLE, STYLES
from tamarind.system.fetching import amount
from tamarind.system.files import read_file
from tamarind.transcript.languages import base_of, by_name, name_of
from tamarind.transcript.model import Transcript
from tamarind.translation.draft import translated
from tamarind.translation.engines import offered, ownserver, shelf
from tamarind.translation.engines.base import TranslationError
from tamarind.translation.engines.catalogue import local_router, router
from tamarind.translation.exchange import tmx
from tamarind.translation.memory import TranslationMemory
from tamarind.translation.routes import Route, Router
from tamarind.translation.termbook import TermBook, TermBookError, read_terms

DIRECT, SERVER = "direct", "server"
NO_SERVER = "No translation server is switched on: the window’s Translation page names one."


def translate(options: argparse.Namespace) -> int:
    """Translate texts, or list engines and pairs; return the exit status."""
    if options.add:
        return _add(options.add)
    if options.fetch:
        return _fetch(options.fetch)
    if options.engine == SERVER and ownserver.engine() is None:
        return told(NO_SERVER, WRONG_USE)
    over = router() if options.engine == SERVER else local_router()
    if options.list:
        print("\n".join(_lines(over)))
        return DONE
    if not options.to or not options.paths:
        return told("Which files, and --to which language? --list tells.", WRONG_USE)
    try:
        style = STYLES.find(options.style or ORDINARY_STYLE)
        terms = _terms_in(options.glossary)
        memory = _text_in(options.memory)
        named, output = in_and_out(options)
        if len(options.to) > 1 and not options.formats:
            raise UseError("Several languages need --format, and -o with a folder.")
        files = planned(named, output, options.formats)
    except (UseError, StyleError) as error:
        return told(error, WRONG_USE)
    status = DONE
    for language in options.to:

        def into(transcript: Transcript, _file: TextFile, language: str = language) -> Transcript:
            route = _route(over, transcript.language, language, options)
            source = transcript.language
            known = TranslationMemory(tmx.read(memory, source, language) if memory else {})
            return translated(transcript, language, style, over, route, terms, known)

        own = files if not options.formats else [_for_language(f, language) for f in files]
        status = max(status, through(own, into, documents.USUAL, options))
    return status


def _add(path: Path) -> int:
    """Add a translation model."""
    try:
        model = shelf.add(path)
    except TranslationError as error:
        return told(error, SOME_FAILED)
    tell(f"{model.folder}: translates {name_of(model.source)} to {name_of(model.target)}.")
    return DONE


def _fetch(pair: str) -> int:
    """Fetch a pair's model, or list what can be fetched."""
    try:
        found = offered.offers()
        if pair == "?":
            tell("\n".join(f"{one.name}  {one.in_words}, {amount(one.size)}" for one in found))
            return DONE
        offer = next((one for one in found if one.name == pair), None)
        if offer is None:
            return told(
                f"There is no model “{pair}” to download. List them with --fetch ?", WRONG_USE
            )
        with showing_progress(pair) as show:
            model = offered.fetch(offer, shelf.home(), show)
    except TranslationError as error:
        return told(error, SOME_FAILED)
    tell(f"{model.folder}: translates {offer.in_words}.")
    return DONE


def _for_language(file: TextFile, language: str) -> TextFile:
    """Return file names with the language in them, for a folder."""
    target = file.target
    if target == STREAM:
        return file
    return replace(file, target=target.with_name(f"{target.stem}.{language}{target.suffix}"))


def _terms_in(path: Path | None) -> TermBook:
    try:
        return read_terms(_text_in(path))
    except TermBookError as error:
        raise UseError(f"{path}: {error}") from None


def _text_in(path: Path | None) -> str:
    """Return the text of a file, or "" if none is named. Raises UseError."""
    if path is None:
        return ""
    try:
        return decode(read_file(path, documents.LARGEST_FILE)).text
    except OSError as error:
        raise UseError(f"{path}: {error.strerror}.") from None
    except FormatError as error:
        raise UseError(f"{path}: {error}") from None


def _route(over: Router, source: str, target: str, options: argparse.Namespace) -> Route:
    """Return the route that the options name, or the best one. Raises TranslationError."""
    best = over.route(source, target)
    found = over.routes(source, target)
    if options.engine:
        found = [r for r in found if any(leg.engine == options.engine for leg in r.legs)]
    if options.by:
        wanted = "" if options.by == DIRECT else options.by
        found = [r for r in found if options.by == r.key or wanted == _between(r)]
    if not (options.engine or options.by):
        return best
    if not found:
        known = "; ".join(_described(route) for route in over.routes(source, target))
        raise TranslationError(f"There is no such route to {name_of(target)}, but: {known}.")
    return found[0]


def _between(route: Route) -> str:
    """Return the intermediate languages that --by names."""
    return ",".join(leg.target for leg in route.legs[:-1])


def _described(route: Route) -> str:
    engines = "+".join(dict.fromkeys(leg.engine for leg in route.legs))
    return f"--by {_between(route) or DIRECT} (--engine {engines})"


def _lines(over: Router) -> Sequence[str]:
    """Return a line for each language pair, with its best route first."""
    sources = {base_of(leg.source) for leg in over.legs()}
    lines = []
    for source in by_name(sources):
        for target in over.targets(source):
            route, *others = over.routes(source, target)
            more = ", ".join(_between(one) or DIRECT for one in others)
            line = f"{source} {target}  {name_of(source)} to {name_of(target)}: {route.described}"
            lines.append(f"{line}; also {more}" if more else line)
    return lines or ["Nothing here translates."]

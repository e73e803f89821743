"""``tamarind models``: list, fetch, remove and measure models."""

from __future__ import annotations

import argparse
import shutil
from pathlib import Path

from tamarind.cli.fetchprogress import showing_progress
from tamarind.cli.output import tell, told
from tamarind.cli.statuses import DONE, SOME_FAILED, WRONG_USE
from tamarind.speech.recognisers import hub
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.folder import look_into
from tamarind.speech.recognisers.known.multilingual import languages_of_many
from tamarind.speech.recognisers.offered import (
    OFFERS,
    base_slowness,
    in_words,
    offer_for,
)
from tamarind.speech.recognisers.room import memory_in_words
from tamarind.speech.recognisers.shelf import folders_here, models_home, own_shelf
from tamarind.speech.recognisers.slowness import measure, measured
from tamarind.system.fetching import amount


def models(options: argparse.Namespace) -> int:
    """Do what was asked; return the exit status."""
    if options.act == "list":
        print("\n".join(_lines()))
        return DONE
    if not options.name:
        return told(f"which model? tamarind models {options.act} NAME", WRONG_USE)
    try:
        if options.act == "fetch":
            return _fetch(options.name)
        folder = _folder_of(options.name)
        if options.act == "remove":
            return _remove(folder)
        tell(f"{folder.name}: {in_words(measure(folder))}, measured here.")
    except RecogniserError as error:
        return told(error, SOME_FAILED)
    return DONE


def _lines() -> list[str]:
    lines = ["builtin       English; the quickest"]
    if languages_of_many():
        slow = in_words(base_slowness())
        lines.append(f"many          {len(languages_of_many())} languages; {slow}")
    here = folders_here()
    for folder in here:
        try:
            model = look_into(folder)
        except RecogniserError as error:
            lines.append(f"{folder.name:<13} {error}")
            continue
        factor = measured(folder)
        slow = f"; {in_words(factor)}, measured here" if factor else ""
        lines.append(f"{folder.name:<13} {model.hears}; {amount(model.size)}{slow}; {folder}")
    lines.append("")
    lines.append("to download with: tamarind models fetch NAME")
    for offer in OFFERS:
        if models_home() / offer.name not in here:
            about = (
                f"{offer.hears}; {amount(offer.size)}; {in_words(offer.slowness)};"
                f" {memory_in_words(offer.millions)}"
            )
            came = hub.here_already(offer, models_home())
            rest = f"; {amount(came)} downloaded, the rest resumes from there" if came else ""
            lines.append(f"{offer.name:<13} {about}; {offer.accuracy}{rest}")
    return lines


def _fetch(name: str) -> int:
    offer = offer_for(name)
    if offer is None:
        known = ", ".join(one.name for one in OFFERS)
        return told(f"There is no model “{name}” to download. There are {known}.", WRONG_USE)
    with showing_progress(name) as show:
        model = hub.fetch(offer, models_home(), show)
    own_shelf().add(model.path)
    tell(f"{name} is here; transcribe with it by --recogniser {name}.")
    return DONE


def _folder_of(name: str) -> Path:
    """Return the folder of a model by its name or path. Raises RecogniserError."""
    for folder in folders_here():
        if name in (folder.name, str(folder)):
            return folder
    if Path(name).is_dir():
        return Path(name)
    raise RecogniserError(f"there is no model “{name}” here.")


def _remove(folder: Path) -> int:
    shelf = own_shelf()
    if folder not in shelf.folders():
        return told(f"{folder} is not yours to take away.", SOME_FAILED)
    shelf.remove(folder)
    if folder.parent == models_home():
        shutil.rmtree(folder, ignore_errors=True)
        tell(f"{folder.name} is gone.")
    else:
        tell(f"{folder.name} is off the list; its folder is still there.")
    return DONE

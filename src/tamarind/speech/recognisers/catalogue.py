"""The recognisers that exist: those that ship, and folders with models.

Nothing heavy is loaded here until a recogniser is asked for, so that a wrong choice is told at once
and before a batch begins.
"""

from __future__ import annotations

from collections.abc import Iterable
from contextlib import suppress
from dataclasses import dataclass, replace
from functools import cache
from importlib import import_module
from pathlib import Path
from pkgutil import iter_modules
from typing import TYPE_CHECKING

from tamarind.speech.hearingoptions import BUILTIN, Care, HearingOptions
from tamarind.speech.recognisers import known
from tamarind.speech.recognisers.entry import RecogniserEntry
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.folder import ModelFormat, look_into, require_library
from tamarind.speech.recognisers.known import multilingual
from tamarind.speech.recognisers.known.dictionary import DICTIONARY
from tamarind.speech.recognisers.known.english import ENGLISH, ENGLISH_ONLY
from tamarind.speech.recognisers.known.multilingual import MANY, NOT_INSTALLED
from tamarind.speech.recognisers.known.pretended import PRETENDED
from tamarind.speech.recognisers.shelf import folders_here
from tamarind.transcript.languages import NAMED, UNDETERMINED, base_of, name_of

if TYPE_CHECKING:
    from tamarind.speech.alignment import Aligner
    from tamarind.speech.recognisers.base import Recogniser


@dataclass(frozen=True, slots=True)
class KnownRecogniser:
    """A recogniser that can be chosen; ``languages`` are BCP 47 tags, empty for any."""

    name: str
    label: str
    languages: tuple[str, ...]

    def hears(self, language: str) -> bool:
        """Whether it recognises a language, in any region."""
        return not self.languages or base_of(language) in self.languages


@cache
def _entries() -> dict[str, RecogniserEntry]:
    """Return the recognisers that ship by name, in the order of lists."""
    modules = (
        import_module(f"{known.__name__}.{one.name}") for one in iter_modules(known.__path__)
    )
    entries: list[RecogniserEntry] = sorted(
        (one.ENTRY for one in modules), key=lambda one: one.rank
    )
    return {one.name: one for one in entries}


def _choice_of(entry: RecogniserEntry) -> KnownRecogniser:
    return KnownRecogniser(entry.name, entry.label, entry.languages())


def shipped() -> tuple[KnownRecogniser, ...]:
    """Return those that ship and are installed."""
    return tuple(_choice_of(one) for one in _entries().values() if one.rank and not one.missing())


def slowness_of(name: str) -> float | None:
    """Return how many times as long as the built-in one a recogniser takes; None for an unknown
    name."""
    entry = _entries().get(name)
    return None if entry is None else entry.slowness()


def only_language(how: HearingOptions) -> str:
    """Return the language of these settings if there is only one; else ""."""
    chosen = choice(how.recogniser)
    if chosen.name == PRETENDED:
        return ENGLISH_ONLY[0]
    return chosen.languages[0] if len(chosen.languages) == 1 and not how.into_english else ""


def with_only_language(how: HearingOptions) -> HearingOptions:
    """Return the settings with the language set, if it need not be detected."""
    only = only_language(how) if how.language == UNDETERMINED else ""
    return replace(how, language=only) if only else how


def second_for(how: HearingOptions) -> str:
    """Return the name of the recogniser for a second opinion; the same as ``best_for`` if that one
    works in another way then, "" if there is none."""
    if how.care is Care.QUICK or how.into_english or how.language == UNDETERMINED:
        return ""
    first = best_for(how)
    if first in (PRETENDED, DICTIONARY):
        return ""
    is_shipped = any(one.name == first for one in shipped())
    if is_shipped or how.care is Care.DOUBLE:
        with suppress(RecogniserError):
            return both_for(how)[1]
    # A model of one's own is not set right by those that come along.
    return first


def more_for(how: HearingOptions) -> list[str]:
    """Return the names of further recognisers that vote where the first two differ: with
    ``Care.DOUBLE``, every other network for the languages."""
    if how.care is not Care.DOUBLE or how.into_english or how.language == UNDETERMINED:
        return []
    taken = {_own_name(one) for one in (best_for(how), second_for(how)) if one}
    if len(taken) < 2:
        return []
    known = [*(str(folder) for folder in folders_here()), MANY, ENGLISH]
    return [
        name
        for name in known
        if name not in taken and all(hears(name, tag) for tag in how.languages)
    ]


def heard_by(how: HearingOptions) -> tuple[str, ...]:
    """Return the names of all recognisers used with these settings."""
    names = [_own_name(one) for one in (best_for(how), second_for(how)) if one]
    return tuple(dict.fromkeys([*names, *more_for(how)]))


def both_for(how: HearingOptions) -> tuple[str, str]:
    """Return the names of the two recognisers of different kinds for two opinions: the first, and
    the best other one. Raises RecogniserError if there is only one."""
    first = _own_name(best_for(how))
    others = [str(folder) for folder in folders_here()]
    others.sort(key=lambda name: -_size_of(Path(name)))
    for name in (*others, MANY, ENGLISH):
        if name != first and all(hears(name, tag) for tag in how.languages):
            return first, name
    spoken = " and ".join(map(name_of, how.languages))
    raise RecogniserError(
        f"Two recognisers need a second one that knows {spoken}, and there is none here."
        + ("" if multilingual.languages_of_many() else f" {NOT_INSTALLED}")
    )


def _own_name(name: str) -> str:
    """Return the name of the network that a recogniser uses."""
    return ENGLISH if name == BUILTIN else name


def other_than(name: str, how: HearingOptions) -> str:
    """Return the name of a shipped recogniser for this language other than ``name``; "" if there is
    none."""
    if name == PRETENDED:
        return ""
    others = (one for one in (ENGLISH, MANY) if one != _own_name(name))
    return next((one for one in others if hears(one, how.language)), "")


def _size_of(folder: Path) -> int:
    try:
        return look_into(folder).size
    except RecogniserError:
        return 0


def best_for(how: HearingOptions) -> str:
    """Return the name of the recogniser for these settings, for ``load``. Raises RecogniserError
    for one that is not here.

    The built-in recogniser leaves what it does not hear itself to the multilingual one, if that is
    there. All that know one language only leave it English that is heard from others. A language
    that is yet to be found out is taken for English.
    """
    if how.into_english and (
        how.recogniser == BUILTIN or len(choice(how.recogniser).languages) == 1
    ):
        return MANY
    if how.recogniser != BUILTIN:
        return how.recogniser
    if all(base_of(one) in (*ENGLISH_ONLY, UNDETERMINED) for one in how.languages):
        return BUILTIN
    return MANY if multilingual.languages_of_many() else BUILTIN


def languages_here(folders: Iterable[Path]) -> tuple[str, ...]:
    """Return all languages that can be transcribed, by what ships and the models in some
    folders."""
    found = [tag for one in shipped() for tag in one.languages]
    for folder in folders:
        with suppress(RecogniserError):
            found += look_into(folder).languages or NAMED
    return tuple(dict.fromkeys(found))


def choice(name: str) -> KnownRecogniser:
    """Return the recogniser with this name or in this folder.

    Raises RecogniserError with a sentence that says what is missing.
    """
    entry = _entries().get(name)
    if entry is not None:
        if entry.missing():
            raise RecogniserError(entry.missing())
        return _choice_of(entry)
    folder = Path(name).expanduser()
    if not folder.is_dir():
        folder = next((one for one in folders_here() if one.name == name), folder)
    if not folder.is_dir():
        names = ", ".join(f"“{one.name}”" for one in shipped())
        raise RecogniserError(f"“{name}” is no recogniser ({names}) and no folder with a model.")
    model = look_into(folder)
    require_library(model)
    return KnownRecogniser(str(folder), f"the model in {folder.name}", model.languages)


def hears(name: str, language: str) -> bool:
    """Whether there is such a recogniser here for a language."""
    try:
        return choice(name).hears(language)
    except RecogniserError:
        return False


def check(how: HearingOptions) -> None:
    """Raise RecogniserError if nothing can transcribe the language in the chosen way."""
    chosen = choice(how.recogniser)
    if how.care is Care.DOUBLE and how.language != UNDETERMINED:
        both_for(how)
    if how.language == UNDETERMINED:
        if not multilingual.languages_of_many() and not only_language(how):
            raise RecogniserError(f"The language cannot be found out here. {NOT_INSTALLED}")
        return
    if how.into_english and best_for(how) == MANY and not multilingual.languages_of_many():
        raise RecogniserError(
            f"Nothing here transcribes other languages into English. {NOT_INSTALLED}"
        )
    unknown = [language for language in how.languages if not chosen.hears(language)]
    if unknown:
        few = len(chosen.languages) < 4
        known = ", ".join(chosen.languages) + " only" if few else f"{len(chosen.languages)} others"
        subject = (
            "what is installed" if chosen.name == BUILTIN else f"the recogniser “{chosen.name}”"
        )
        raise RecogniserError(
            f"Nothing here recognises “{unknown[0]}”: {subject} knows {known}."
            " A model for that language can be given as a folder."
        )


def load(name: str, aligner: Aligner) -> Recogniser:
    """Load a recogniser, which may use the aligner. Raises RecogniserError."""
    chosen = choice(name)
    if chosen.name in _entries():
        return _entries()[chosen.name].load(aligner)
    folder = Path(chosen.name)
    if look_into(folder).format is ModelFormat.CTRANSLATE:
        from tamarind.speech.recognisers.multilingual.recogniser import MultilingualRecogniser

        return MultilingualRecogniser(folder, aligner)
    from tamarind.speech.recognisers.builtin import BuiltinRecogniser

    return BuiltinRecogniser(folder, aligner=aligner)

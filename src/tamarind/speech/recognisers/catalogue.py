"""Which recognisers there are: those that come with the program, and folders with models.

Nothing heavy is loaded here until a recogniser is asked for, so that a wrong choice is told at once
and before a batch begins.
"""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from tamarind.speech.hearingoptions import BUILTIN, HearingOptions
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.folder import Format, look_into, require_library

if TYPE_CHECKING:
    from tamarind.speech.alignment import Aligner
    from tamarind.speech.recognisers.base import Recogniser

DICTIONARY = "dictionary"
"""The name of the pronouncing-dictionary recogniser: less accurate, but of another kind."""


@dataclass(frozen=True, slots=True)
class Choice:
    """A recogniser that can be chosen; ``languages`` are BCP 47 tags, empty for any."""

    name: str
    label: str
    languages: tuple[str, ...]

    def hears(self, language: str) -> bool:
        """Whether it hears a language, whatever the region."""
        return not self.languages or language.split("-")[0].casefold() in self.languages


SHIPPED = (
    Choice(BUILTIN, "built in", ("en",)),
    Choice(DICTIONARY, "by dictionary, less accurate", ("en",)),
)

PRETENDED = "pretended"
STAND_INS = (Choice(PRETENDED, "a stand-in, for trying", ()),)
"""Taken by their name, and in no list."""


def choice(name: str) -> Choice:
    """The recogniser with this name or in this folder.

    Raises RecogniserError with a sentence that says what is missing.
    """
    for shipped in (*SHIPPED, *STAND_INS):
        if shipped.name == name:
            return shipped
    folder = Path(name).expanduser()
    if not folder.is_dir():
        names = ", ".join(f"“{shipped.name}”" for shipped in SHIPPED)
        raise RecogniserError(f"“{name}” is no recogniser ({names}) and no folder with a model.")
    model = look_into(folder)
    require_library(model)
    return Choice(str(folder), f"the model in {folder.name}", model.languages)


def check(how: HearingOptions) -> None:
    """Raise RecogniserError if nothing would hear the language in the chosen way."""
    chosen = choice(how.recogniser)
    if not chosen.hears(how.language):
        known = ", ".join(chosen.languages)
        raise RecogniserError(
            f"Nothing here hears “{how.language}”: the recogniser “{chosen.name}” knows {known} "
            "only. A model for that language can be given as a folder."
        )


def load(name: str, aligner: Aligner) -> Recogniser:
    """Load a recogniser, which may ask the aligner; raises RecogniserError when it cannot be."""
    chosen = choice(name)
    if chosen.name == PRETENDED:
        from tamarind.speech.recognisers.pretended import PretendedRecogniser

        return PretendedRecogniser()
    if chosen.name == DICTIONARY:
        from tamarind.speech.recognisers.dictionary import DictionaryRecogniser

        return DictionaryRecogniser()
    if chosen.name != BUILTIN and look_into(Path(chosen.name)).format is Format.CTRANSLATE:
        from tamarind.speech.recognisers.ctranslate import CTranslateRecogniser

        return CTranslateRecogniser(Path(chosen.name))
    from tamarind.speech.recognisers.builtin import BuiltinRecogniser

    folder = None if chosen.name == BUILTIN else Path(chosen.name)
    return BuiltinRecogniser(folder, aligner=aligner)

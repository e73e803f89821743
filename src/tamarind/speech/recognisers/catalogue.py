"""Which recognisers there are: those that come with the program, and folders with models.

Nothing heavy is loaded here until a recogniser is asked for, so that a wrong choice is told at once
and before a batch begins.
"""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from tamarind.speech.howtohear import BUILTIN, HowToHear
from tamarind.speech.recognisers.errors import RecogniserError

if TYPE_CHECKING:
    from tamarind.speech.recognisers.base import Recogniser

DICTIONARY = "dictionary"
"""The name of the pronouncing-dictionary recogniser: less accurate, but of another kind."""

NETWORK_FILES = ("encoder_model.ort", "decoder_model_merged.ort", "tokenizer.bin")
"""What a folder in the built-in model's format holds."""


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
    Choice(DICTIONARY, "by pronouncing dictionary, a second opinion", ("en",)),
)


def choice(name: str) -> Choice:
    """The recogniser with this name or in this folder.

    Raises RecogniserError with a sentence that says what is missing.
    """
    for shipped in SHIPPED:
        if shipped.name == name:
            return shipped
    folder = Path(name).expanduser()
    if not folder.is_dir():
        names = ", ".join(f"“{shipped.name}”" for shipped in SHIPPED)
        raise RecogniserError(f"“{name}” is no recogniser ({names}) and no folder with a model.")
    missing = [file for file in NETWORK_FILES if not (folder / file).is_file()]
    if not missing:
        return Choice(str(folder), f"the model in {folder.name}", ())
    if len(missing) < len(NETWORK_FILES):
        raise RecogniserError(f"The model in “{folder}” is not whole: {missing[0]} is missing.")
    needed = ", ".join(NETWORK_FILES)
    raise RecogniserError(f"“{folder}” holds no model that can be used here ({needed}).")


def check(how: HowToHear) -> None:
    """Raise RecogniserError if nothing would hear the language in the chosen way."""
    chosen = choice(how.recogniser)
    if not chosen.hears(how.language):
        known = ", ".join(chosen.languages)
        raise RecogniserError(
            f"Nothing here hears “{how.language}”: the recogniser “{chosen.name}” knows {known} "
            "only. A model for that language can be given as a folder."
        )


def load(name: str) -> Recogniser:
    """Load a recogniser; raises RecogniserError when it cannot be."""
    chosen = choice(name)
    if chosen.name == DICTIONARY:
        from tamarind.speech.recognisers.dictionary import DictionaryRecogniser

        return DictionaryRecogniser()
    from tamarind.speech.recognisers.builtin import BuiltinRecogniser

    return BuiltinRecogniser() if chosen.name == BUILTIN else BuiltinRecogniser(Path(chosen.name))

"""The built-in recogniser: the English model inside the moonshine-voice package, decoded by us."""

from __future__ import annotations

import importlib.util
import math
from collections.abc import Sequence
from pathlib import Path

from tamarind.audio.decode import Samples
from tamarind.speech.alignment import Aligner
from tamarind.speech.confidence import builtin_confidence
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.recognisers.decoder import BuiltinDecoder
from tamarind.speech.recognisers.decoding import DecoderState, Floats
from tamarind.speech.recognisers.encoder import BuiltinEncoder
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.modelfile import ModelFileError
from tamarind.speech.recognisers.searching import Judge, SearchingRecogniser
from tamarind.speech.recognisers.tokens import BEGIN, END, BuiltinVocabulary

TOKENS_A_SECOND = 9
"""No one speaks faster than this; a text that goes on beyond it is a loop."""


def model_folder() -> Path:
    """Where the installed package keeps its model.

    Raises RecogniserError when the package is missing or carries none.
    """
    spec = importlib.util.find_spec("moonshine_voice")
    if spec is None or spec.origin is None:
        raise RecogniserError("The built-in recogniser is not installed; run scripts/start again.")
    folder = Path(spec.origin).parent / "assets" / "tiny-en"
    if not (folder / "encoder_model.ort").is_file():
        raise RecogniserError(
            "The installed moonshine-voice package carries no model; version 0.1.0 does."
        )
    return folder


class BuiltinNetwork:
    """The network for English, or a model of the same format in a ``folder`` for whatever language,
    which only the person knows. Raises RecogniserError if it cannot be read."""

    first, end, ends_early, at_once = BEGIN, END, False, 16

    def __init__(self, folder: Path | None = None) -> None:
        self.languages: tuple[str, ...] = ("en",) if folder is None else ()
        folder = folder or model_folder()
        try:
            self._encoder = BuiltinEncoder(folder / "encoder_model.ort")
            self._decoder = BuiltinDecoder(folder / "decoder_model_merged.ort")
            self.vocabulary = BuiltinVocabulary(folder / "tokenizer.bin")
        except (ModelFileError, IndexError, OSError) as error:
            raise RecogniserError(f"The model in “{folder}” cannot be read: {error}") from None

    def most_tokens(self, seconds: float) -> int:
        """Return the most tokens that the fastest speech needs."""
        return math.ceil(seconds * TOKENS_A_SECOND)

    def listen(self, sound: Samples) -> Floats:
        """Return the hidden states of a sound."""
        return self._encoder.hidden(sound)

    def rest(self) -> None:
        """Free the memory that is kept for the next sound."""
        self._encoder.rest()

    def begin(self, hidden: Sequence[Floats], beams: int, how: HearingOptions) -> DecoderState:
        """Start decoding with empty texts."""
        return self._decoder.begin(hidden, beams)

    def score(self, hidden: Floats, texts: Sequence[Sequence[int]], how: HearingOptions) -> Floats:
        """Return the log probability of whole texts."""
        return self._decoder.score(hidden, [[BEGIN, *text, END] for text in texts])


class BuiltinRecogniser(SearchingRecogniser):
    """The search with the built-in network, or one of its format in a folder."""

    def __init__(
        self,
        folder: Path | None = None,
        threads: int | None = None,
        judge: Judge = builtin_confidence,
        aligner: Aligner | None = None,
    ) -> None:
        super().__init__(BuiltinNetwork(folder), aligner or Aligner(), judge, threads)

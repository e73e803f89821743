"""Load a multilingual network from a folder of CTranslate2's format.

It is not run by that library, which shows neither what was nearly said at each step nor lets a
search be steered, but as the built-in one is.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from pathlib import Path

import numpy as np

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.memory import trim
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.recognisers.decoding import DecoderState, Floats, score
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.folder import look_into, require_library
from tamarind.speech.recognisers.modelfile import ModelFileError
from tamarind.speech.recognisers.multilingual.decoder import MultilingualDecoder
from tamarind.speech.recognisers.multilingual.encoder import MultilingualEncoder
from tamarind.speech.recognisers.multilingual.mel import FRAMES, HOP, log_mel
from tamarind.speech.recognisers.multilingual.vocabulary import MultilingualVocabulary
from tamarind.speech.recognisers.multilingual.weights import Weights
from tamarind.speech.recognisers.room import check_room
from tamarind.transcript.languages import base_of

TOKENS_A_SECOND = 14
"""No one speaks faster than this, in no script."""

MOST_TOKENS = 220
"""The network has learnt no longer texts."""

SILENCE_AFTER = SAMPLE_RATE
"""So much silence follows a sound: with less the network writes over its end. It was made for 30 s
at a time, but is as accurate with what is there and a second more, and nearly twice as fast."""


class MultilingualNetwork:
    """Loaded once and shared by threads. Raises RecogniserError if the folder cannot be used."""

    ends_early, at_once = True, 12

    def __init__(self, folder: Path) -> None:
        model = look_into(folder)
        require_library(model)
        try:
            self.vocabulary = MultilingualVocabulary(folder)
            weights = Weights(folder / "model.bin")
            check_room(folder.name, weights.millions)
            told = len(self.vocabulary.prompt(next(iter(self.vocabulary.languages), "")))
            self._decoder = MultilingualDecoder(weights, self.vocabulary.barred, told - 1)
            self._encoder = MultilingualEncoder(weights)
        except ModelFileError as error:
            raise RecogniserError(f"The model in “{folder}” cannot be used: {error}.") from error
        trim()
        self.languages = model.languages
        self.end = self.vocabulary.end
        self.first = self.vocabulary.prompt(self.languages[0])[-1]

    def most_tokens(self, seconds: float) -> int:
        """Return the most tokens that the fastest speech needs and the network can write."""
        return min(math.ceil(seconds * TOKENS_A_SECOND) + 4, MOST_TOKENS)

    def listen(self, sound: Samples) -> Floats:
        """Return hidden states (frames of 20 ms, width)."""
        frames = min((len(sound) + SILENCE_AFTER) // HOP // 2 * 2, FRAMES)
        return self._encoder.hidden(log_mel(sound, self._encoder.bands)[:, :frames])

    def rest(self) -> None:
        """Free the memory that is kept for the next sound."""
        self._encoder.rest()

    def begin(self, hidden: Sequence[Floats], beams: int, how: HearingOptions) -> DecoderState:
        """Start with texts that have only the prompt: language and task."""
        state = DecoderState(self._decoder, hidden, beams)
        for token in self._told(how)[:-1]:
            state.step(np.full(len(hidden) * beams, token, np.int64))
        return state

    def languages_heard(self, sound: Samples) -> dict[str, float]:
        """Return the probability of each language, by the first token for a sound."""
        state = DecoderState(self._decoder, [self.listen(sound)], 1)
        told = state.step(np.array([self.vocabulary.begin], np.int64))[0]
        tokens = self.vocabulary.languages
        logs = told[list(tokens.values())]
        shares = np.exp(logs - logs.max())
        return dict(zip(tokens, (shares / shares.sum()).tolist(), strict=True))

    def score(self, hidden: Floats, texts: Sequence[Sequence[int]], how: HearingOptions) -> Floats:
        """Return the log probability of whole texts."""
        told = self._told(how)
        return score(self._decoder, hidden, [[*told, *text, self.end] for text in texts])

    def _told(self, how: HearingOptions) -> list[int]:
        return self.vocabulary.prompt(base_of(how.language), how.into_english)

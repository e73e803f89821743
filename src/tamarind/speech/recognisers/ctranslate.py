"""A recogniser for model folders in CTranslate2 format, by way of faster-whisper.

For other languages and for larger models than the one that comes with the program. The package is
an optional extra; nothing of it is imported before a folder is used.
"""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

import numpy as np

from tamarind.audio.decode import Samples
from tamarind.speech.cores import cores
from tamarind.speech.hearingoptions import Care, HearingOptions
from tamarind.speech.recognisers.base import HeardWord, Hypothesis
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.folder import look_into, require_library

BEAMS = {Care.QUICK: 2, Care.THOROUGH: 5}
LONGEST_HINT = 60
"""How many terms of a glossary the model is told of; it has no room for more."""


class CTranslateRecogniser:
    """Hears with the model in a folder; raises RecogniserError when that cannot be loaded."""

    def __init__(self, folder: Path) -> None:
        model = look_into(folder)
        require_library(model)
        from faster_whisper import WhisperModel

        self.languages = model.languages
        try:
            self._model = WhisperModel(
                str(folder), device="cpu", cpu_threads=cores(), local_files_only=True
            )
        except Exception as error:  # each part of the library has its own kinds of errors
            reason = str(error).strip().splitlines()[0] if str(error).strip() else "no reason told"
            raise RecogniserError(f"The model in “{folder}” cannot be used: {reason}") from error

    def hear(self, segments: Sequence[Samples], how: HearingOptions) -> list[list[Hypothesis]]:
        """One segment after the other, in the language that the person chose."""
        language = how.language.split("-")[0].casefold()
        if language not in self.languages:
            raise RecogniserError(f"This model does not hear “{how.language}”.")
        return [[self._hear_one(segment, language, how)] for segment in segments]

    def _hear_one(self, segment: Samples, language: str, how: HearingOptions) -> Hypothesis:
        terms = ", ".join(term.text for term in how.glossary.terms[:LONGEST_HINT])
        pieces, _ = self._model.transcribe(
            np.ascontiguousarray(segment, np.float32),
            language=language,
            beam_size=BEAMS[how.care],
            word_timestamps=True,
            condition_on_previous_text=False,
            hotwords=terms or None,
            temperature=0.0,
        )
        words: list[HeardWord] = []
        score = 0.0
        for piece in pieces:
            score += piece.avg_logprob * max(len(piece.tokens), 1)
            words += [
                HeardWord(
                    text,
                    float(np.clip(word.probability, 0.0, 1.0)),
                    time=(round(word.start * 1000), round(word.end * 1000)),
                )
                for word in piece.words or ()
                if (text := word.word.strip())
            ]
        return Hypothesis(tuple(words), score)

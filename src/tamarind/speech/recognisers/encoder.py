"""The built-in model's encoder, run by onnxruntime: from sound to hidden states."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import onnxruntime
from numpy.typing import NDArray

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.speech.recognisers.modelfile import ModelFileError

Floats = NDArray[np.float32]


SHORTEST = SAMPLE_RATE // 4
"""Fewer samples than this the network cannot hear."""


class Encoder:
    """One chunk at a time, so that no chunk is padded and none changes what another becomes.

    The network scales its input by statistics of the whole chunk and quantises by the largest
    value in it; in a batch, its neighbours' padding and loudness would take part in both.
    """

    def __init__(self, path: Path, threads: int = 1) -> None:
        options = onnxruntime.SessionOptions()
        options.intra_op_num_threads = threads
        options.inter_op_num_threads = 1
        options.log_severity_level = 3
        try:
            self._session = onnxruntime.InferenceSession(path, options)
        except Exception as error:  # onnxruntime has a class of its own for each reason
            raise ModelFileError(f"{path.name} is no network that can be run.") from error

    def rest(self) -> None:
        """Give back the room that the engine keeps for the next chunk; it is more than its weights.

        It does so only at the end of a run, so that a very short one is made.
        """
        options = onnxruntime.RunOptions()
        options.add_run_config_entry("memory.enable_memory_arena_shrinkage", "cpu:0")
        silence = np.zeros((1, SHORTEST), np.float32)
        mask = np.ones(silence.shape, np.int64)
        self._session.run(None, {"input_values": silence, "attention_mask": mask}, options)

    def hidden(self, chunk: Samples) -> Floats:
        """Hidden states (frames of 24 ms, width) of mono float32 at 16 kHz."""
        sound = np.ascontiguousarray(chunk, np.float32)[None]
        mask = np.ones(sound.shape, np.int64)
        result: Floats = self._session.run(None, {"input_values": sound, "attention_mask": mask})[0]
        return np.asarray(result[0], np.float32)

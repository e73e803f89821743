"""The built-in model's two networks in NumPy terms: sound to hidden states, tokens to the next.

The decoder keeps keys and values of what it has seen ("Attention Is All You Need", Vaswani et
al. 2017), so that a step costs one token and not the whole text so far.
"""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

import numpy as np
import onnxruntime
from numpy.typing import NDArray

from tamarind.audio.decode import Samples

Floats = NDArray[np.float32]
Ints = NDArray[np.int64]

_CACHE = "past_key_values."


class SpeechNetwork:
    """Encoder and decoder of one model folder, for batches of chunks."""

    def __init__(self, folder: Path, threads: int) -> None:
        options = onnxruntime.SessionOptions()
        options.intra_op_num_threads = threads
        options.log_severity_level = 3
        self._encoder = onnxruntime.InferenceSession(folder / "encoder_model.ort", options)
        self._decoder = onnxruntime.InferenceSession(folder / "decoder_model_merged.ort", options)
        self._outputs = [output.name for output in self._decoder.get_outputs()]
        caches = [i for i in self._decoder.get_inputs() if i.name.startswith(_CACHE)]
        self._cache_shapes = {i.name: (i.shape[1], i.shape[3]) for i in caches}

    def begin(self, chunks: Sequence[Samples]) -> DecoderState:
        """Encode a batch of chunks; shorter ones are padded and masked."""
        longest = max(len(chunk) for chunk in chunks)
        sound = np.zeros((len(chunks), longest), np.float32)
        mask = np.zeros((len(chunks), longest), np.int64)
        for row, chunk in enumerate(chunks):
            sound[row, : len(chunk)] = chunk
            mask[row, : len(chunk)] = 1
        hidden = self._encoder.run(None, {"input_values": sound, "attention_mask": mask})[0]
        caches = {
            name: np.zeros((len(chunks), heads, int(".encoder." in name), width), np.float32)
            for name, (heads, width) in self._cache_shapes.items()
        }
        return DecoderState(self._decoder, self._outputs, hidden, mask, caches)


class DecoderState:
    """A batch of texts being decoded, one row each."""

    def __init__(
        self,
        session: onnxruntime.InferenceSession,
        outputs: list[str],
        hidden: Floats,
        mask: Ints,
        caches: dict[str, Floats],
    ) -> None:
        self._session = session
        self._outputs = outputs
        self._feed: dict[str, NDArray[np.generic]] = {
            # The mask is at sample resolution, as the model wants it, not at that of ``hidden``.
            "encoder_attention_mask": mask,
            "encoder_hidden_states": hidden,
            "use_cache_branch": np.array([False]),
            **caches,
        }

    def step(self, tokens: Ints) -> Floats:
        """Append one token a row (rows,) and return the logits of the next, (rows, vocabulary)."""
        first = not self._feed["use_cache_branch"][0]
        feed = {**self._feed, "input_ids": tokens[:, None]}
        logits, *caches = self._session.run(None, feed)
        for name, value in zip(self._outputs[1:], caches, strict=True):
            # The encoder's keys and values are whole after the first step and empty later.
            if first or ".decoder." in name:
                self._feed[name.replace("present.", _CACHE)] = value
        self._feed["use_cache_branch"] = np.array([True])
        result: Floats = logits[:, -1]
        return result

    def keep(self, rows: Ints) -> None:
        """Go on with these rows only, in this order."""
        for name, value in self._feed.items():
            if name != "use_cache_branch":
                self._feed[name] = value[rows]

"""A tiny model in CTranslate2 format with random weights: it loads, runs and writes nonsense."""

from collections.abc import Sequence
from pathlib import Path
from typing import Any

import numpy as np
from ctranslate2 import specs
from tokenizers import AddedToken, Tokenizer, decoders, models, pre_tokenizers

WIDTH, HEADS, BANDS, FRAMES, TEXT = 16, 2, 80, 1500, 448


def make_model(folder: Path, languages: Sequence[str] = ("en", "es", "cy"), seed: int = 5) -> None:
    """Write the model; its languages are those whose tokens it has."""
    folder.mkdir(parents=True, exist_ok=True)
    vocabulary = _write_tokenizer(folder, languages)
    spec = specs.WhisperSpec(1, HEADS, 1, HEADS)
    _fill(spec, np.random.default_rng(seed), len(vocabulary))
    spec.register_vocabulary(vocabulary)
    spec.config.suppress_ids = []
    spec.config.suppress_ids_begin = []
    spec.config.alignment_heads = [(0, 0)]
    spec.config.lang_ids = [vocabulary.index(f"<|{code}|>") for code in languages]
    spec.validate()
    spec.optimize()
    spec.save(str(folder))


def _write_tokenizer(folder: Path, languages: Sequence[str]) -> list[str]:
    # The empty token stands in the vocabulary of models for many languages only.
    letters = [*sorted(pre_tokenizers.ByteLevel.alphabet()), ""]
    tokenizer = Tokenizer(models.BPE({letter: n for n, letter in enumerate(letters)}, []))
    tokenizer.pre_tokenizer = pre_tokenizers.ByteLevel(add_prefix_space=False)
    tokenizer.decoder = decoders.ByteLevel()
    special = ["<|endoftext|>", "<|startoftranscript|>", *(f"<|{code}|>" for code in languages),
               "<|translate|>", "<|transcribe|>", "<|startoflm|>", "<|startofprev|>",
               "<|nospeech|>", "<|notimestamps|>"]  # fmt: skip
    tokenizer.add_special_tokens([AddedToken(token, special=True) for token in special])
    times = [f"<|{n * 0.02:.2f}|>" for n in range(1501)]
    tokenizer.add_tokens([AddedToken(time, special=False) for time in times])
    tokenizer.save(str(folder / "tokenizer.json"))
    return [*letters, *special, *times]


def _fill(spec: Any, random: np.random.Generator, vocabulary: int) -> None:
    """Give every weight that the specification names a small random value of the right shape."""

    def rand(*shape: int) -> Any:
        return (random.standard_normal(shape) * 0.2).astype(np.float32)

    def linear(layer: Any, rows: int, columns: int) -> None:
        layer.weight, layer.bias = rand(rows, columns), rand(rows)

    def norm(layer: Any) -> None:
        layer.gamma, layer.beta = np.ones(WIDTH, np.float32), np.zeros(WIDTH, np.float32)

    def attention(layer: Any, itself: bool) -> None:
        norm(layer.layer_norm)
        sizes = (3 * WIDTH, WIDTH) if itself else (WIDTH, 2 * WIDTH, WIDTH)
        for part, rows in zip(layer.linear, sizes, strict=True):
            linear(part, rows, WIDTH)

    encoder, decoder = spec.encoder, spec.decoder
    encoder.conv1.weight, encoder.conv1.bias = rand(WIDTH, BANDS, 3), rand(WIDTH)
    encoder.conv2.weight, encoder.conv2.bias = rand(WIDTH, WIDTH, 3), rand(WIDTH)
    encoder.position_encodings.encodings = rand(FRAMES, WIDTH)
    decoder.embeddings.weight = rand(vocabulary, WIDTH)
    decoder.position_encodings.encodings = rand(TEXT, WIDTH)
    decoder.projection.weight = decoder.embeddings.weight
    decoder.scale_embeddings = False
    for half in (encoder, decoder):
        norm(half.layer_norm)
        for layer in half.layer:
            attention(layer.self_attention, True)
            if half is decoder:
                attention(layer.attention, False)
            norm(layer.ffn.layer_norm)
            linear(layer.ffn.linear_0, 4 * WIDTH, WIDTH)
            linear(layer.ffn.linear_1, WIDTH, 4 * WIDTH)

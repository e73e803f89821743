"""Models in CTranslate2 format with random weights: they load, run and write nonsense. They are
tiny, or of any size that people fetch."""

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from ctranslate2 import specs
from tokenizers import AddedToken, Tokenizer, decoders, models, pre_tokenizers

FRAMES, TEXT = 1500, 448


@dataclass(frozen=True)
class Size:
    """``spread`` is the standard deviation of the weights."""

    layers: int = 1
    decoder_layers: int = 1
    width: int = 16
    heads: int = 2
    bands: int = 80
    spread: float = 0.2


def make_model(
    folder: Path,
    languages: Sequence[str] = ("en", "es", "cy"),
    seed: int = 5,
    size: Size = Size(),
    kept_as: str | None = None,
) -> None:
    """Write the model; its languages are those whose tokens it has. ``kept_as`` is how its weights
    are kept: "int8", "int8_float16", "float16", as CTranslate2 calls them; float32 if None."""
    folder.mkdir(parents=True, exist_ok=True)
    vocabulary = _write_tokenizer(folder, languages)
    spec = specs.WhisperSpec(size.layers, size.heads, size.decoder_layers, size.heads)
    _fill(spec, np.random.default_rng(seed), len(vocabulary), size)
    spec.register_vocabulary(vocabulary)
    spec.config.suppress_ids = []
    spec.config.suppress_ids_begin = []
    spec.config.alignment_heads = [(0, 0)]
    spec.config.lang_ids = [vocabulary.index(f"<|{code}|>") for code in languages]
    spec.validate()
    spec.optimize(quantization=kept_as)
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


def _fill(spec: Any, random: np.random.Generator, vocabulary: int, size: Size) -> None:
    """Give every weight that the specification names a small random value of the right shape."""
    width = size.width

    def rand(*shape: int) -> Any:
        values = random.standard_normal(shape, dtype=np.float32)
        values *= size.spread
        return values

    def linear(layer: Any, rows: int, columns: int) -> None:
        layer.weight, layer.bias = rand(rows, columns), rand(rows)

    def norm(layer: Any) -> None:
        layer.gamma, layer.beta = np.ones(width, np.float32), np.zeros(width, np.float32)

    def attention(layer: Any, itself: bool) -> None:
        norm(layer.layer_norm)
        sizes = (3 * width, width) if itself else (width, 2 * width, width)
        for part, rows in zip(layer.linear, sizes, strict=True):
            linear(part, rows, width)

    encoder, decoder = spec.encoder, spec.decoder
    encoder.conv1.weight, encoder.conv1.bias = rand(width, size.bands, 3), rand(width)
    encoder.conv2.weight, encoder.conv2.bias = rand(width, width, 3), rand(width)
    encoder.position_encodings.encodings = rand(FRAMES, width)
    decoder.embeddings.weight = rand(vocabulary, width)
    # Places that differ much keep it from saying the same over and over.
    decoder.position_encodings.encodings = rand(TEXT, width) / size.spread
    decoder.projection.weight = decoder.embeddings.weight
    decoder.scale_embeddings = False
    for half in (encoder, decoder):
        norm(half.layer_norm)
        for layer in half.layer:
            attention(layer.self_attention, True)
            if half is decoder:
                attention(layer.attention, False)
            norm(layer.ffn.layer_norm)
            linear(layer.ffn.linear_0, 4 * width, width)
            linear(layer.ffn.linear_1, width, 4 * width)

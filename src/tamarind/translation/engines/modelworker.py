"""Run translation models in a process of its own, so that a library's crash ends only that.

Run in the processes of ``neural``: what is loaded stays loaded as long as the process lives.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from functools import cache

from tamarind.system.confinement import deny_new_privileges, deny_sockets, end_with_parent
from tamarind.system.log import logger
from tamarind.translation.engines import carried
from tamarind.translation.engines.base import TranslationError
from tamarind.translation.engines.modelfolder import ModelKind, TranslationModel

BEAMS, MOST_TOKENS = 4, 256
ALTERNATIVES = 4
Translate = Callable[[Sequence[str], int], list[list[str]]]
"""So many translations of each text, or fewer, the best first."""


def shut_in(parent: int) -> None:
    """Lock this process in, since it reads strangers' files: no sockets or new rights, and no life
    beyond its parent."""
    end_with_parent(parent)
    for deny in (deny_new_privileges, deny_sockets):
        try:
            deny()
        except OSError as error:
            logger.warning("this kernel cannot shut a translator in (%s)", error)


def translate(model: TranslationModel, texts: Sequence[str]) -> list[str] | str:
    """Return a translation for each text, or a sentence on why there is none."""
    return _guarded(model, lambda: [ways[0] for ways in _loaded(model)(texts, 1)])


def hypotheses(model: TranslationModel, text: str) -> list[str] | str:
    """Return several translations of a text, best first, or a sentence on why there is none."""
    return _guarded(model, lambda: list(dict.fromkeys(_loaded(model)([text], ALTERNATIVES)[0])))


def _guarded(model: TranslationModel, work: Callable[[], list[str]]) -> list[str] | str:
    try:
        return work()
    except TranslationError as error:
        return str(error)
    except Exception as error:
        return _cannot(model, error)
    except BaseException as error:  # what a compiled library has panicked about
        if isinstance(error, KeyboardInterrupt | SystemExit):
            raise
        return _cannot(model, error)


def _cannot(model: TranslationModel, error: BaseException) -> str:
    reason = str(error).strip().splitlines()[:1] or [type(error).__name__]
    return f"The model in {model.folder} cannot be used: {reason[0]}"


@cache
def _loaded(model: TranslationModel) -> Translate:
    return _small(model) if model.kind is ModelKind.SMALL else _converted(model)


def _small(model: TranslationModel) -> Translate:
    try:
        from fxtranslate import Translator
    except ImportError:
        raise TranslationError(
            "This kind of model needs the package fxtranslate: .venv/bin/pip install "
            "'tamarind[translation]'"
        ) from None

    carried.require_whole(model)
    source = model.source_vocabulary.read_bytes()
    same = model.target_vocabulary == model.source_vocabulary
    target = source if same else model.target_vocabulary.read_bytes()
    shortlist = model.shortlist.read_bytes() if model.shortlist is not None else None
    translator = Translator(model.model.read_bytes(), source, target, shortlist)
    return lambda texts, _most: [[translator.translate(text) if text else ""] for text in texts]


def _converted(model: TranslationModel) -> Translate:
    try:
        import ctranslate2
        from sentencepiece import SentencePieceProcessor
    except ImportError:
        raise TranslationError(
            "This kind of model needs the packages ctranslate2 and sentencepiece: .venv/bin/pip "
            "install 'tamarind[translation]'"
        ) from None

    source = SentencePieceProcessor(model_file=str(model.source_vocabulary))
    target = SentencePieceProcessor(model_file=str(model.target_vocabulary))
    folder = model.model.parent
    translator = ctranslate2.Translator(str(folder), inter_threads=1, intra_threads=1)
    settings = json.loads((folder / "config.json").read_text("utf-8"))
    end = [] if settings.get("add_source_eos", False) else [settings.get("eos_token", "</s>")]

    def run(texts: Sequence[str], most: int) -> list[list[str]]:
        pieces = [[*source.encode(text, out_type=str), *end] for text in texts]
        found = translator.translate_batch(
            pieces,
            beam_size=BEAMS,
            num_hypotheses=most,
            max_decoding_length=MOST_TOKENS,
            replace_unknowns=True,
        )
        return [
            [
                target.decode([piece for piece in own if piece not in end]) if text else ""
                for own in result.hypotheses
            ]
            for text, result in zip(texts, found, strict=True)
        ]

    return run

"""Offline translation by networks: the shipped models, and folders that a person adds.

Such models have mostly seen the marks of a keyboard and few words in capitals alone, so texts are
put to them plainly; how the target is written is the house style's matter. The networks run in
processes of their own, one for each core: what they load is bound to the thread that loaded it, and
a model that makes its library crash ends a worker and not the window.
"""

from __future__ import annotations

import multiprocessing
import os
import threading
from collections.abc import Callable, Sequence
from concurrent.futures import CancelledError, Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from multiprocessing.util import Finalize

from tamarind.transcript.languages import base_of
from tamarind.translation.engines.base import Stopped, TranslationError, going_on
from tamarind.translation.engines.modelfolder import ModelKind, TranslationModel
from tamarind.translation.engines.modelworker import hypotheses, shut_in, translate

AT_ONCE = 8
"""Texts that a worker is given together."""

MOST_WORKERS = 4
_ASKED_S = 0.1
_KEYBOARD = str.maketrans(
    {"“": '"', "”": '"', "„": '"', "«": '"', "»": '"', "‘": "'", "’": "'", "–": " - ", "—": " - ",
     "…": "...", "\u00a0": " ", "\u202f": " "}
)  # fmt: skip


class NeuralEngine:
    """One model for each pair of languages, the first that is given."""

    kind = "neural"

    def __init__(self, name: str, label: str, models: Sequence[TranslationModel]) -> None:
        self.name, self.label = name, label
        self._models: dict[tuple[str, str], TranslationModel] = {}
        for model in models:
            self._models.setdefault((base_of(model.source), base_of(model.target)), model)

    def pairs(self) -> list[tuple[str, str]]:
        """Return (from, to) for every model."""
        return list(self._models)

    def translate(
        self,
        texts: Sequence[str],
        source: str,
        target: str,
        is_stopped: Callable[[], bool] = going_on,
    ) -> list[str]:
        """Translate with the pair's model, a few texts at a time on every core."""
        model = self._models.get((base_of(source), base_of(target)))
        if model is None:
            raise TranslationError(f"{self.label} does not translate from {source} to {target}.")
        plain = [_plainly(text) for text in texts]
        parts = [plain[at : at + AT_ONCE] for at in range(0, len(plain), AT_ONCE)]
        for last_try in (False, True):
            try:
                said = _all_of(_workers.submit(model, parts), is_stopped)
                return [_as_large(text, one) for text, one in zip(texts, said, strict=True)]
            except BrokenProcessPool:
                _workers.give_up()
                if last_try:
                    raise TranslationError(
                        f"The model in {model.folder} made its library crash."
                    ) from None
        raise AssertionError

    def alternatives(self, text: str, source: str, target: str) -> list[str]:
        """Return other translations, of models that keep several hypotheses."""
        model = self._models.get((base_of(source), base_of(target)))
        if model is None or model.kind is not ModelKind.CONVERTED:
            return []
        try:
            said = _all_of([_workers.submit_one(hypotheses, model, _plainly(text))], going_on)
        except BrokenProcessPool:
            _workers.give_up()
            return []
        return [_as_large(text, one) for one in said]


def _plainly(text: str) -> str:
    text = " ".join(text.translate(_KEYBOARD).split())
    return text[:1] + text[1:].lower() if _is_large(text) else text


def _as_large(text: str, translation: str) -> str:
    return translation.upper() if _is_large(text) else translation


def _is_large(text: str) -> bool:
    """Whether a text of several words is in capitals only."""
    return text.isupper() and len(text.split()) > 1


def _all_of(
    futures: Sequence[Future[list[str] | str]], is_stopped: Callable[[], bool]
) -> list[str]:
    result: list[str] = []
    try:
        for future in futures:
            while not future.done():
                if is_stopped():
                    raise Stopped
                try:
                    future.exception(_ASKED_S)
                except TimeoutError:
                    continue
                except CancelledError:
                    break
            try:
                told = future.result()
            except CancelledError:  # the program ends
                raise Stopped from None
            if isinstance(told, str):
                raise TranslationError(told)
            result += told
    finally:
        for future in futures:
            future.cancel()
    return result


class _Workers:
    """The processes, started when the first text is to be translated."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._pool: ProcessPoolExecutor | None = None

    def submit(
        self, model: TranslationModel, parts: Sequence[Sequence[str]]
    ) -> list[Future[list[str] | str]]:
        with self._lock:
            pool = self._running()
            return [pool.submit(translate, model, part) for part in parts]

    def submit_one(
        self,
        work: Callable[[TranslationModel, str], list[str] | str],
        model: TranslationModel,
        text: str,
    ) -> Future[list[str] | str]:
        with self._lock:
            return self._running().submit(work, model, text)

    def _running(self) -> ProcessPoolExecutor:
        if self._pool is None:
            count = min(os.cpu_count() or 1, MOST_WORKERS)
            spawning = multiprocessing.get_context("spawn")
            self._pool = ProcessPoolExecutor(
                count, mp_context=spawning, initializer=shut_in, initargs=(os.getpid(),)
            )
        return self._pool

    def give_up(self, wait: bool = False) -> None:
        with self._lock:
            pool, self._pool = self._pool, None
        if pool is not None:
            pool.shutdown(wait=wait, cancel_futures=True)


_workers = _Workers()
# At its end a process waits for those that it has started: they have to be told, and to have ended,
# before the queues through which they are told are closed.
Finalize(None, _workers.give_up, (True,), exitpriority=100)

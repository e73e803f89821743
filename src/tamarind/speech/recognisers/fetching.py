"""Fetching a model by its name, where the library for it is installed; needs the internet."""

from __future__ import annotations

import importlib.util
import shutil
from pathlib import Path

from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.folder import ModelFolder, look_into


def names() -> tuple[str, ...]:
    """What can be fetched; nothing if the library is not installed."""
    if importlib.util.find_spec("faster_whisper") is None:
        return ()
    from faster_whisper import available_models

    return tuple(available_models())


def fetch(name: str, home: Path) -> ModelFolder:
    """Fetch a model into a folder of its name in ``home``, which is left whole or not there.

    Raises RecogniserError with a sentence when that fails.
    """
    if name not in names():
        raise RecogniserError(f"There is no model “{name}” to fetch.")
    from faster_whisper import download_model

    target, workplace = home / name, home / f"{name}.part"
    try:
        workplace.mkdir(parents=True, exist_ok=True)
        download_model(name, output_dir=str(workplace))
        model = look_into(workplace)
        shutil.rmtree(target, ignore_errors=True)
        workplace.rename(target)
    except RecogniserError:
        raise
    except Exception as error:  # the network, the disk and the library each have their own kinds
        raise RecogniserError(
            f"“{name}” could not be fetched. Is this computer connected to the internet, and is"
            " there room on its disk? Nothing else here needs a connection."
        ) from error
    finally:
        shutil.rmtree(workplace, ignore_errors=True)
    return ModelFolder(target, model.format, model.languages)

"""Copy the shipped demo job to a place where it can be worked on."""

from __future__ import annotations

import shutil
from importlib import resources
from pathlib import Path

from tamarind.job.jobfile import SUFFIX
from tamarind.system.folders import data_home


def demo_job() -> Path:
    """Return the person's own copy of the demo, made unless it exists; deleting its folder starts
    it anew. Raises OSError."""
    copy = data_home() / "demo"
    there = sorted(copy.glob(f"*{SUFFIX}"))
    if there:
        return there[0]
    with resources.as_file(resources.files("tamarind") / "shipped" / "demo") as shipped:
        (job,) = Path(shipped).glob(f"*{SUFFIX}")
        (copy / "media").mkdir(parents=True, exist_ok=True)
        for media in sorted((Path(shipped) / "media").iterdir()):
            shutil.copyfile(media, copy / "media" / media.name)
        # The job comes last: a copy that was broken off is made again.
        target = copy / job.name
        shutil.copyfile(job, target)
    return target

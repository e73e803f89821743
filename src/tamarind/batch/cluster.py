"""Transcribe on several machines through a running Dask scheduler.

Optional: needs the ``cluster`` extra. The recordings must lie under the same path on all machines.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from tamarind.batch.messages import Drawn, Event, Hear
from tamarind.system.errors import ToldError


class ClusterError(ToldError):
    """The scheduler cannot be used; the message is one sentence."""


PATIENCE_S = 10


def hear_whole(task: Hear) -> list[Event]:
    """Return all events of one recording; this runs on a machine of the cluster."""
    from tamarind.batch.work import do

    return [event for event in do(task) if not isinstance(event, Drawn)]


def hear_all(tasks: Sequence[Hear], address: str) -> Iterator[Event]:
    """Yield the events of all recordings, each recording's together when it is done.

    Raises ClusterError when the extra is not installed or no scheduler answers at ``address``.
    """
    try:
        from distributed import Client, as_completed
    except ImportError:
        raise ClusterError(
            "Work on a cluster needs an extra: pip install 'tamarind[cluster]'."
        ) from None
    from tamarind.batch.messages import Failed

    try:
        client = Client(address, timeout=PATIENCE_S)
    except (OSError, ValueError, TypeError) as error:
        raise ClusterError(f"No scheduler answers at {address} ({error}).") from None
    with client:
        keys = {client.submit(hear_whole, task, pure=False): task.key for task in tasks}
        for future in as_completed(list(keys)):
            if future.status == "finished":
                yield from future.result()
            else:
                reason = f"The work on it stopped unexpectedly ({future.exception()})."
                yield Failed(keys[future], Hear.__name__, reason)

"""Translates in a process that is itself a worker, in the middle of which it ends."""

import threading
import time

from tamarind.translation.engines.catalogue import local_router


def translate(until_done):
    """Some texts, or very many that are not waited for."""
    over = local_router()
    route = over.route("en", "pt")
    texts = ["It is dry and the moss is green."] * (16 if until_done else 2_000)
    if until_done:
        over.translate(route, texts)
    else:
        threading.Thread(target=over.translate, args=(route, texts), daemon=True).start()
        time.sleep(1)

"""Engines for tests, which show what they were given."""

from tamarind.translation.engines.base import Stopped, TranslationError


class Marking:
    """Puts a mark before every text, or does with it what it is told."""

    kind = "rules"

    def __init__(self, name="marking", pairs=(("en", "pt"),), change=None, kind="rules"):
        self.name, self.label, self.kind = name, f"by {name}", kind
        self._pairs = pairs
        self._change = change or (lambda text, target: f"{target}: {text}")
        self.asked = []

    def pairs(self):
        return self._pairs

    def translate(self, texts, source, target, is_stopped=lambda: False):
        if is_stopped():
            raise Stopped
        self.asked.append((list(texts), source, target))
        return [self._change(text, target) if text else "" for text in texts]


class Failing(Marking):
    def translate(self, texts, source, target, is_stopped=lambda: False):
        raise TranslationError("The translator failed: no reason given.")

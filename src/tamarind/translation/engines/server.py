"""Translate with a server of one's own, by the open interface of self-hosted ones.

``GET /languages`` lists what it translates, ``POST /translate`` takes texts ("q"), source, target,
format and perhaps a key ("api_key"), as JSON. Nothing but these is asked of it, and nothing at all
unless a person has named a server: over https, or on this computer. It is not followed elsewhere.
"""

from __future__ import annotations

import http.client
import ipaddress
import json
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator, Sequence
from typing import Any
from urllib.parse import urlsplit

from tamarind.transcript.languages import base_of, is_known
from tamarind.translation.engines.base import Stopped, TranslationError, going_on

MOST_TEXTS, MOST_LETTERS = 40, 4_000
"""In one request."""

PATIENCE_S, LONGEST_WAIT_S = 60, 120
TRIES = 4
LARGEST_ANSWER = 16 << 20
_ASKED_S = 0.2
_USUAL_WAIT_S = 5.0


def checked_address(text: str) -> str:
    """Return an address in its kept form. Raises TranslationError if it is invalid or unsafe."""
    address = text.strip().rstrip("/")
    parts = urlsplit(address)
    try:
        host, _ = parts.hostname, parts.port
    except ValueError:
        host = None
    if not host or parts.scheme not in ("http", "https") or parts.username is not None:
        raise TranslationError("The address of a server looks like https://translate.example.org.")
    if parts.scheme == "http" and not _is_this_computer(host):
        raise TranslationError(
            "Over http the text could be read on its way: only https, or a server on this computer."
        )
    return address


def _is_this_computer(host: str) -> bool:
    if host == "localhost":
        return True
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return False


class ServerEngine:
    """One server; its languages are asked when first needed."""

    name, kind = "server", "server"

    def __init__(self, address: str, key: str = "") -> None:
        """Raises TranslationError for an address that will not do."""
        self._address, self._key = checked_address(address), key
        self._pairs: list[tuple[str, str]] | None = None

    @property
    def label(self) -> str:
        """The server's name with its host, since that is where the text goes."""
        return f"by the server {urlsplit(self._address).hostname}"

    def pairs(self) -> list[tuple[str, str]]:
        """Return its pairs; none while it cannot be reached."""
        if self._pairs is None:
            try:
                self._pairs = self.ask_pairs()
            except TranslationError:
                return []
        return self._pairs

    def ask_pairs(self) -> list[tuple[str, str]]:
        """Ask for its current pairs. Raises TranslationError with a sentence."""
        listed = self._answer("/languages", None, going_on)
        if not isinstance(listed, list):
            raise TranslationError(f"{self._host} does not say what it translates.")
        known = {
            one["code"]: one.get("targets")
            for one in listed
            if isinstance(one, dict) and _is_code(one.get("code"))
        }
        found = [
            (base_of(source), base_of(target))
            for source, targets in known.items()
            for target in (targets if isinstance(targets, list) else known)
            if _is_code(target) and base_of(target) != base_of(source)
        ]
        return list(dict.fromkeys(found))

    def translate(
        self,
        texts: Sequence[str],
        source: str,
        target: str,
        is_stopped: Callable[[], bool] = going_on,
    ) -> list[str]:
        """Translate in requests of limited size, waiting if the server asks for that."""
        result: list[str] = []
        for some in _parts(texts):
            wanted = [text for text in some if text.strip()]
            said = iter(self._translated(wanted, source, target, is_stopped) if wanted else [])
            result += [next(said) if text.strip() else "" for text in some]
        return result

    def _translated(
        self, texts: Sequence[str], source: str, target: str, is_stopped: Callable[[], bool]
    ) -> list[str]:
        asked = {
            "q": list(texts), "source": base_of(source), "target": base_of(target),
            "format": "text",
        }  # fmt: skip
        if self._key:
            asked["api_key"] = self._key
        answer = self._answer("/translate", asked, is_stopped)
        said = answer.get("translatedText") if isinstance(answer, dict) else None
        if isinstance(said, str) and len(texts) == 1:
            said = [said]
        if (
            not isinstance(said, list)
            or len(said) != len(texts)
            or not all(isinstance(one, str) for one in said)
        ):
            raise TranslationError(f"{self._host} has not answered with a text for each.")
        return [" ".join(one.split()) for one in said]

    @property
    def _host(self) -> str:
        return f"The server {urlsplit(self._address).hostname}"

    def _answer(self, path: str, asked: Any, is_stopped: Callable[[], bool]) -> Any:
        """Return the answer to a request, tried again if it asks to wait or does not answer."""
        for last in (*[False] * (TRIES - 1), True):
            if is_stopped():
                raise Stopped
            try:
                return self._once(path, asked)
            except _BusyError as busy:
                if last or busy.wait_s > LONGEST_WAIT_S:
                    raise TranslationError(
                        f"{self._host} has too much to do; try again in {busy.wait_s:.0f} s."
                    ) from None
                _wait(busy.wait_s, is_stopped)
        raise AssertionError

    def _once(self, path: str, asked: Any) -> Any:
        data = json.dumps(asked).encode() if asked is not None else None
        headers = {"Content-Type": "application/json", "Accept": "application/json"}
        request = urllib.request.Request(self._address + path, data, headers)
        try:
            with _OPENER.open(request, timeout=PATIENCE_S) as answer:
                body = answer.read(LARGEST_ANSWER + 1)
        except urllib.error.HTTPError as error:
            raise self._refused(error) from None
        except (OSError, http.client.HTTPException, ValueError) as error:
            reason = getattr(error, "reason", None) or error
            raise TranslationError(f"{self._host} cannot be reached: {reason}.") from None
        if len(body) > LARGEST_ANSWER:
            raise TranslationError(f"{self._host} answers without an end.")
        try:
            return json.loads(body)
        except ValueError:
            raise TranslationError(f"{self._host} answers with something else.") from None

    def _refused(self, error: urllib.error.HTTPError) -> Exception:
        with error:
            told = _told(error.read(4_096))
        if error.code in (429, 503):
            return _BusyError(_wait_of(error.headers.get("Retry-After", "")))
        if error.code in (401, 403):
            return TranslationError(f"{self._host} wants a key, or another one{told}.")
        if error.code in (301, 302, 303, 307, 308):
            return TranslationError(f"{self._host} points elsewhere, where nothing is sent.")
        return TranslationError(f"{self._host} refuses that ({error.code}){told}.")


class _BusyError(Exception):
    def __init__(self, wait_s: float) -> None:
        super().__init__(wait_s)
        self.wait_s = wait_s


class _Nowhere(urllib.request.HTTPRedirectHandler):
    """Refuses redirects, so that texts go to the named server only."""

    def redirect_request(self, *args: object, **more: object) -> None:
        """Do not follow."""


_OPENER = urllib.request.build_opener(_Nowhere, urllib.request.ProxyHandler({}))


def _is_code(code: object) -> bool:
    return isinstance(code, str) and is_known(code)


def _told(body: bytes) -> str:
    """Return the message in an error."""
    try:
        reason = json.loads(body).get("error")
    except (ValueError, AttributeError):
        return ""
    return f": {reason[:200].rstrip('.')}" if isinstance(reason, str) and reason else ""


def _wait_of(text: str) -> float:
    return float(text) if text.strip().isdecimal() else _USUAL_WAIT_S


def _wait(seconds: float, is_stopped: Callable[[], bool]) -> None:
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        if is_stopped():
            raise Stopped
        time.sleep(min(_ASKED_S, max(end - time.monotonic(), 0)))


def _parts(texts: Sequence[str]) -> Iterator[list[str]]:
    some: list[str] = []
    letters = 0
    for text in texts:
        if some and (len(some) == MOST_TEXTS or letters + len(text) > MOST_LETTERS):
            yield some
            some, letters = [], 0
        some.append(text)
        letters += len(text)
    if some:
        yield some

"""The styles a person can choose: those that ship, and their own as files.

House styles and caption styles lie on one each.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Generic, Protocol, TypeVar

from tamarind.system.files import read_file, write_whole
from tamarind.system.folders import data_home

LARGEST = 1 << 20


class Named(Protocol):
    """A style with a name, which can be written as a file."""

    @property
    def name(self) -> str:
        """Its name for people."""

    def packed(self) -> str:
        """Return the text of its file."""


Item = TypeVar("Item", bound=Named)


@dataclass(frozen=True)
class Shelf(Generic[Item]):
    """``noun`` is the word for one; ``folder`` holds the person's own; ``read`` makes one from a
    file's text, or raises ``wrong`` with a sentence."""

    noun: str
    folder_name: str
    suffix: str
    shipped: Mapping[str, Item]
    read: Callable[[str], Item]
    wrong: type[ValueError]
    largest: int = LARGEST
    """Bytes that a file may have."""

    @property
    def folder(self) -> Path:
        """Return the folder of the person's own, which need not exist."""
        return data_home() / self.folder_name

    def key_of(self, name: str) -> str:
        """Return the key for a name: lower-case letters, digits and hyphens."""
        return re.sub(r"[^\w]+", "-", name.casefold()).strip("-") or self.noun.split()[-1]

    def own(self) -> dict[str, Item]:
        """Return the person's own by key; ``unreadable`` tells of those that cannot be read."""
        return self._own()[0]

    def unreadable(self) -> list[str]:
        """Return a sentence for each of the person's own that cannot be read."""
        return self._own()[1]

    def _own(self) -> tuple[dict[str, Item], list[str]]:
        found: dict[str, Item] = {}
        wrong: list[str] = []
        for path in sorted(self.folder.glob(f"*{self.suffix}")):
            try:
                one = self.read_file(path)
            except self.wrong as error:
                told = f"A {self.noun} of yours cannot be used. {error}"
                wrong.append(f"{told} It is in {self.folder}.")
            else:
                found[self.key_of(one.name)] = one
        return found, wrong

    def read_file(self, path: Path) -> Item:
        """Return the one in a file. Raises ``wrong`` with a sentence."""
        try:
            return self.read(read_file(path, self.largest).decode("utf-8-sig"))
        except OSError as error:
            raise self.wrong(f"“{path.name}” cannot be read: {error.strerror}.") from None
        except self.wrong as error:
            raise self.wrong(f"“{path.name}”: {error}") from None
        except ValueError:
            raise self.wrong(f"“{path.name}” is no {self.noun}.") from None

    def keep(self, item: Item) -> Path:
        """Save one for all jobs, in place of one with the same name. Raises OSError."""
        self.folder.mkdir(parents=True, exist_ok=True)
        path = self.folder / f"{self.key_of(item.name)}{self.suffix}"
        write_whole(path, item.packed().encode())
        return path

    def discard(self, key: str) -> None:
        """Delete one of the person's own. Raises OSError."""
        (self.folder / f"{key}{self.suffix}").unlink(missing_ok=True)

    def find(self, named: str, more: Iterable[tuple[str, Item]] = ()) -> Item:
        """Return the one with a key, a name or in a file. Raises ``wrong`` if there is none."""
        known = {**self.shipped, **self.own(), **dict(more)}
        if named in known:
            return known[named]
        for one in known.values():
            if one.name.casefold() == named.casefold():
                return one
        if named.endswith(".json") or "/" in named:
            return self.read_file(Path(named))
        raise self.wrong(f"There is no {self.noun} “{named}”; there are {', '.join(known)}.")

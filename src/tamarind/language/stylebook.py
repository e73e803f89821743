"""Which house styles there are: those that ship, and a person's own, kept as files."""

from __future__ import annotations

import re
from collections.abc import Iterable
from pathlib import Path

from tamarind.captions.limits import Limits
from tamarind.formats.paragraphs import SpeakerForm, Stamps, TextOptions
from tamarind.language.housestyle import (
    SUFFIX,
    Dashes,
    Dates,
    HouseStyle,
    Letters,
    Level,
    Numbers,
    Quotes,
    StyleError,
    Wording,
    read_style,
)
from tamarind.system.files import read_file, write_whole
from tamarind.system.folders import data_home

ORDINARY_STYLE = "ordinary"
LARGEST = 1 << 20

_NO_CAPTIONS = dict.fromkeys(
    (
        "reading-speed", "line-length", "line-count", "too-short", "too-long", "overlap", "gap",
        "frames", "same-text",
    ),
    Level.OFF,
)  # fmt: skip
"""For transcripts nobody holds captions to their rules."""

SHIPPED = {
    ORDINARY_STYLE: HouseStyle("Ordinary captions", wording=Wording(numbers=Numbers.WORDS_BELOW)),
    "teletext": HouseStyle(
        "Teletext width", Limits(line_length=37, reading_speed=17.0, gap=80, frame_rate=25.0)
    ),
    "phone": HouseStyle("One short line", Limits(line_length=32, lines=1, longest=5_000)),
    "verbatim": HouseStyle(
        "Verbatim transcript",
        transcript=TextOptions(stamps=Stamps.PARAGRAPHS, repeats_speaker=True),
        levels={**_NO_CAPTIONS, "filler": Level.OFF},
    ),
    "reading": HouseStyle(
        "Clean reading transcript",
        transcript=TextOptions(SpeakerForm.CAPITALS, longest_paragraph=120),
        wording=Wording(
            clean=True,
            numbers=Numbers.WORDS_BELOW,
            dates=Dates.FIGURES,
            letters=Letters.HYPHENS,
            quotes=Quotes.DOUBLE,
            dashes=Dashes.SPACED_EN,
        ),
        levels=_NO_CAPTIONS,
    ),
}
"""The styles that come with Tamarind, by the key under which a job keeps them."""


def key_of(name: str) -> str:
    """The key of a style of one's own: its name in small letters, digits and hyphens."""
    return re.sub(r"[^\w]+", "-", name.casefold()).strip("-") or "style"


def shelf() -> Path:
    """The folder of a person's own styles, which need not be there."""
    return data_home() / "styles"


def own_styles() -> dict[str, HouseStyle]:
    """The person's own styles by key; ``unreadable`` tells of files that are none."""
    return _on_the_shelf()[0]


def unreadable() -> list[str]:
    """What is wrong with files on the shelf that cannot be read, a sentence each."""
    return _on_the_shelf()[1]


def _on_the_shelf() -> tuple[dict[str, HouseStyle], list[str]]:
    found: dict[str, HouseStyle] = {}
    wrong: list[str] = []
    for path in sorted(shelf().glob(f"*{SUFFIX}")):
        try:
            style = style_from(path)
        except StyleError as error:
            wrong.append(f"A house style of yours cannot be used. {error} It lies in {shelf()}.")
        else:
            found[key_of(style.name)] = style
    return found, wrong


def keep(style: HouseStyle) -> Path:
    """Put a style on the shelf, in place of one of the same name; raises OSError."""
    shelf().mkdir(parents=True, exist_ok=True)
    path = shelf() / f"{key_of(style.name)}{SUFFIX}"
    write_whole(path, style.packed().encode())
    return path


def discard(key: str) -> None:
    """Take a style off the shelf; raises OSError."""
    (shelf() / f"{key}{SUFFIX}").unlink(missing_ok=True)


def style_from(path: Path) -> HouseStyle:
    """The style in a file; raises StyleError with a sentence."""
    try:
        return read_style(read_file(path, LARGEST).decode("utf-8-sig"))
    except OSError as error:
        raise StyleError(f"“{path.name}” cannot be read: {error.strerror}.") from None
    except StyleError as error:
        raise StyleError(f"“{path.name}”: {error}") from None
    except ValueError:
        raise StyleError(f"“{path.name}” is no house style.") from None


def find(named: str, more: Iterable[tuple[str, HouseStyle]] = ()) -> HouseStyle:
    """A style by key, name or file; raises StyleError for one that is not there."""
    known = {**SHIPPED, **own_styles(), **dict(more)}
    if named in known:
        return known[named]
    for style in known.values():
        if style.name.casefold() == named.casefold():
            return style
    if named.endswith(".json") or "/" in named:
        return style_from(Path(named))
    raise StyleError(f"There is no house style “{named}”; there are {', '.join(known)}.")

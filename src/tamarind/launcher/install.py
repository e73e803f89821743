"""Install the launcher and what goes with it, for one person or all, and remove it.

The places are those of the freedesktop.org specifications: desktop entries, icon themes, shared
MIME information, AppStream; and ``man`` pages beside them. What was put there is only what has our
name, so that taking it away needs no list.
"""

from __future__ import annotations

import contextlib
import os
import shutil
import subprocess
from collections.abc import Iterator, Mapping, Sequence
from importlib import resources
from pathlib import Path

from tamarind import __version__

ICON_SIZES = (16, 22, 24, 32, 48, 64, 128, 256, 512)
APP_ID = "local.tamarind.Tamarind"
MIME = "application/x-tamarind-job"
FOR_ALL = Path("/usr/local/share")

MEDIA_TYPES = (
    "audio/aac", "audio/flac", "audio/mp4", "audio/mpeg", "audio/ogg", "audio/opus",
    "audio/vnd.wave", "audio/webm", "audio/x-m4a", "audio/x-ms-wma", "audio/x-wav",
    "video/mp4", "video/mpeg", "video/ogg", "video/quicktime", "video/webm",
    "video/x-matroska", "video/x-msvideo",
)  # fmt: skip
"""What the launcher offers itself to open, beside jobs; it makes itself the usual one for none."""


def share_folder(for_all: bool) -> Path:
    """Return the folder for shared data of the system, or of a person."""
    if for_all:
        return FOR_ALL
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")


def install(share: Path, command: Sequence[str], manuals: Mapping[str, str]) -> list[Path]:
    """Write everything below ``share`` and return what was written. Raises OSError.

    ``command`` is what starts the program, ``manuals`` the texts of manual pages by file name.
    """
    written: list[Path] = []
    for path, data in _files(command, manuals):
        target = share / path
        target.parent.mkdir(parents=True, exist_ok=True)
        target.write_bytes(data)
        written.append(target)
    _tell_the_system(share)
    return written


def remove(share: Path, manuals: Mapping[str, str]) -> list[Path]:
    """Remove what ``install`` writes, and return what there was. Raises OSError."""
    gone: list[Path] = []
    for path, _data in _files(["tamarind"], manuals):
        target = share / path
        if target.exists():
            target.unlink()
            gone.append(target)
    if gone:
        _tell_the_system(share)
    return gone


def desktop_entry(command: Sequence[str]) -> str:
    """Return the launcher's file."""
    types = ";".join((MIME, *MEDIA_TYPES))
    return f"""[Desktop Entry]
Type=Application
Version=1.1
Name=Tamarind
GenericName=Transcripts and captions
Comment=Recorded speech becomes proofed, timed text, on this computer alone
Exec={" ".join(map(_quoted, command))} %f
Icon=tamarind
Terminal=false
Categories=AudioVideo;Audio;
Keywords=transcript;caption;subtitle;speech;recording;interview;translation;
MimeType={types};
StartupNotify=true
StartupWMClass=tamarind
"""


def mime_package() -> str:
    """Return the declaration of the file type of jobs."""
    return f"""<?xml version="1.0" encoding="UTF-8"?>
<mime-info xmlns="http://www.freedesktop.org/standards/shared-mime-info">
  <mime-type type="{MIME}">
    <comment>Tamarind job</comment>
    <sub-class-of type="application/vnd.sqlite3"/>
    <icon name="tamarind"/>
    <glob pattern="*.tamarind"/>
  </mime-type>
</mime-info>
"""


def metainfo() -> str:
    """Return what software centres show (AppStream)."""
    return f"""<?xml version="1.0" encoding="UTF-8"?>
<component type="desktop-application">
  <id>{APP_ID}</id>
  <metadata_license>CC0-1.0</metadata_license>
  <project_license>MIT</project_license>
  <name>Tamarind</name>
  <summary>Recorded speech becomes proofed, timed text</summary>
  <developer id="local.tamarind"><name>The Tamarind authors</name></developer>
  <description>
    <p>Tamarind turns recorded interviews, lectures and other sound or video into timed text by
    speech recognition, all on this computer. The text is proofread against the sound, laid out as
    captions by a client's rules, translated if need be, and written as a transcript or as
    captions.</p>
    <ul>
      <li>Many recordings at a time, with uncertain words marked</li>
      <li>Proofreading by ear, without the mouse</li>
      <li>House styles, checked while you work</li>
      <li>SRT, WebVTT, TTML, plain text, word-processor documents, web pages and tables</li>
    </ul>
  </description>
  <launchable type="desktop-id">tamarind.desktop</launchable>
  <provides>
    <binary>tamarind</binary>
    <mediatype>{MIME}</mediatype>
  </provides>
  <content_rating type="oars-1.1"/>
  <releases>
    <release version="{__version__}" date="2026-11-27"/>
  </releases>
</component>
"""


def _files(command: Sequence[str], manuals: Mapping[str, str]) -> Iterator[tuple[Path, bytes]]:
    """Return every file by its path below the share folder."""
    yield Path("applications/tamarind.desktop"), desktop_entry(command).encode()
    yield Path("mime/packages/tamarind.xml"), mime_package().encode()
    yield Path(f"metainfo/{APP_ID}.metainfo.xml"), metainfo().encode()
    icons = resources.files("tamarind.launcher") / "icons"
    theme = Path("icons/hicolor")
    yield theme / "scalable/apps/tamarind.svg", (icons / "tamarind.svg").read_bytes()
    for size in ICON_SIZES:
        data = (icons / f"tamarind-{size}.png").read_bytes()
        yield theme / f"{size}x{size}/apps/tamarind.png", data
    for name, text in manuals.items():
        yield Path("man/man1") / name, text.encode()


def _quoted(part: str) -> str:
    """Quote a part of a command for a desktop entry."""
    if all(letter.isalnum() or letter in "/._-+" for letter in part):
        return part
    # Once for the quoting, and once more for the file.
    escaped = part.replace("\\", "\\" * 4)
    for letter in '"`$':
        escaped = escaped.replace(letter, f"\\\\{letter}")
    return f'"{escaped}"'.replace("%", "%%")


def _tell_the_system(share: Path) -> None:
    """Update the desktop's indexes of these folders, where the tools exist."""
    for command in (
        ("update-desktop-database", "-q", str(share / "applications")),
        ("update-mime-database", str(share / "mime")),
        ("gtk-update-icon-cache", "-q", "-t", "-f", str(share / "icons" / "hicolor")),
    ):
        if shutil.which(command[0]):
            with contextlib.suppress(OSError, subprocess.TimeoutExpired):
                subprocess.run(command, check=False, capture_output=True, timeout=60)

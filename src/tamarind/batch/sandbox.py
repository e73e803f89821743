"""Lock a worker in before it reads files from strangers.

Three things of the Linux kernel, each of which may be missing on an old one:

- no new privileges (``prctl(2)``, PR_SET_NO_NEW_PRIVS);
- no sockets, by a seccomp filter (``seccomp(2)``): the calls that would make one say "not
  permitted", as does ``io_uring_setup``, by which the filter could be gone round;
- no files but those it was given, by Landlock (``landlock(7)``): the recording comes to it opened,
  models and Python's own files may be read, the cache may be written, and of all programs only the
  one that tells how words are said may be started, shut in as its worker is.

The system calls are made by their numbers, since the C library has no functions for them.
"""

from __future__ import annotations

import ctypes
import os
import struct
import sys
import sysconfig
from collections.abc import Callable, Iterable, Sequence
from pathlib import Path

import tamarind
from tamarind.speech import espeak
from tamarind.system import confinement
from tamarind.system.folders import cache_home

_LANDLOCK_CREATE_RULESET = 444
_LANDLOCK_ADD_RULE = 445
_LANDLOCK_RESTRICT_SELF = 446


_EXECUTE, _READ_FILE, _READ_DIR = 1 << 0, 1 << 2, 1 << 3
_EVERYTHING_BY_VERSION = (0, (1 << 13) - 1, (1 << 14) - 1, (1 << 15) - 1, (1 << 15) - 1)
"""The rights over files that each version of Landlock knows; from the fifth on one more."""

_SYSTEM = (
    "/usr", "/lib", "/lib64", "/etc/ld.so.cache", "/etc/localtime", "/proc/self", "/proc/meminfo",
    "/proc/cpuinfo", "/proc/stat", "/sys/devices", "/sys/bus", "/sys/class",
    "/dev/null", "/dev/zero", "/dev/urandom", "/dev/random",
)  # fmt: skip


_LOADERS = ("/lib64/ld-linux-x86-64.so.2", "/lib/ld-linux-aarch64.so.1")
"""What the kernel starts first for any program."""


def shut_in(readable: Sequence[Path] = ()) -> list[str]:
    """Give up, for good, every right that a worker does not need; ``readable`` are the files and
    folders of models. Return what this kernel cannot deny, in words."""
    missing = []
    denials: tuple[tuple[str, Callable[[], None]], ...] = (
        ("new privileges", confinement.deny_new_privileges),
        ("sockets", confinement.deny_sockets),
        ("files", lambda: _deny_files([*_program_files(), *readable], [cache_home()])),
    )
    for what, deny in denials:
        try:
            deny()
        except OSError as error:
            missing.append(f"{what} ({error})")
    return missing


def _deny_files(readable: Iterable[Path], writable: Iterable[Path]) -> None:
    """Deny opening all other files and running all other programs."""
    version = confinement.system_call(_LANDLOCK_CREATE_RULESET, None, 0, 1)
    everything = _EVERYTHING_BY_VERSION[min(version, len(_EVERYTHING_BY_VERSION) - 1)]
    if version >= 5:
        everything |= 1 << 15
    attributes = struct.pack("=QQQ", everything, 0, 3 if version >= 6 else 0)
    size = 24 if version >= 6 else 16 if version >= 4 else 8
    ruleset = confinement.system_call(
        _LANDLOCK_CREATE_RULESET, ctypes.create_string_buffer(attributes), size, 0
    )
    try:
        for path in readable:
            _allow(ruleset, path, _READ_FILE | _READ_DIR)
        pronounces = espeak.program()
        for program in (pronounces, *_LOADERS) if pronounces else ():
            _allow(ruleset, Path(program), _READ_FILE | _EXECUTE)
        for path in writable:
            path.mkdir(parents=True, exist_ok=True)
            # All but starting what lies there.
            _allow(ruleset, path, everything & ~1)
        for device in ("/dev/null", "/dev/shm"):
            _allow(ruleset, Path(device), everything & ~1)
        confinement.system_call(_LANDLOCK_RESTRICT_SELF, ruleset, 0)
    finally:
        os.close(ruleset)


def _allow(ruleset: int, path: Path, rights: int) -> None:
    """Allow using a file, or everything below a folder; missing ones are skipped."""
    try:
        handle = os.open(path, os.O_PATH | os.O_CLOEXEC)
    except OSError:
        return
    try:
        if not path.is_dir():
            # Of a file only these can be granted: starting, writing, reading, cutting off.
            rights &= 1 | 2 | _READ_FILE | 1 << 14
        rule = struct.pack("=Qi", rights, handle)
        confinement.system_call(
            _LANDLOCK_ADD_RULE, ruleset, 1, ctypes.create_string_buffer(rule), 0
        )
    finally:
        os.close(handle)


def _program_files() -> list[Path]:
    """Yield the files of Python, the packages, the program, and what they need of the system."""
    folders = {Path(sys.base_prefix), Path(sys.prefix), Path(tamarind.__file__).parent}
    folders |= {Path(path) for path in sysconfig.get_paths().values()}
    folders |= {Path(path) for path in sys.path if path.endswith(("-packages", ".zip"))}
    return [*map(Path, _SYSTEM), *sorted(folders)]

"""Restrict a process: no new privileges, no sockets, no life beyond its parent.

By ``prctl(2)`` and a seccomp filter (``seccomp(2)``), in which the calls that would make a socket
say "not permitted", as does ``io_uring_setup``, by which the filter could be gone round. The calls
of the system are made by their numbers, since the C library has no functions for them. Each may be
missing on an old kernel.
"""

from __future__ import annotations

import ctypes
import os
import platform
import struct
import sys
from dataclasses import dataclass

_PR_SET_PDEATHSIG = 1
_PR_SET_SECCOMP = 22
_PR_SET_NO_NEW_PRIVS = 38
_SECCOMP_MODE_FILTER = 2


@dataclass(frozen=True, slots=True)
class _Calls:
    """The numbers of a processor's system calls, and its name in a filter."""

    audit: int
    socket: int
    io_uring_setup: int


_PROCESSORS = {
    "x86_64": _Calls(0xC000003E, 41, 425),
    "aarch64": _Calls(0xC00000B7, 198, 425),
}
_X32 = 0x40000000
"""From here on calls are numbered in another way on x86-64."""

_NO_FAMILY = 0xFFFF
_ALLOW, _REFUSE, _KILL = 0x7FFF0000, 0x00050000 | 1, 0x80000000
_LOAD, _JUMP_IF_EQUAL, _JUMP_IF_AT_LEAST, _RETURN = 0x20, 0x15, 0x35, 0x06


class SandboxError(OSError):
    """The kernel lacks a feature; the message says which."""


def end_with_parent(parent: int) -> None:
    """Have this process killed when the process with this number ends."""
    prctl(_PR_SET_PDEATHSIG, 9)
    if os.getppid() != parent:
        os._exit(1)


def deny_new_privileges() -> None:
    """Keep every program started from here from getting more rights. Raises SandboxError."""
    prctl(_PR_SET_NO_NEW_PRIVS, 1)


def deny_network() -> None:
    """Deny this process and its children all sockets but local ones (AF_UNIX). Raises
    SandboxError."""
    _deny_sockets(1)


def deny_sockets() -> None:
    """Deny this process and its children all sockets.

    Raises SandboxError. Sockets that are there already go on.
    """
    _deny_sockets(None)


def _deny_sockets(but: int | None) -> None:
    """Install the filter, with an exception for one family."""
    calls = _PROCESSORS.get(platform.machine())
    if calls is None or sys.maxsize < 2**32:
        raise SandboxError(f"no filter for a {platform.machine()}")
    code = [
        (_LOAD, 0, 0, 4),  # the processor by which the call was made
        (_JUMP_IF_EQUAL, 1, 0, calls.audit),
        (_RETURN, 0, 0, _KILL),
        (_LOAD, 0, 0, 0),  # the call's number
        (_JUMP_IF_AT_LEAST, 4, 0, _X32),
        (_JUMP_IF_EQUAL, 3, 0, calls.io_uring_setup),
        (_JUMP_IF_EQUAL, 0, 3, calls.socket),
        (_LOAD, 0, 0, 16),  # the family, its first argument
        (_JUMP_IF_EQUAL, 1, 0, but if but is not None else _NO_FAMILY),
        (_RETURN, 0, 0, _REFUSE),
        (_RETURN, 0, 0, _ALLOW),
    ]
    program = b"".join(struct.pack("=HBBI", *step) for step in code)
    steps = ctypes.create_string_buffer(program, len(program))
    filter_ = struct.pack("@HP", len(code), ctypes.addressof(steps))
    prctl(_PR_SET_NO_NEW_PRIVS, 1)
    prctl(_PR_SET_SECCOMP, _SECCOMP_MODE_FILTER, ctypes.create_string_buffer(filter_))


_libc = ctypes.CDLL(None, use_errno=True)


def prctl(*arguments: object) -> None:
    full = [*arguments, 0, 0, 0, 0][:5]
    values = [ctypes.c_ulong(a) if isinstance(a, int) else a for a in full]
    if _libc.prctl(*values) != 0:
        raise _error()


def system_call(number: int, *arguments: object) -> int:
    values = [ctypes.c_long(a) if isinstance(a, int) else a for a in arguments]
    result: int = _libc.syscall(ctypes.c_long(number), *values)
    if result < 0:
        raise _error()
    return result


def _error() -> SandboxError:
    number = ctypes.get_errno()
    return SandboxError(number, os.strerror(number))

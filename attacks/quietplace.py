"""A place without a way out in which every attempt to reach one is seen.

A program is run in a network namespace of its own. All addresses lead to its loopback device, a
name server there answers any question, and every packet is taken down: also those of compiled code,
which no patched ``socket`` module would see. Where strace is there, so are the calls that make
sockets: a program that asks for none but local ones has not even tried.
"""

from __future__ import annotations

import contextlib
import ctypes
import fcntl
import json
import os
import re
import shutil
import socket
import struct
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

CLONE_NEWNS, CLONE_NEWUSER, CLONE_NEWNET = 0x20000, 0x10000000, 0x40000000
MS_BIND, MS_REC, MS_PRIVATE = 4096, 16384, 1 << 18
LOCAL_FAMILIES = {"AF_UNIX", "AF_LOCAL", "AF_NETLINK"}
ENDED_LATE = 124

_libc = ctypes.CDLL(None, use_errno=True)


@dataclass(frozen=True)
class Seen:
    """What a program did: packets and questions in words, sockets that are not local, how it
    ended, and what it said."""

    attempts: tuple[str, ...]
    sockets: tuple[str, ...]
    status: int
    said: str
    traced: bool


def is_possible() -> bool:
    """Whether this machine lets us make such a place."""
    done = subprocess.run(
        [sys.executable, "-m", "attacks.quietplace", "--try"],
        capture_output=True, check=False, cwd=Path(__file__).parent.parent,
    )  # fmt: skip
    return done.returncode == 0


def watched(
    command: Sequence[str], seconds: float, environment: Mapping[str, str] | None = None
) -> Seen:
    """Run a command there for at most so long, and tell what it tried."""
    with tempfile.TemporaryDirectory() as folder:
        report = Path(folder) / "report.json"
        calls = Path(folder) / "calls"
        traced = shutil.which("strace") is not None
        wrapped = list(command)
        if traced:
            wrapped = ["strace", "-f", "--seccomp-bpf", "-qq", "-e", "trace=socket,io_uring_setup",
                       "-o", str(calls), *wrapped]  # fmt: skip
        done = subprocess.run(
            [sys.executable, "-m", "attacks.quietplace", str(report), str(seconds), *wrapped],
            capture_output=True, text=True, errors="replace", check=False,
            cwd=Path(__file__).parent.parent, env={**os.environ, **(environment or {})},
        )  # fmt: skip
        if not report.is_file():
            raise OSError(f"the quiet place could not be made: {done.stderr[-2000:]}")
        data = json.loads(report.read_text())
        lines = calls.read_text(errors="replace").splitlines() if calls.is_file() else []
        sockets = tuple(line for line in lines if not _is_local(line))
        said = done.stdout + done.stderr
        return Seen(tuple(data["attempts"]), sockets, data["status"], said, traced)


def _is_local(call: str) -> bool:
    """Whether a traced call asks for a socket of this machine, or for none. One that was refused
    was asked for all the same."""
    family = re.search(r"socket\((AF_\w+)", call)
    if family is not None:
        return family[1] in LOCAL_FAMILIES
    return "socket(" not in call and "io_uring" not in call


# Inside


def _make() -> None:
    """Leave the world behind; raises OSError where that is not allowed."""
    user, group = os.getuid(), os.getgid()
    flags = CLONE_NEWNET | CLONE_NEWNS
    if _libc.unshare(flags) != 0:
        if _libc.unshare(flags | CLONE_NEWUSER) != 0:
            raise OSError(ctypes.get_errno(), os.strerror(ctypes.get_errno()))
        Path("/proc/self/setgroups").write_text("deny")
        Path("/proc/self/uid_map").write_text(f"0 {user} 1")
        Path("/proc/self/gid_map").write_text(f"0 {group} 1")
    _mount(None, "/", MS_REC | MS_PRIVATE)
    with tempfile.NamedTemporaryFile("w", delete=False) as resolver:
        resolver.write("nameserver 127.0.0.1\n")
    _mount(resolver.name, os.path.realpath("/etc/resolv.conf"), MS_BIND)
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as device:
        request = bytearray(struct.pack("16sH22x", b"lo", 0))
        fcntl.ioctl(device, 0x8913, request)
        (state,) = struct.unpack_from("H", request, 16)
        fcntl.ioctl(device, 0x8914, struct.pack("16sH22x", b"lo", state | 1))
    for family in (socket.AF_INET, socket.AF_INET6):
        _all_leads_home(family)


def _mount(source: str | None, target: str, flags: int) -> None:
    given = source.encode() if source else b"none"
    if _libc.mount(given, target.encode(), None, ctypes.c_ulong(flags), None) != 0:
        raise OSError(ctypes.get_errno(), os.strerror(ctypes.get_errno()), target)


def _all_leads_home(family: int) -> None:
    """``ip route add local default dev lo``, by rtnetlink(7)."""
    loopback = socket.if_nametoindex("lo")
    route = struct.pack("=BBBBBBBBI", family, 0, 0, 0, 255, 3, 254, 2, 0)
    device = struct.pack("=HHi", 8, 4, loopback)
    length = 16 + len(route) + len(device)
    header = struct.pack("=IHHII", length, 24, 0x0001 | 0x0004 | 0x0400, 1, 0)
    with socket.socket(socket.AF_NETLINK, socket.SOCK_RAW, 0) as link:
        link.bind((0, 0))
        link.send(header + route + device)
        answer = link.recv(4096)
    (error,) = struct.unpack_from("=i", answer, 16)
    if error and family == socket.AF_INET:
        raise OSError(-error, os.strerror(-error), "route")


class _Recorder:
    """Takes down every packet, answers every question, and takes every call."""

    def __init__(self) -> None:
        self.attempts: dict[str, None] = {}
        self._wire = socket.socket(socket.AF_PACKET, socket.SOCK_RAW, socket.htons(3))
        self._wire.bind(("lo", 0))
        self._names = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
        self._names.bind(("127.0.0.1", 53))
        for work in (self._listen_to_the_wire, self._answer):
            threading.Thread(target=work, daemon=True).start()
        for port in (80, 443, 8080):
            taker = socket.create_server(("", port))
            threading.Thread(target=self._take, args=(taker,), daemon=True).start()

    def _listen_to_the_wire(self) -> None:
        while True:
            packet = self._wire.recv(65_535)
            said = _described(packet[14:])
            if said:
                self.attempts.setdefault(said)

    def _answer(self) -> None:
        while True:
            question, asker = self._names.recvfrom(4096)
            end = 12
            while end < len(question) and question[end]:
                end += question[end] + 1
            asked = question[12 : end + 5]
            head = question[:2] + b"\x81\x80\x00\x01\x00\x01\x00\x00\x00\x00"
            is_address = asked[-4:-2] == b"\x00\x01"
            if not is_address:
                head = question[:2] + b"\x81\x80\x00\x01\x00\x00\x00\x00\x00\x00"
            answer = b"\xc0\x0c\x00\x01\x00\x01\x00\x00\x00\x3c\x00\x04\x0a\x01\x02\x03"
            self._names.sendto(head + asked + (answer if is_address else b""), asker)

    def _take(self, taker: socket.socket) -> None:
        while True:
            call, _ = taker.accept()
            call.settimeout(1)
            with contextlib.suppress(OSError):
                call.recv(512)
            call.close()


def _described(packet: bytes) -> str:
    """A packet in words; nothing for those that only answer."""
    if packet[:1] and packet[0] >> 4 == 4:
        start, protocol = (packet[0] & 15) * 4, packet[9]
        to = socket.inet_ntop(socket.AF_INET, packet[16:20])
    elif packet[:1] and packet[0] >> 4 == 6:
        start, protocol = 40, packet[6]
        to = socket.inet_ntop(socket.AF_INET6, packet[24:40])
    else:
        return ""
    if protocol == 17:
        here, there = struct.unpack_from("!HH", packet, start)
        if there == 53:
            return f"asks for {_name_in(packet[start + 8 + 12 :])}"
        return "" if here == 53 else f"sends to {to} port {there} (UDP)"
    if protocol == 6:
        _, there = struct.unpack_from("!HH", packet, start)
        opens = packet[start + 13] & 0x12 == 0x02
        return f"opens {to} port {there}" if opens else ""
    if protocol in (1, 58):
        return ""
    return f"sends to {to} (protocol {protocol})"


def _name_in(question: bytes) -> str:
    parts = []
    place = 0
    while place < len(question) and question[place]:
        length = question[place]
        parts.append(question[place + 1 : place + 1 + length].decode("ascii", "replace"))
        place += length + 1
    return ".".join(parts)


def main(arguments: Sequence[str]) -> int:
    """Within the process that goes there: ``REPORT SECONDS COMMAND…``, or ``--try``."""
    _make()
    if arguments == ["--try"]:
        return 0
    report, seconds, *command = arguments
    recorder = _Recorder()
    process = subprocess.Popen(command)
    try:
        status = process.wait(float(seconds))
    except subprocess.TimeoutExpired:
        process.kill()
        process.wait()
        status = ENDED_LATE
    time.sleep(0.3)
    Path(report).write_text(json.dumps({"attempts": list(recorder.attempts), "status": status}))
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))

"""The attacks in their short form; ``scripts/attack`` has more of each."""

import sys
import unittest

from attacks.verdicts import table

from attacks import captions, damagedjobs, disks, doubles, kills, media, network, quietplace
from tests.doses import dose

SEED = 20
JOBS, TEXTS, SOUNDS = dose(10, 400), dose(25, 2_000), dose(6, 60)
WRITERS, KILLS, TROUBLES, SECONDS = dose(4, 40), dose(2, 60), dose(3, 18), dose(5, 240)


class Attacks(unittest.TestCase):
    maxDiff = None

    def assert_held(self, verdicts, least):
        for verdict in verdicts:
            if verdict.skipped:
                self.skipTest(verdict.skipped)
            self.assertEqual(verdict.failures, [], table([verdict]))
        self.assertGreaterEqual(sum(verdict.tries for verdict in verdicts), least)

    def test_damaged_jobs_open_as_far_as_they_are_whole(self):
        self.assert_held([damagedjobs.attack(SEED, JOBS)], JOBS)

    def test_caption_files_of_chance(self):
        self.assert_held([captions.attack(SEED, TEXTS)], TEXTS)

    def test_recordings_of_chance(self):
        self.assert_held([media.attack(SEED, SOUNDS)], 5 * SOUNDS)

    def test_two_writers(self):
        self.assert_held([doubles.attack(SEED, WRITERS)], WRITERS - 1)

    def test_killed_at_any_moment(self):
        self.assert_held(kills.attack(SEED, KILLS), KILLS)


class Network(unittest.TestCase):
    """Where the machine lets us make a place for it; else the test says that it was not made."""

    def test_nothing_is_sent_while_all_is_used(self):
        verdict = network.attack(SEED, SECONDS)
        if verdict.skipped:
            self.skipTest(verdict.skipped)
        self.assertEqual(verdict.failures, [], table([verdict]))
        self.assertEqual(verdict.tries, network.PARTS)


class TheWatcherSees(unittest.TestCase):
    """A test that cannot fail would promise nothing."""

    def test_what_compiled_code_and_python_send(self):
        if not quietplace.is_possible():
            self.skipTest("this machine lets nobody make a network of their own")
        program = (
            "import ctypes, socket\n"
            "libc = ctypes.CDLL(None)\n"
            "libc.gethostbyname(b'telemetry.example')\n"
            "out = libc.socket(2, 2, 0)\n"
            "to = b'\\x02\\x00\\x1f\\x40\\x09\\x08\\x07\\x06' + bytes(8)\n"
            "libc.sendto(out, b'x', 1, 0, to, 16)\n"
            "socket.create_connection(('10.9.8.7', 443), 5).close()\n"
        )
        seen = quietplace.watched([sys.executable, "-c", program], 60)
        self.assertEqual(
            set(seen.attempts),
            {"asks for telemetry.example", "sends to 9.8.7.6 port 8000 (UDP)",
             "opens 10.9.8.7 port 443"},
        )  # fmt: skip
        if seen.traced:
            self.assertTrue(seen.sockets)


class Disks(unittest.TestCase):
    def test_full_and_vanishing(self):
        verdict = disks.attack(SEED, TROUBLES)
        if verdict.skipped:
            self.skipTest(verdict.skipped)
        self.assertEqual(verdict.failures, [], table([verdict]))
        self.assertEqual(verdict.tries, TROUBLES)

"""The launcher, icons and types of the desktop: put in place, valid, and gone again."""

import contextlib
import io
import os
import shutil
import struct
import subprocess
import xml.etree.ElementTree as ET
from pathlib import Path

from tamarind.cli.main import main
from tamarind.job.demo import demo_job
from tamarind.launcher.install import APP_ID, ICON_SIZES, desktop_entry, install, remove
from tests.support import DEMO, FolderTest

MANUALS = {"tamarind.1": ".TH TAMARIND 1\n"}


class Launcher(FolderTest):
    def setUp(self):
        super().setUp()
        self.share = self.folder / "share"

    def put(self):
        return install(self.share, ["/opt/My tools/tamarind"], MANUALS)

    def test_all_is_put_in_place_and_taken_away_again(self):
        other = self.share / "applications" / "other.desktop"
        other.parent.mkdir(parents=True)
        other.write_text("mine")
        written = self.put()
        self.assertTrue(all(path.stat().st_size for path in written))
        self.assertEqual(len(written), len(ICON_SIZES) + 5)
        self.assertEqual(sorted(remove(self.share, MANUALS)), sorted(written))
        self.assertEqual(other.read_text(), "mine")
        self.assertEqual(remove(self.share, MANUALS), [])

    def test_the_entry_starts_the_program_wherever_it_is(self):
        entry = desktop_entry(["/opt/My $tools/tamarind"])
        self.assertIn('Exec="/opt/My \\\\$tools/tamarind" %f\n', entry)
        self.assertIn("application/x-tamarind-job;audio/", entry)

    def test_every_icon_has_its_size(self):
        self.put()
        for size in ICON_SIZES:
            data = (self.share / f"icons/hicolor/{size}x{size}/apps/tamarind.png").read_bytes()
            self.assertEqual(struct.unpack(">II", data[16:24]), (size, size))

    def test_the_xml_is_whole_and_the_validators_agree_where_they_are_there(self):
        self.put()
        metainfo = self.share / f"metainfo/{APP_ID}.metainfo.xml"
        for path in (self.share / "mime/packages/tamarind.xml", metainfo):
            ET.parse(path)
        for command in (
            ["desktop-file-validate", str(self.share / "applications/tamarind.desktop")],
            ["appstreamcli", "validate", "--no-net", str(metainfo)],
        ):
            if shutil.which(command[0]):
                done = subprocess.run(command, capture_output=True, text=True)
                self.assertEqual(done.returncode, 0, done.stdout + done.stderr)

    def test_the_command_does_it_for_one_person(self):
        said = io.StringIO()
        with contextlib.redirect_stderr(said):
            self.assertEqual(main(["desktop", "--install"]), 0)
            entry = Path(os.environ["XDG_DATA_HOME"]) / "applications" / "tamarind.desktop"
            self.assertTrue(entry.exists())
            self.assertEqual(main(["desktop", "--remove"]), 0)
        self.assertFalse(entry.exists())
        self.assertIn("in place", said.getvalue())


class Demo(FolderTest):
    def test_it_is_a_copy_of_ones_own_that_stays(self):
        job = demo_job()
        self.assertEqual(job.read_bytes(), (DEMO / job.name).read_bytes())
        media = {path.name for path in (job.parent / "media").iterdir()}
        self.assertEqual(media, {path.name for path in (DEMO / "media").iterdir()})
        job.write_bytes(b"worked on")
        self.assertEqual(demo_job().read_bytes(), b"worked on")

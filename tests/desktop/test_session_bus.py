"""What the window shares with the desktop by its session bus: settings, media keys."""

import os
import shutil
import subprocess
import sys
import unittest
from pathlib import Path

from tamarind.desktop import systemsettings
from tests.support import FolderTest

PORTAL = """
import sys
from PySide6.QtCore import ClassInfo, QCoreApplication, QObject, Slot
from PySide6.QtDBus import QDBusConnection, QDBusVariant

@ClassInfo({"D-Bus Interface": "org.freedesktop.portal.Settings"})
class Portal(QObject):
    @Slot(str, str, result="QDBusVariant")
    def Read(self, namespace, key):
        values = {"text-scaling-factor": 1.5, "contrast": 1, "color-scheme": 1}
        return QDBusVariant(values[key])

app = QCoreApplication(sys.argv)
bus, portal = QDBusConnection.sessionBus(), Portal()
bus.registerObject("/org/freedesktop/portal/desktop", portal,
                   QDBusConnection.RegisterOption.ExportAllSlots)
bus.registerService("org.freedesktop.portal.Desktop")
print("ready", flush=True)
app.exec()
"""
READ = """
from tamarind.desktop.app import make_application
from tamarind.desktop.theme import colours
app = make_application()
print(app.devicePixelRatio(), colours.is_dark(), colours.has_high_contrast())
"""
KEYS = """
import subprocess, sys, time
from types import SimpleNamespace
from PySide6.QtCore import QCoreApplication, QObject, Signal
from tamarind.desktop.mediakeys import PATH, PLAYER, MediaKeys

class Sound(QObject):
    playing_changed = Signal(bool)
    is_playing, has_recording, position, speed = False, True, 10_000, 1.0

    def play(self):
        self.is_playing = not self.is_playing
        self.playing_changed.emit(self.is_playing)

    def seek(self, position):
        self.position = position

app = QCoreApplication(sys.argv)
sound = Sound()
keys = MediaKeys(sound, sound.play, lambda: "Site memo", lambda: None, app)

def send(*call):
    asked = subprocess.Popen(
        ["dbus-send", "--session", "--print-reply", f"--dest={keys.name}", PATH, *call],
        stdout=subprocess.PIPE, text=True,
    )
    while asked.poll() is None:
        app.processEvents()
        time.sleep(0.01)
    return asked.stdout.read()

for press in ("PlayPause", "Play", "Previous"):
    send(f"{PLAYER}.{press}")
status = send("org.freedesktop.DBus.Properties.GetAll", f"string:{PLAYER}")
print(sound.is_playing, sound.position, "Playing" in status, "Site memo" in status)
send(f"{PLAYER}.Pause")
print(sound.is_playing)
"""


@unittest.skipUnless(shutil.which("dbus-run-session"), "there is no session bus on this machine")
class SessionBus(FolderTest):
    def on_a_bus(self, *scripts):
        """What the last of some programs prints, which run on a bus of their own."""
        files = []
        for number, script in enumerate(scripts):
            files.append(self.folder / f"{number}.py")
            files[-1].write_text(script)
        *before, last = (f"{sys.executable} {file}" for file in files)
        line = " ".join(f"{one} & sleep 1.5;" for one in before) + f"{last}; kill $(jobs -p)"
        top = Path(__file__).parents[2]
        done = subprocess.run(
            ["dbus-run-session", "--", "bash", "-c", line],
            capture_output=True, text=True, timeout=60, check=False,
            env={**os.environ, "PYTHONPATH": str(top / "src"), "QT_QPA_PLATFORM": "offscreen"},
        )  # fmt: skip
        return done.stdout.splitlines()

    def test_the_size_of_text_contrast_and_darkness_follow_the_desktop(self):
        self.assertEqual(self.on_a_bus(PORTAL, READ)[-1], "1.5 True True")
        self.assertEqual(self.on_a_bus(READ)[-1], "1.0 False False")

    def test_media_keys_play_stop_and_go_back(self):
        self.assertEqual(self.on_a_bus(KEYS)[-2:], ["True 8000 True True", "False"])

    def test_programs_that_are_started_are_not_enlarged_twice(self):
        before = os.environ.get("QT_SCALE_FACTOR")
        with systemsettings.applied(systemsettings.SystemSettings(1.5, has_portal=True)):
            self.assertEqual(os.environ["QT_QPA_PLATFORMTHEME"], "xdgdesktopportal")
            self.assertEqual(float(os.environ["QT_SCALE_FACTOR"]), 1.5 * float(before or 1))
        self.assertEqual(os.environ.get("QT_SCALE_FACTOR"), before)

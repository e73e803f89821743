"""Remove from an environment what Tamarind never loads: most of Qt, tests of packages, samples.

    PYTHON scripts/slim.py

PYTHON is that of the environment. What goes is told in MB; afterwards the parts of Qt that are used
are loaded, or it ends with 1.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import sysconfig
from collections.abc import Iterator
from pathlib import Path

MODULES = ("QtCore", "QtDBus", "QtGui", "QtMultimedia", "QtNetwork", "QtWidgets")
"""What the window imports, and what that needs."""

LIBRARIES = (
    *(name.replace("Qt", "") for name in MODULES),
    "Concurrent", "OpenGL",
    "Qml", "QmlMeta", "QmlModels", "QmlWorkerScript", "Quick", "Svg", "WaylandClient",
    "WlShellIntegration", "XcbQpa",
)  # fmt: skip
"""Quick and what it needs are linked by the plugin that plays sound and video."""

PLUGINS = (
    "generic", "iconengines", "imageformats", "multimedia", "platforminputcontexts", "platforms",
    "platformthemes", "wayland-decoration-client", "wayland-graphics-integration-client",
    "wayland-shell-integration", "xcbglintegrations",
)  # fmt: skip
NEVER = (
    "PySide6/Qt/lib/libQt6WebEngineCore*", "PySide6/Qt/qml", "PySide6/Qt/metatypes",
    "PySide6/Qt/resources", "PySide6/Qt/libexec", "PySide6/Qt/plugins/imageformats/libqpdf.so",
    "PySide6/Qt/plugins/platforminputcontexts/libqtvirtualkeyboardplugin.so",
    "PySide6/assistant", "PySide6/balsam*", "PySide6/designer", "PySide6/doc", "PySide6/glue",
    "PySide6/include", "PySide6/linguist", "PySide6/lrelease", "PySide6/lupdate", "PySide6/qml*",
    "PySide6/qsb", "PySide6/scripts", "PySide6/support/generate_pyi", "PySide6/svgtoqml",
    "PySide6/typesystems", "PySide6/libpyside6qml*", "PySide6/*.pyi",
    # Of this package only the network is used, of tokenizers nothing that fetches.
    "moonshine_voice/libmoonshine.so", "moonshine_voice.libs", "hf_xet", "huggingface_hub",
    "scipy/**/tests", "numpy/**/tests", "onnx/backend/test", "fontTools/**/*.c", "babel/**/*.po",
    "moonshine_voice/assets/*.wav",
)  # fmt: skip


def unused(site: Path) -> Iterator[Path]:
    """Yield the files and folders of Qt that nothing loads."""
    qt = site / "PySide6"
    for path in qt.glob("Qt*.abi3.so"):
        if path.name.split(".")[0] not in MODULES:
            yield path
    for path in (qt / "Qt" / "lib").glob("libQt6*"):
        name = path.name.removeprefix("libQt6").split(".")[0]
        if name not in LIBRARIES and not name.startswith("FFmpegStub"):
            yield path
    for path in (qt / "Qt" / "plugins").glob("*"):
        if path.name not in PLUGINS:
            yield path
    for path in (qt / "Qt" / "translations").glob("*"):
        if not path.name.startswith("qtbase_"):
            yield path
    # A wheel holds no links: the same library is there under three names, and one is asked for.
    for path in (qt / "Qt" / "lib").glob("lib[as][vw]*.so*"):
        if path.name.count(".") != 2:
            yield path


def size_of(path: Path) -> int:
    """Return the bytes of a file, or of all in a folder."""
    if path.is_file():
        return path.stat().st_size
    return sum(one.stat().st_size for one in path.rglob("*") if one.is_file())


def main() -> int:
    """Remove, and try what is left."""
    site = Path(sysconfig.get_paths()["purelib"])
    gone = {*unused(site), *(path for pattern in NEVER for path in site.glob(pattern))}
    freed = 0
    for path in sorted(gone):
        if path.exists():
            freed += size_of(path)
            shutil.rmtree(path) if path.is_dir() else path.unlink()
    if freed:
        print(f"{freed / 1e6:.0f} MB that Tamarind never loads were left out.")
    trial = (
        f"from PySide6 import {', '.join(MODULES)}\n"
        "application = QtWidgets.QApplication([])\n"
        "raise SystemExit(0 if QtMultimedia.QMediaPlayer().isAvailable() else 1)\n"
    )
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    done = subprocess.run([sys.executable, "-c", trial], env=environment, capture_output=True)
    if done.returncode:
        print("Qt does not start after what was left out:", done.stderr.decode()[-500:])
    return done.returncode


if __name__ == "__main__":
    sys.exit(main())

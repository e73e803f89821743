"""Draw the launcher's icons in all sizes from the one that is drawn.

    .venv/bin/python scripts/make_icons.py

Only needed when ``src/tamarind/launcher/icons/tamarind.svg`` changes.
"""

from __future__ import annotations

import os
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication, QImage, QPainter
from PySide6.QtSvg import QSvgRenderer

from tamarind.launcher.install import ICON_SIZES

ICONS = Path(__file__).parents[1] / "src/tamarind/launcher/icons"


def main() -> None:
    """Write a PNG for each size."""
    app = QGuiApplication([])
    drawn = QSvgRenderer(str(ICONS / "tamarind.svg"))
    for size in ICON_SIZES:
        image = QImage(size, size, QImage.Format.Format_ARGB32)
        image.fill(Qt.GlobalColor.transparent)
        painter = QPainter(image)
        drawn.render(painter)
        painter.end()
        image.save(str(ICONS / f"tamarind-{size}.png"))
    del app


if __name__ == "__main__":
    main()

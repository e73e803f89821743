"""The guide, the change list and the licences: pages that ship, shown in a window."""

from __future__ import annotations

import re
from importlib import metadata, resources
from importlib.resources.abc import Traversable

from PySide6.QtCore import Qt, QUrl
from PySide6.QtGui import (
    QBrush,
    QColor,
    QImage,
    QShowEvent,
    QTextBlockFormat,
    QTextCursor,
    QTextDocument,
    QTextTableFormat,
)
from PySide6.QtWidgets import QHBoxLayout, QListWidget, QTextBrowser, QWidget

from tamarind import __version__
from tamarind.desktop.theme import colours
from tamarind.desktop.widgets.dialog import Dialog

_LINK = re.compile(r"\[([^\]]+)\]\(([\w-]+\.md)\)")
_MARGIN = 36
_PROPORTIONAL = QTextBlockFormat.LineHeightTypes.ProportionalHeight.value
_SMOOTH = Qt.TransformationMode.SmoothTransformation


def shipped() -> Traversable:
    """Return the folder of the pages."""
    return resources.files("tamarind") / "shipped"


def guide_pages() -> list[tuple[str, str]]:
    """Return title and file name of the guide's pages, in order."""
    contents = (shipped() / "guide" / "README.md").read_text("utf-8")
    return [(title, name) for title, name in _LINK.findall(contents)]


class Page(QTextBrowser):
    """Shows a page of Markdown; pictures fit the width, links to pages are followed."""

    def __init__(self) -> None:
        super().__init__()
        self.setOpenLinks(False)
        self.setAccessibleName("Page")
        self.document().setDocumentMargin(12)

    def show_page(self, text: str) -> None:
        """Show a text from its start."""
        self.setMarkdown(text)
        self._let_breathe()
        self.verticalScrollBar().setValue(0)

    def _let_breathe(self) -> None:
        """Add space between and within paragraphs and table rows, which Markdown has none of."""
        block = self.document().begin()
        while block.isValid():
            cursor = QTextCursor(block)
            if cursor.currentTable() is None:
                form = block.blockFormat()
                form.setBottomMargin(4 if block.textList() else 9)
                form.setTopMargin(14 if form.headingLevel() > 1 else 0)
                form.setLineHeight(120, _PROPORTIONAL)
                cursor.setBlockFormat(form)
            else:
                cursor.currentTable().setFormat(_table_look(cursor.currentTable().format()))
            block = block.next()

    def loadResource(self, kind: int, name: QUrl | str) -> object:
        """Load pictures from the folder of the guide."""
        if (
            isinstance(name, str)
            or QTextDocument.ResourceType(kind) != QTextDocument.ResourceType.ImageResource
        ):
            return super().loadResource(kind, name)
        image = QImage()
        picture = shipped() / "screenshots" / name.fileName()
        if picture.is_file():
            image.loadFromData(picture.read_bytes())
            width = max(self.viewport().width() - _MARGIN, 200)
            ratio = self.devicePixelRatioF()
            image = image.scaledToWidth(round(width * ratio), _SMOOTH)
            image.setDevicePixelRatio(ratio)
        return image


def _table_look(form: QTextTableFormat) -> QTextTableFormat:
    """Return the format of tables: fine lines, with space around."""
    form.setBorderBrush(QBrush(QColor(colours.LINE)))
    form.setTopMargin(4)
    form.setBottomMargin(10)
    return form


class GuideDialog(Dialog):
    """Lists the pages by task on the left and shows the open one on the right."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("Guide", (960, 680), parent)
        self._pages = guide_pages()
        self.list = QListWidget()
        self.list.setAccessibleName("Pages of the guide")
        self.list.addItems([title for title, _ in self._pages])
        self.list.setFixedWidth(262)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.page = Page()
        self.page.anchorClicked.connect(self._follow)
        row = QHBoxLayout()
        row.setSpacing(14)
        row.addWidget(self.list)
        row.addWidget(self.page, 1)
        self.body.addLayout(row, 1)
        self.set_acts(leave="Close")
        self.list.currentRowChanged.connect(self._show)

    def showEvent(self, event: QShowEvent) -> None:
        """Show the first page, once its width is known."""
        super().showEvent(event)
        if self.list.currentRow() < 0:
            self.list.setCurrentRow(0)

    def _show(self, row: int) -> None:
        _title, name = self._pages[row]
        self.page.show_page((shipped() / "guide" / name).read_text("utf-8"))

    def _follow(self, link: QUrl) -> None:
        names = [name for _, name in self._pages]
        if link.fileName() in names:
            self.list.setCurrentRow(names.index(link.fileName()))


class PageDialog(Dialog):
    """Shows one page."""

    def __init__(self, title: str, text: str, parent: QWidget | None = None) -> None:
        super().__init__(title, (760, 600), parent)
        self.page = Page()
        self.body.addWidget(self.page, 1)
        self.set_acts(leave="Close")
        self.page.show_page(text)


def news() -> str:
    """Return the change list as a page."""
    return (shipped() / "CHANGELOG.md").read_text("utf-8")


def about() -> str:
    """Return a page on the program, its licence, and those of all parts."""
    licence = (shipped() / "LICENSE").read_text("utf-8").split("\n\n", 1)[0]
    notices = (shipped() / "THIRD_PARTY_NOTICES.md").read_text("utf-8")
    inside = notices.split("\n\n", 1)[1].split("\n\nPackages that", 1)[0]
    rows = "".join(f"| {name} | {version} | {own} |\n" for name, version, own in _packages())
    return (
        f"# Tamarind {__version__}\n\nRecorded speech becomes proofed, timed text, on this computer"
        f" alone.\n\n{licence}.\n\n## In it\n\n{inside}\n\n## Beside it\n\n"
        f"| package | version | licence |\n|---|---|---|\n{rows}"
    )


def _packages() -> list[tuple[str, str, str]]:
    """Yield name, version and licence of every installed package that the program needs."""
    found = []
    for line in metadata.requires("tamarind") or ():
        if "extra ==" in line:
            continue
        name = re.split(r"[\s<>=!~;\[]", line, maxsplit=1)[0]
        try:
            data = metadata.metadata(name)
        except metadata.PackageNotFoundError:
            continue
        found.append((data["Name"], data["Version"], _licence_in(data)))
    return found


def _licence_in(data: metadata.PackageMetadata) -> str:
    """Return a package's licence by its own metadata, in a few words."""
    stated = (data.get_all("License-Expression") or [""])[0]
    if not stated:
        classes = data.get_all("Classifier") or []
        own = [one.rsplit(" :: ", 1)[1] for one in classes if one.startswith("License ::")]
        stated = ", ".join(own)
    if not stated:
        stated = (data.get_all("License") or [""])[0].strip().split("\n", 1)[0]
    return stated.replace("|", "/")[:80] or "see its own files"

"""The guide, what is new, and what the program is made of: pages that ship, shown in a window."""

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
    """Where the pages lie."""
    return resources.files("tamarind") / "shipped"


def guide_pages() -> list[tuple[str, str]]:
    """The guide's pages in order: title and file name."""
    contents = (shipped() / "guide" / "README.md").read_text("utf-8")
    return [(title, name) for title, name in _LINK.findall(contents)]


class Page(QTextBrowser):
    """A page in Markdown; pictures are as wide as there is room, links to pages are followed."""

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
        """Room between and within paragraphs, which Markdown has none of; rows of tables have."""
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
        """Pictures lie beside the guide."""
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
    """Fine lines, and room around it."""
    form.setBorderBrush(QBrush(QColor(colours.LINE)))
    form.setTopMargin(4)
    form.setBottomMargin(10)
    return form


class GuideDialog(Dialog):
    """The pages by task on the left, the one that is open on the right."""

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
        """The first page, once its width is known."""
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
    """One page."""

    def __init__(self, title: str, text: str, parent: QWidget | None = None) -> None:
        super().__init__(title, (760, 600), parent)
        self.page = Page()
        self.body.addWidget(self.page, 1)
        self.set_acts(leave="Close")
        self.page.show_page(text)


def news() -> str:
    """What is new, as a page."""
    return (shipped() / "CHANGELOG.md").read_text("utf-8")


def about() -> str:
    """What this is, under which licence, and those of all parts, as a page."""
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
    """Name, version and licence of every package that the program needs and that is there."""
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
    """The licence as a package's own data say it, in a few words."""
    stated = (data.get_all("License-Expression") or [""])[0]
    if not stated:
        classes = data.get_all("Classifier") or []
        own = [one.rsplit(" :: ", 1)[1] for one in classes if one.startswith("License ::")]
        stated = ", ".join(own)
    if not stated:
        stated = (data.get_all("License") or [""])[0].strip().split("\n", 1)[0]
    return stated.replace("|", "/")[:80] or "see its own files"

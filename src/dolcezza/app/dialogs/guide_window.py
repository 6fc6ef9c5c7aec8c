"""The guide and what it leads to, read without a network: the pages of ``docs`` as they ship with the program."""

from __future__ import annotations

from importlib import resources
from pathlib import Path

from PySide6.QtCore import Qt, QUrl
from PySide6.QtGui import QImage, QTextDocument
from PySide6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QTextBrowser, QVBoxLayout, QWidget

from dolcezza.app.theme.words import tr

FIRST = "guide.md"
PICTURE_PX = 760


def help_folder() -> Path:
    """Where the pages lie."""
    return Path(str(resources.files("dolcezza.app") / "help"))


class _Pages(QTextBrowser):
    """Pictures are as wide as a column; links lead to pages that ship, never anywhere else."""

    def loadResource(self, type: int, name: QUrl | str) -> object:
        if type == QTextDocument.ResourceType.ImageResource.value:
            picture = QImage(str(help_folder() / QUrl(name).path().removeprefix(str(help_folder())).lstrip("/")))
            return picture.scaledToWidth(min(PICTURE_PX, picture.width()), Qt.TransformationMode.SmoothTransformation)
        return super().loadResource(type, name)

    def doSetSource(
        self, name: QUrl | str, type: QTextDocument.ResourceType = QTextDocument.ResourceType.UnknownResource
    ) -> None:  # fmt: skip
        url = QUrl(name)
        page = help_folder() / Path(url.path()).name
        if url.scheme() in ("", "file") and page.is_file():
            super().doSetSource(QUrl.fromLocalFile(str(page)), QTextDocument.ResourceType.MarkdownResource)


class GuideWindow(QDialog):
    """The guide; it stays open beside the desk."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Guide"))
        self.resize(900, 720)
        box = QVBoxLayout(self)
        self.pages = _Pages()
        self.pages.setAccessibleName(tr("Guide"))
        row = QHBoxLayout()
        self.back = QPushButton(tr("Back"))
        self.first = QPushButton(tr("Beginning"))
        self.back.clicked.connect(self.pages.backward)
        self.first.clicked.connect(self.to_first)
        self.pages.backwardAvailable.connect(self.back.setEnabled)
        self.back.setEnabled(False)
        row.addWidget(self.back)
        row.addWidget(self.first)
        row.addStretch(1)
        box.addLayout(row)
        box.addWidget(self.pages, 1)
        self.to_first()

    def to_first(self) -> None:
        """Show the guide's first page."""
        self.pages.setSource(QUrl.fromLocalFile(str(help_folder() / FIRST)))

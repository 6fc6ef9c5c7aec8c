"""Pages as PDF by Qt's own writer: A4, black on white."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QRectF, QSizeF, QUrl
from PySide6.QtGui import QFont, QImage, QPageLayout, QPageSize, QPainter, QPdfWriter, QTextDocument
from PySide6.QtSvg import QSvgRenderer

from dolcezza.app.theme.style import load_font
from dolcezza.app.theme.words import tr
from dolcezza.core.base.errors import StudioError
from dolcezza.storage.files import write_bytes_whole

PICTURE = "picture.jpg"
"""Address under which a page names its picture."""
DPI, FINE_DPI, MM_PER_INCH = 150, 600, 25.4
A4_MM = (210.0, 297.0)
MARGIN_MM = 16.0


def write_page(svg: str, path: Path, *, title: str = "") -> Path:
    """Write a drawing of the size of a page (A4) as PDF, true to scale: no margin, nothing fitted. Raises StudioError when it cannot be
    written."""
    path, page = Path(path), QBuffer()
    if not path.parent.is_dir():
        raise StudioError(tr("The folder {0} is not there.").format(path.parent), tr("Choose another place for the page."))
    page.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(page)
    writer.setResolution(FINE_DPI)
    writer.setTitle(title)
    writer.setCreator("Dolcezza")
    whole = QPageLayout(QPageSize(QPageSize.PageSizeId.A4), QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0))
    whole.setMode(QPageLayout.Mode.FullPageMode)
    writer.setPageLayout(whole)
    painter = QPainter(writer)
    width, height = (FINE_DPI * mm / MM_PER_INCH for mm in A4_MM)
    QSvgRenderer(QByteArray(svg.encode())).render(painter, QRectF(0, 0, width, height))
    painter.end()
    page.close()
    write_bytes_whole(path, bytes(page.data().data()))
    return path


def write_pdf(html: str, path: Path, *, jpeg: bytes | None = None, title: str = "") -> Path:
    """Write a page of HTML as PDF; ``jpeg`` is what it shows as ``PICTURE``. Raises StudioError when it cannot be written."""
    path = Path(path)
    if not path.parent.is_dir():
        raise StudioError(tr("The folder {0} is not there.").format(path.parent), tr("Choose another place for the page."))
    page = QBuffer()
    page.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(page)
    writer.setResolution(DPI)
    writer.setTitle(title)
    writer.setCreator("Dolcezza")
    margins = QMarginsF(MARGIN_MM, MARGIN_MM, MARGIN_MM, MARGIN_MM)
    writer.setPageLayout(
        QPageLayout(QPageSize(QPageSize.PageSizeId.A4), QPageLayout.Orientation.Portrait, margins, QPageLayout.Unit.Millimeter)
    )
    document = QTextDocument()
    document.documentLayout().setPaintDevice(writer)
    document.setDefaultFont(QFont(load_font(), 11))
    if jpeg is not None:
        document.addResource(QTextDocument.ResourceType.ImageResource.value, QUrl(PICTURE), QImage.fromData(jpeg))
    document.setHtml(html)
    document.setPageSize(QSizeF(writer.width(), writer.height()))
    document.print_(writer)
    page.close()
    write_bytes_whole(path, bytes(page.data().data()))
    return path

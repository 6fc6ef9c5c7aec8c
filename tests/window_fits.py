"""What of a window is cut off, lies over something else, or has no name: told from size hints and geometry.

Run as a program it opens the demo studio at a size and prints the faults (for other scalings of the display, which a process has for good).
"""

from __future__ import annotations

import os
import sys
from itertools import combinations
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QCoreApplication, QEvent, QRect, Qt, QTimer
from PySide6.QtGui import QAccessible
from PySide6.QtWidgets import QAbstractButton, QApplication, QComboBox, QLabel, QLineEdit, QWidget

SLACK_PX = 2
SOON_MS = 1000
"""What a page shows by itself a moment later (advice on landmarks still for half a second) comes within so long."""
LAYOUTS_DEEP = 8
OWN_MARGIN_PX = {QComboBox: 26}


def settle(page: QWidget) -> None:
    """Wait until a page shows what it will show: what comes a moment later has come, and every layout has made room for it."""
    QApplication.processEvents()
    while any(t.isActive() and t.isSingleShot() and t.interval() <= SOON_MS for t in page.findChildren(QTimer)):
        QApplication.processEvents()
    for _ in range(LAYOUTS_DEEP):
        QCoreApplication.sendPostedEvents(None, QEvent.Type.LayoutRequest)


def visible(root: QWidget, kind: type) -> list[QWidget]:
    """Widgets of a kind that are shown in ``root``."""
    return [w for w in root.findChildren(kind) if w.isVisible() and w.width() > 0]


def cut(root: QWidget) -> list[str]:
    """Texts that do not fit the widget that shows them."""
    out = []
    for label in visible(root, QLabel):
        if not label.text():
            continue
        if label.textFormat() == Qt.TextFormat.RichText or "<" in label.text():
            needed = label.heightForWidth(label.width()) if label.wordWrap() else label.sizeHint().height()
            if needed > label.height() + SLACK_PX:
                out.append(f"table {label.text()[:60]!r}: needs {needed} of {label.height()} px")
            continue
        if label.wordWrap():
            needed = label.heightForWidth(label.width())
            widest = max((label.fontMetrics().horizontalAdvance(w) for w in label.text().replace("\u200b", " ").split()), default=0)
            if needed > label.height() + SLACK_PX or widest > label.contentsRect().width() + SLACK_PX:
                out.append(f"label {label.text()[:60]!r}: needs {needed} of {label.height()} px")
        elif label.fontMetrics().horizontalAdvance(label.text()) > label.contentsRect().width() + SLACK_PX:
            out.append(f"label {label.text()[:60]!r} is wider than {label.width()} px")
    for button in visible(root, QAbstractButton):
        if button.text() and button.sizeHint().width() > button.width() + SLACK_PX:
            out.append(f"button {button.text()!r}: {button.sizeHint().width()} of {button.width()} px")
    for combo in visible(root, QComboBox):
        if combo.fontMetrics().horizontalAdvance(combo.currentText()) + OWN_MARGIN_PX[QComboBox] > combo.width() + SLACK_PX:
            out.append(f"choice {combo.currentText()!r} in {combo.width()} px")
    return out


def overlapping(root: QWidget) -> list[str]:
    """Neighbours in a layout that lie over each other, and children that stick out of their parent."""
    out = []
    for parent in [root, *visible(root, QWidget)]:
        inside = [
            w for w in parent.children() if isinstance(w, QWidget) and w.isVisible() and not w.isWindow() and w.width() and w.height()
        ]
        managed = [w for w in inside if parent.layout() is not None and _managed(parent.layout(), w)]
        for a, b in combinations(managed, 2):
            both = a.geometry().intersected(b.geometry())
            if both.width() > SLACK_PX and both.height() > SLACK_PX:
                out.append(f"{_name(a)} over {_name(b)} by {both.width()} x {both.height()} px")
        for w in managed:
            if not parent.rect().adjusted(-SLACK_PX, -SLACK_PX, SLACK_PX, SLACK_PX).contains(w.geometry()):
                out.append(f"{_name(w)} sticks out of {_name(parent)}: {_size(w.geometry())} of {_size(parent.rect())}")
    return out


def _managed(layout, widget: QWidget) -> bool:
    for k in range(layout.count()):
        item = layout.itemAt(k)
        if item.widget() is widget or (item.layout() is not None and _managed(item.layout(), widget)):
            return True
    return False


def _name(widget: QWidget) -> str:
    text = getattr(widget, "text", None)
    return (
        f"{type(widget).__name__} {str(text())[:40]!r}" if callable(text) else f"{type(widget).__name__} {widget.accessibleName()[:40]!r}"
    )


def _size(rect: QRect) -> str:
    return f"{rect.x()},{rect.y()} {rect.width()}x{rect.height()}"


def nameless(root: QWidget) -> list[str]:
    """Controls that take the keyboard's focus and tell a screen reader nothing."""
    out = []
    for widget in visible(root, QWidget):
        if widget.focusPolicy() == Qt.FocusPolicy.NoFocus or (isinstance(widget, QLineEdit) and widget.objectName().startswith("qt_")):
            continue
        told = QAccessible.queryAccessibleInterface(widget)
        if told is None or not (told.text(QAccessible.Text.Name) or told.text(QAccessible.Text.Description)):
            out.append(f"{type(widget).__name__} {widget.objectName()!r} in {type(widget.parent()).__name__}")
    return out


def main() -> None:
    """``python window_fits.py STUDIO WIDTH HEIGHT [PICTURE]``: faults of every step, one a line."""
    from dolcezza.app.main import make_app
    from dolcezza.app.windows.main_window import MainWindow
    from dolcezza.app.windows.steps import STEPS
    from dolcezza.services.studio import Studio

    make_app(["fits"])
    studio = Studio(Path(sys.argv[1]))
    window = MainWindow(studio)
    window.resize(int(sys.argv[2]), int(sys.argv[3]))
    window.show()
    window.open_take(next(s.take.id for st in studio.students() for s in studio.takes(st.id) if s.analysed))
    print(f"ratio {window.devicePixelRatioF():g}")
    for step, name in enumerate(STEPS):
        window.go_to_step(step)
        page = window.pages.currentWidget()
        settle(page)
        for fault in [*cut(page), *overlapping(page), *nameless(page)]:
            print(f"fault {name}: {fault}")
    if len(sys.argv) > 4:
        window.go_to_step(3)
        QApplication.processEvents()
        window.grab().save(sys.argv[4])
    window.close()


if __name__ == "__main__":
    main()

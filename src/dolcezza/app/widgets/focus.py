"""The keyboard's way through a window: in reading order, whatever was put in later."""

from __future__ import annotations

from itertools import pairwise

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QAbstractButton, QComboBox, QLayout, QScrollArea, QSplitter, QStackedWidget, QWidget


def reading_order(root: QWidget) -> list[QWidget]:
    """Widgets that Tab stops at, as the layouts lay them out: left before right, above before below."""
    out: list[QWidget] = []
    if root.focusPolicy() & Qt.FocusPolicy.TabFocus and root.isVisible():
        out.append(root)
    if isinstance(root, QScrollArea):
        inner = root.widget()
        return out + (reading_order(inner) if inner is not None else [])
    if isinstance(root, QStackedWidget):
        page = root.currentWidget()
        return out + (reading_order(page) if page is not None else [])
    layout = root.layout()
    if layout is None or isinstance(root, QSplitter):
        return out
    return out + _of_layout(layout)


def _of_layout(layout: QLayout) -> list[QWidget]:
    out: list[QWidget] = []
    for k in range(layout.count()):
        item = layout.itemAt(k)
        widget, inner = item.widget() if item is not None else None, item.layout() if item is not None else None
        if widget is not None and widget.isVisible():
            out += reading_order(widget)
        elif inner is not None:
            out += _of_layout(inner)
    return out


def reached_by_tab(widget: QWidget) -> bool:
    """Whether a control has the focus because somebody walked to it with Tab, not because it was clicked: the space bar is its own then."""
    return widget.focusPolicy() == Qt.FocusPolicy.TabFocus and widget.isEnabled()


def put_in_reading_order(root: QWidget) -> None:
    """Let Tab go through ``root`` in reading order from now on; buttons and choices take the focus from Tab alone, so that after a click
    the space bar plays."""
    for widget in reading_order(root):
        if isinstance(widget, (QAbstractButton, QComboBox)):
            widget.setFocusPolicy(Qt.FocusPolicy.TabFocus)
    for before, after in pairwise(reading_order(root)):
        QWidget.setTabOrder(before, after)

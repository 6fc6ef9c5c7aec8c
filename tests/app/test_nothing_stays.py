"""A dialog that was answered, and a window that another took the place of, are gone: a desk that is open all day holds none of them."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QCoreApplication, QEvent, QTimer
from PySide6.QtWidgets import QApplication, QDialog, QWidget

from dolcezza.app.widgets.parts import ask, let_go


def swept(window) -> int:
    """Dialogs that hang on a window, once what is to go has gone."""
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    return len(window.findChildren(QDialog))


def shut() -> None:
    asked = QApplication.activeModalWidget()
    assert asked is not None
    asked.close()


@pytest.mark.parametrize("action", ["keys", "preferences", "archive", "results"])
def test_a_dialog_that_was_closed_is_gone(window, ids, action):
    before = swept(window)
    for _ in range(3):
        QTimer.singleShot(50, shut)
        window.menus.actions[action].trigger()
    assert swept(window) == before


@pytest.mark.parametrize("action", ["phone_check", "lesson"])
def test_a_window_takes_the_place_of_the_one_before(opened, action):
    opened.menus.actions[action].trigger()
    once = swept(opened)
    for _ in range(3):
        opened.menus.actions[action].trigger()
    assert swept(opened) == once


def test_what_was_answered_can_still_be_read(window):
    class Asked(QDialog):
        told = "yes"

    asked = Asked(window)
    QTimer.singleShot(20, asked.accept)
    assert ask(asked) and asked.told == "yes"
    refused = Asked(window)
    QTimer.singleShot(20, refused.reject)
    assert not ask(refused)


def test_nothing_is_let_go_twice(window):
    one = QWidget(window)
    let_go(one)
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    let_go(one)
    let_go(None)

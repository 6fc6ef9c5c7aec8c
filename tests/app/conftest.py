"""The real main window on a copy of the demo studio."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication

from dolcezza.app.main import make_app
from dolcezza.app.windows.main_window import MainWindow
from dolcezza.services import demo


@pytest.fixture(scope="session")
def qapp():
    return make_app(["dolcezza-tests"])


@pytest.fixture(autouse=True)
def no_question_is_left_open(qapp):
    """A question that nobody answers is closed, and the test fails instead of waiting for ever."""
    seen, forgotten = [], []

    def look():
        asked = QApplication.activeModalWidget()
        if asked is not None and seen[-1:] == [asked]:
            forgotten.append(f"{type(asked).__name__} {asked.windowTitle()}")
            asked.close()
        seen.append(asked)

    timer = QTimer()
    timer.timeout.connect(look)
    timer.start(20_000)
    yield
    timer.stop()
    assert not forgotten


@pytest.fixture
def window(qtbot, studio):
    made = MainWindow(studio)
    qtbot.addWidget(made)
    made.show()
    qtbot.waitExposed(made)
    yield made
    made.jobs.wait()
    made.pictures.close()


@pytest.fixture
def ids(studio):
    return demo.fill(studio)


@pytest.fixture
def opened(window, ids, qtbot):
    """The window with the measured demo take open and its first picture shown."""
    window.open_take(ids["demo-a1"])
    qtbot.waitUntil(lambda: window.strokes.canvas.has_image, timeout=30_000)
    return window

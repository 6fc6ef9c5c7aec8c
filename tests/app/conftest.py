"""The real main window on a copy of the demo studio."""

from __future__ import annotations

import pytest

from dolcezza.app.main import make_app
from dolcezza.app.windows.main_window import MainWindow
from dolcezza.services import demo


@pytest.fixture(scope="session")
def qapp():
    return make_app(["dolcezza-tests"])


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

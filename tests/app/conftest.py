"""The real main window on a copy of the demo studio."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QCoreApplication, QEvent, QTimer
from PySide6.QtWidgets import QApplication

from dolcezza.app.main import make_app
from dolcezza.app.windows.main_window import MainWindow
from takes_support import fill
from tests_support import cut_short


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
    # a window that is closed and still there would be dressed anew with this one
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    made = MainWindow(studio)
    qtbot.addWidget(made)
    made.show()
    qtbot.waitExposed(made)
    yield made
    made.jobs.wait()
    made.pictures.close()


@pytest.fixture
def ids(studio):
    return fill(studio)


@pytest.fixture(scope="session")
def beginnings(tmp_path_factory):
    """The first bows of two demo takes: for what has to be measured, but not for its figures."""
    folder = tmp_path_factory.mktemp("beginnings")
    return {stem: cut_short(stem, 4.0, folder) for stem in ("demo-a2", "demo-a3")}


@pytest.fixture
def brief(studio, ids, beginnings):
    """Ids of the demo takes, two of which are only their first bows."""
    for stem, path in beginnings.items():
        studio.store.move_take(ids[stem], path)
    return ids


@pytest.fixture
def opened(window, ids, qtbot):
    """The window with the measured demo take open and its first picture shown."""
    window.open_take(ids["demo-a1"])
    qtbot.waitUntil(lambda: window.strokes.canvas.has_image, timeout=30_000)
    return window

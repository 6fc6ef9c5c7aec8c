"""Every control has a name, the focus goes in reading order, nothing is cut or covered: at three sizes and four scalings."""

from __future__ import annotations

import os
import subprocess
import sys
from itertools import pairwise
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QWidget

from dolcezza.app.dialogs.preferences import Preferences
from dolcezza.app.dialogs.shortcuts_sheet import ShortcutsSheet
from dolcezza.app.dialogs.student_dialog import StudentDialog
from dolcezza.app.windows.main_window import MainWindow
from dolcezza.app.windows.steps import STEPS, STUDENTS
from dolcezza.services.settings import Settings
from window_fits import cut, nameless, overlapping, settle

FITS = Path(__file__).parent.parent / "window_fits.py"
SIZES = [(1100, 700), (1280, 800), (1920, 1080)]


@pytest.mark.parametrize("size", SIZES, ids=lambda s: f"{s[0]}x{s[1]}")
def test_nothing_is_cut_or_covered(opened, size, qtbot):
    opened.resize(*size)
    for step, name in enumerate(STEPS):
        opened.go_to_step(step)
        page = opened.pages.currentWidget()
        settle(page)
        assert opened.width() == size[0], "the page fits the window"
        assert (name, cut(page), overlapping(page)) == (name, [], [])


def test_every_control_has_a_name(opened):
    for step, name in enumerate(STEPS):
        opened.go_to_step(step)
        settle(opened)
        assert (name, nameless(opened.centralWidget())) == (name, [])


def stops(first: QWidget, page: QWidget) -> list[QWidget]:
    """Widgets of a page in the order in which Tab reaches them from ``first`` on."""
    out, widget = [], first.nextInFocusChain()
    while widget is not first and len(out) < 500:
        if page.isAncestorOf(widget) and widget.isVisible() and widget.focusPolicy() & Qt.FocusPolicy.TabFocus:
            out.append(widget)
        widget = widget.nextInFocusChain()
    return out


def test_the_focus_goes_in_reading_order(opened):
    """Within one container, what comes later on Tab does not lie above and left of what came before."""
    for step, name in enumerate(STEPS):
        opened.go_to_step(step)
        page = opened.pages.currentWidget()
        settle(page)
        opened.focusNextChild()
        order = stops(opened.strip, page)
        assert order or step == STUDENTS
        wrong = []
        for a, b in pairwise(order):
            here, there = (w.mapTo(page, QPoint(0, 0)) for w in (a, b))
            if there.y() + b.height() <= here.y() and there.x() <= here.x():
                wrong.append((type(a).__name__, a.accessibleName(), type(b).__name__, b.accessibleName()))
        assert (name, wrong) == (name, [])


@pytest.mark.parametrize("make", ["preferences", "keys", "student"])
def test_dialogs_fit_and_have_names(opened, make, qtbot):
    student = opened.studio.students()[0]
    dialog = {
        "preferences": lambda: Preferences(Settings(), opened.studio.folder, opened), "keys": lambda: ShortcutsSheet(opened),
        "student": lambda: StudentDialog(opened.studio, student, opened),
    }[make]()  # fmt: skip
    qtbot.addWidget(dialog)
    dialog.show()
    settle(dialog)
    assert cut(dialog) == [] and overlapping(dialog) == [] and nameless(dialog) == []
    assert dialog.height() <= 800


def test_the_empty_desk_says_what_to_do(qtbot, tmp_path):
    from dolcezza.services.studio import Studio

    window = MainWindow(Studio(tmp_path / "empty"))
    qtbot.addWidget(window)
    for size in SIZES:
        window.resize(*size)
        window.show()
        page = window.pages.currentWidget()
        settle(page)
        assert cut(page) == [] and overlapping(page) == []
    words = " ".join(w.accessibleName() or getattr(w, "text", str)() for w in page.findChildren(QWidget))
    assert "Three steps" in words
    window.close()


@pytest.mark.parametrize("scale", ["1.25", "1.5", "2"])
def test_other_scalings_of_the_display(studio, scale, tmp_path):
    """A process of its own, because the scaling is set once for all: the same page, everything larger, nothing cut."""
    picture = tmp_path / "scaled.png"
    folder = studio.folder
    studio.close()
    done = subprocess.run(
        [sys.executable, str(FITS), str(folder), "1280", "800", str(picture)], text=True, timeout=120,
        capture_output=True, check=False, env={**os.environ, "QT_SCALE_FACTOR": scale},
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    assert f"ratio {float(scale):g}" in done.stdout
    assert [line for line in done.stdout.splitlines() if line.startswith("fault")] == []
    from PySide6.QtGui import QImage

    assert QImage(str(picture)).width() == round(1280 * float(scale))

"""Use the real desk at random for a long time, and look whether it goes on and how its memory does:

    python tools/soak.py [MINUTES] [SEED]

Clicks, keys, menus, lists and dialogs of the demo studio in a folder of its own, without a display. File dialogs answer with a file
that is there, one that is none, or nothing. Every minute a row: events, exceptions, resident memory (MB), open windows. 1 = an exception,
or memory that still grew by more than a tenth in the second half.
"""

from __future__ import annotations

import os
import random
import sys
import tempfile
import time
import traceback
from collections import Counter
from pathlib import Path
from types import TracebackType

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from PySide6.QtCore import QPoint, QSize, Qt, QTimer
from PySide6.QtGui import QAction
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QAbstractSlider,
    QAbstractSpinBox,
    QApplication,
    QComboBox,
    QDialog,
    QFileDialog,
    QInputDialog,
    QLineEdit,
    QMainWindow,
    QMessageBox,
    QTabBar,
    QTextEdit,
    QWidget,
)

from dolcezza.app.main import make_app
from dolcezza.app.windows.main_window import MainWindow
from dolcezza.services import demo
from dolcezza.services.demo import demo_video
from dolcezza.services.studio import Studio

GROWS = 1.1
"""Memory at the end over memory at half time, from which it counts as growing."""
LEAVES = ("quit", "close")
"""Actions that end the program."""
KEY_NAMES = "Space Left Right Up Down Return Escape Tab Delete Home End PageDown PageUp A D S Z 1 2 9"
KEYS = [getattr(Qt.Key, f"Key_{name}") for name in KEY_NAMES.split()]
WORDS = ("Ilva", "8 whole", "G D: 4", "", "–5", "1e99", "Ärger 🎻", "2026-13-40", "x" * 300)


def memory_mb() -> float:
    """Resident memory of this process."""
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * os.sysconf("SC_PAGE_SIZE") / 1024**2


class Hand:
    """A hand that knows nothing. ``faults``: what went wrong, as text."""

    def __init__(self, window: MainWindow, folder: Path, seed: int) -> None:
        self.window, self.folder, self.chance = window, folder, random.Random(seed)
        self.did: Counter[str] = Counter()
        self.faults: list[str] = []
        sys.excepthook = self._caught
        answers = (str(demo_video("demo-swing-3")), str(folder / "no such file"), "")
        QFileDialog.getOpenFileName = lambda *_a, **_k: (self.chance.choice(answers), "")
        QFileDialog.getOpenFileNames = lambda *_a, **_k: ([a] if (a := self.chance.choice(answers)) else [], "")
        QFileDialog.getSaveFileName = lambda *_a, **_k: (str(folder / "out" / "written") if self.chance.random() < 0.5 else "", "")
        QFileDialog.getExistingDirectory = lambda *_a, **_k: str(folder / "out") if self.chance.random() < 0.5 else ""
        QMessageBox.question = lambda *_a, **_k: self.chance.choice((QMessageBox.StandardButton.Yes, QMessageBox.StandardButton.No))
        QInputDialog.getItem = lambda *_a, **_k: ("", False)
        QInputDialog.getText = lambda *_a, **_k: (self.chance.choice(WORDS), self.chance.random() < 0.5)
        # a dialog runs its own loop: the hand goes on in it, and shuts it after a while
        QDialog.exec = lambda asked: self._in_dialog(asked)
        # so does a menu that opens under a button
        self._shut = QTimer()
        self._shut.timeout.connect(self._shut_menu)
        self._shut.start(150)

    def _caught(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        self.faults.append("".join(traceback.format_exception(kind, error, trace)))

    def _shut_menu(self) -> None:
        menu = QApplication.activePopupWidget()
        if menu is not None:
            usable = [a for a in menu.actions() if a.isEnabled() and not a.isSeparator()]
            menu.close()
            if usable and self.chance.random() < 0.5:
                self.chance.choice(usable).trigger()

    def _in_dialog(self, asked: QDialog) -> int:
        asked.show()
        for _ in range(self.chance.randint(0, 12)):
            if not asked.isVisible():
                break
            self.act(asked)
        if asked.isVisible():
            asked.reject()
        return int(asked.result())

    def act(self, top: QWidget) -> None:
        """One thing in a window."""
        way = self.chance.choices((self._click, self._key, self._choose, self._anywhere, self._menu, self._size), (8, 4, 4, 3, 2, 0.3))[0]
        self.did[way.__name__.strip("_")] += 1
        try:
            way(top)
        except RuntimeError as error:
            # what was clicked took itself away
            if "already deleted" not in str(error):
                raise
        QApplication.processEvents()

    def _among(self, top: QWidget, *kinds: type[QWidget]) -> QWidget | None:
        shown = [w for kind in kinds for w in top.findChildren(kind) if w.isVisible() and w.isEnabled()]
        return self.chance.choice(shown) if shown else None

    def _click(self, top: QWidget) -> None:
        button = self._among(top, QAbstractButton, QTabBar)
        if isinstance(button, QAbstractButton):
            button.click()
        elif isinstance(button, QTabBar) and button.count():
            button.setCurrentIndex(self.chance.randrange(button.count()))

    def _key(self, top: QWidget) -> None:
        where = QApplication.focusWidget() or top
        QTest.keyClick(
            where, self.chance.choice(KEYS), self.chance.choice((Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier))
        )

    def _choose(self, top: QWidget) -> None:
        widget = self._among(top, QComboBox, QAbstractSlider, QAbstractSpinBox, QAbstractItemView, QLineEdit, QTextEdit)
        if isinstance(widget, QComboBox) and widget.count():
            widget.setCurrentIndex(self.chance.randrange(widget.count()))
            widget.activated.emit(widget.currentIndex())
        elif isinstance(widget, QAbstractSlider):
            widget.setValue(self.chance.randint(widget.minimum(), max(widget.minimum(), widget.maximum())))
        elif isinstance(widget, QAbstractSpinBox):
            widget.stepBy(self.chance.randint(-3, 3))
        elif isinstance(widget, QAbstractItemView) and widget.model() is not None and widget.model().rowCount():
            index = widget.model().index(self.chance.randrange(widget.model().rowCount()), 0)
            widget.setCurrentIndex(index)
            widget.clicked.emit(index)
        elif isinstance(widget, QLineEdit):
            widget.setText(self.chance.choice(WORDS))
            widget.editingFinished.emit()
        elif isinstance(widget, QTextEdit) and not widget.isReadOnly():
            widget.setPlainText(self.chance.choice(WORDS))

    def _anywhere(self, top: QWidget) -> None:
        at = QPoint(self.chance.randrange(max(1, top.width())), self.chance.randrange(max(1, top.height())))
        under = top.childAt(at) or top
        QTest.mouseClick(
            under, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, under.mapFrom(top, at) if under is not top else at
        )

    def _menu(self, top: QWidget) -> None:
        if not isinstance(top, QMainWindow):
            return
        usable = [a for name, a in self.window.menus.actions.items() if a.isEnabled() and name not in LEAVES]
        action: QAction = self.chance.choice(usable)
        action.trigger()

    def _size(self, top: QWidget) -> None:
        top.resize(QSize(self.chance.randint(900, 1500), self.chance.randint(600, 950)))


def main(minutes: float, seed: int) -> int:
    app = make_app(["dolcezza-soak"])
    rows: list[float] = []
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place)
        (folder / "out").mkdir()
        studio = Studio(folder / "studio")
        ids = demo.fill(studio)
        window = MainWindow(studio)
        window.show()
        window.open_take(ids[demo.FIRST_TAKE])
        hand = Hand(window, folder, seed)
        began = minute = time.monotonic()
        print(f"seed {seed}\n{'min':>5} {'events':>8} {'faults':>7} {'MB':>7} {'windows':>8}", flush=True)
        while time.monotonic() - began < 60 * minutes:
            top = QApplication.activeModalWidget() or hand.chance.choice([window, *(w for w in app.topLevelWidgets() if w.isVisible())])
            hand.act(top)
            if not window.isVisible():
                window.show()
            QTest.qWait(hand.chance.choice((0, 5, 20, 60)))
            if time.monotonic() - minute >= 60:
                minute += 60
                rows.append(memory_mb())
                spent = (time.monotonic() - began) / 60
                shown = sum(w.isVisible() for w in app.topLevelWidgets())
                print(f"{spent:5.0f} {hand.did.total():8d} {len(hand.faults):7d} {rows[-1]:7.0f} {shown:8d}", flush=True)
        window.jobs.wait()
        window.pictures.close()
        studio.close()
    print("events:", dict(hand.did))
    for fault, times in Counter(hand.faults).most_common(8):
        print(f"{times} x {fault}")
    grew = len(rows) > 3 and rows[-1] > GROWS * rows[len(rows) // 2]
    if rows:
        print("memory grew:" if grew else "memory flat:", f"{rows[len(rows) // 2]:.0f} MB at half time, {rows[-1]:.0f} MB at the end")
    return int(bool(hand.faults) or grew)


if __name__ == "__main__":
    code = main(float(sys.argv[1]) if len(sys.argv) > 1 else 120.0, int(sys.argv[2]) if len(sys.argv) > 2 else 1)
    sys.stdout.flush()
    os._exit(code)  # threads of pictures that were just asked for are not waited for

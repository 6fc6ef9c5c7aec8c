"""On a real display (a virtual one, Xvfb): the window opens, keys and mouse work, the picture is drawn."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

SCRIPT = """
import sys
from pathlib import Path
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from dolcezza.app.main import make_app, has_display
from dolcezza.app.windows.main_window import MainWindow
from dolcezza.services.studio import Studio

assert has_display()
app = make_app(["display"])
assert app.platformName() == "xcb", app.platformName()
studio = Studio(Path(sys.argv[1]))
window = MainWindow(studio)
window.show()
assert QTest.qWaitForWindowExposed(window, 20000)
window.open_take(next(s.take.id for st in studio.students() for s in studio.takes(st.id) if s.analysed))
for _ in range(100):
    QTest.qWait(50)
    if window.strokes.canvas.has_image:
        break
window.activateWindow()
QTest.qWait(200)
QTest.keyClick(window, Qt.Key.Key_N)
first = window.selection.moment_s
ribbon = window.strokes.ribbon
QTest.mouseClick(ribbon, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(ribbon.width() // 2, 60))
assert window.selection.moment_s > first
QTest.keyClick(window, Qt.Key.Key_Space)
QTest.qWait(700)
QTest.keyClick(window, Qt.Key.Key_Space)
assert window.selection.moment_s > first + 0.2
window.grab().save(sys.argv[2])
window.resize(1100, 700)
QTest.qWait(100)
print("size", window.width(), window.height(), "moment", round(window.selection.moment_s, 2))
window.close()
"""


@pytest.mark.skipif(shutil.which("Xvfb") is None, reason="Xvfb is not installed; ./run test installs it")
def test_the_desk_on_a_display(studio, tmp_path):
    folder = studio.folder
    studio.close()
    read, write = os.pipe()
    server = subprocess.Popen(
        ["Xvfb", "-displayfd", str(write), "-screen", "0", "1280x800x24", "-nolisten", "tcp"], pass_fds=[write], stderr=subprocess.DEVNULL
    )
    os.close(write)
    try:
        with os.fdopen(read) as told:
            display = f":{told.readline().strip()}"
        picture = tmp_path / "display.png"
        environment = {k: v for k, v in os.environ.items() if k not in ("QT_QPA_PLATFORM", "WAYLAND_DISPLAY")} | {"DISPLAY": display}
        script = tmp_path / "script.py"
        script.write_text(SCRIPT)
        done = subprocess.run(
            [sys.executable, str(script), str(folder), str(picture)],
            env=environment,
            capture_output=True,
            text=True,
            timeout=120,
            check=False,
        )
        assert done.returncode == 0, done.stderr[-2000:]
        assert "size 1100 700" in done.stdout
        assert "Traceback" not in done.stderr
        import cv2

        assert cv2.imread(str(picture)).std() > 20, "something is drawn"
    finally:
        server.terminate()
        server.wait(10)
    assert Path(folder).exists()


@pytest.mark.parametrize("platform", [None, ""])
def test_without_a_display_the_application_starts_unseen(platform):
    """Also where the platform's variable is there and empty."""
    environment = {k: v for k, v in os.environ.items() if k not in ("QT_QPA_PLATFORM", "WAYLAND_DISPLAY", "DISPLAY")}
    environment |= {} if platform is None else {"QT_QPA_PLATFORM": platform}
    script = "from dolcezza.app.main import make_app; print(make_app(['unseen']).platformName())"
    done = subprocess.run([sys.executable, "-c", script], env=environment, capture_output=True, text=True, timeout=60, check=True)
    assert done.stdout.strip() == "offscreen"

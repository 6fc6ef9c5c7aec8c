"""Starts the desk, or the demonstration; without a display the demonstration runs unseen and leaves a picture."""

from __future__ import annotations

import os
import sys
from collections.abc import Sequence
from functools import partial
from pathlib import Path

from PySide6.QtCore import QEventLoop, Qt, QTimer
from PySide6.QtGui import QIcon
from PySide6.QtWidgets import QApplication, QMessageBox

from dolcezza.app.theme.palette import DARK, LIGHT
from dolcezza.app.theme.style import dress, icon
from dolcezza.app.theme.words import day_words, fault_words, speak, spoken, tr
from dolcezza.app.windows.main_window import MainWindow
from dolcezza.app.windows.single_instance import SingleInstance
from dolcezza.core.base.errors import DolcezzaError, StudioDamaged
from dolcezza.services import demo
from dolcezza.services.backups import days, put_back
from dolcezza.services.settings import Settings, SettingsFile
from dolcezza.services.single import hand_over
from dolcezza.services.studio import Studio, default_folder

DESKTOP_ID = "app.dolcezza.Dolcezza"
LONGEST_DEMO_MS = 240_000


def has_display() -> bool:
    """Whether there is a screen to show windows on."""
    platform = os.environ.get("QT_QPA_PLATFORM", "")
    if platform:
        return platform not in ("offscreen", "minimal")
    return bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")) or sys.platform in ("darwin", "win32")


def make_app(arguments: list[str], settings: Settings | None = None) -> QApplication:
    """The one application object, dressed as the ``settings`` say."""
    if not has_display() and not os.environ.get("QT_QPA_PLATFORM"):
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
    if settings is not None and settings.size != 100:
        os.environ.setdefault("QT_SCALE_FACTOR", f"{settings.size / 100:g}")
    existing = QApplication.instance()
    app = existing if isinstance(existing, QApplication) else QApplication(arguments)
    app.setApplicationName("Dolcezza")
    app.setDesktopFileName(DESKTOP_ID)
    speak(app, settings.language if settings is not None else "en")
    dress(app, DARK if settings is not None and settings.theme == "dark" else LIGHT)
    app.setWindowIcon(QIcon(icon("dolcezza", LIGHT.accent, 64)))
    return app


def _opened(place: Path) -> Studio:
    """The studio; where its database is damaged, a copy is offered first. Raises DolcezzaError."""
    try:
        return Studio(place)
    except StudioDamaged as error:
        kept = days(place)
        if not kept or not has_display():
            raise
        question = f"{error}\n\n" + tr("Put back the copy of {0}?").format(day_words(kept[0]))
        if QMessageBox.question(None, "Dolcezza", question) != QMessageBox.StandardButton.Yes:
            raise
        put_back(place)
        return Studio(place)


def _cannot_open(error: DolcezzaError) -> int:
    """Say why the studio cannot be opened, in a window where there is a screen, and give the exit code."""
    print(f"dolcezza: {error}", file=sys.stderr)
    if has_display():
        QMessageBox.critical(None, "Dolcezza", fault_words(error))
    return 2


def run_desk(arguments: list[str], folder: Path | None = None, videos: Sequence[Path] = ()) -> int:
    """Open the desk on a studio folder and run it until it is closed; where one is open already, hand it the ``videos`` and end."""
    settings = SettingsFile()
    app = make_app(arguments[:1], settings.now)
    place = folder or default_folder()
    try:
        single = SingleInstance(place)
        if not single.first:
            hand_over(place, videos)
            return 0
        studio = _opened(place)
        studio.sweep()
    except DolcezzaError as error:
        return _cannot_open(error)
    window = MainWindow(studio, settings)
    _show(window)
    single.asked.connect(partial(_come_forward, window))
    for video in videos:
        window.offer_file(video)
    code = app.exec()
    single.release()
    return code


def _show(window: MainWindow) -> None:
    """Show the desk as it was left, and go on with what waits to be measured."""
    window.session.come_back()
    window.session.dress()
    window.show()
    window.measuring.go_on_waiting()


def _come_forward(window: MainWindow, videos: list[Path]) -> None:
    window.setWindowState(window.windowState() & ~Qt.WindowState.WindowMinimized)
    window.raise_()
    window.activateWindow()
    for video in videos:
        window.offer_file(video)


def run_demo(arguments: list[str], folder: Path | None = None, out: Path | None = None) -> int:
    """Open the demo studio and measure a take for real.

    Without a display: do the same unseen, write ``out`` (picture of the window and the report's files) and say so.
    """
    settings = SettingsFile()
    app = make_app(arguments[:1], settings.now)
    place = folder or demo.demo_folder()
    try:
        single = SingleInstance(place)
        if not single.first:
            hand_over(place, ())
            print("The demo studio is open already.")
            return 0
        studio = Studio(place)
        studio.sweep()
        ids = demo.fill(studio)
    except DolcezzaError as error:
        return _cannot_open(error)
    window = MainWindow(studio, settings)
    window.session.dress()
    window.show()
    window.open_take(ids[demo.FIRST_TAKE])
    seen = has_display()
    if not seen or window.selection.analysis is None:
        window.measure()
    if seen:
        # the other takes are measured behind the teacher's back, so that progress has something to show
        window.measuring.measure_later([k for stem, k in ids.items() if stem != demo.FIRST_TAKE])
    code = app.exec() if seen else _leave_picture(window, out or Path("demo-output"))
    single.release()
    return code


def _leave_picture(window: MainWindow, out: Path) -> int:
    loop = QEventLoop()
    window.jobs.done.connect(loop.quit)
    window.jobs.failed.connect(loop.quit)
    QTimer.singleShot(LONGEST_DEMO_MS, loop.quit)
    loop.exec()
    take = window.selection.take
    stored = window.studio.analysis(take) if take is not None else None
    if stored is None:
        print(f"dolcezza: the demo take could not be measured: {window.notice.words.text()}", file=sys.stderr)
        window.close()
        return 1
    settle = QEventLoop()
    QTimer.singleShot(1200, settle.quit)
    settle.exec()
    out.mkdir(parents=True, exist_ok=True)
    window.grab().save(str(out / "screenshot.png"))
    window.studio.copy_files(stored, out)
    window.correcting.write_report(out / "report.pdf")
    window.correcting.write_report(out / "report.html")
    print("There is no display here, so the demonstration ran unseen.")
    print(f"It measured {len(stored.strokes)} strokes of “{take.title if take else ''}” and wrote to {out}/:")
    print("report.pdf, report.html, screenshot.png, frames.csv, strokes.csv, findings.json, summary.json, arm.json, sound.json")
    for judged in stored.findings:
        print(f"- {spoken().sentence(judged.finding.message)}")
    window.close()
    return 0

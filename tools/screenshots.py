"""Make the pictures in docs/screenshots from the demo studio:  python tools/screenshots.py [FOLDER]."""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Callable
from datetime import date
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QEventLoop, QTimer, QUrl
from PySide6.QtGui import QImage, QPainter, QTextDocument

from dolcezza.app.dialogs.eye_window import EyeWindow
from dolcezza.app.main import make_app
from dolcezza.app.printing import PICTURE
from dolcezza.app.views.hold import BUILD, PICTURES
from dolcezza.app.widgets.video_canvas import VideoCanvas
from dolcezza.app.windows.main_window import MainWindow
from dolcezza.app.windows.steps import ARM, CORRECT, HOLD, LANDMARKS, NOTES, PLAN, PRACTISE, PROGRESS, STUDENTS, TAKE, USE
from dolcezza.core.pipeline.fit_file import read_fit
from dolcezza.reports.pages import student_sheet
from dolcezza.services import demo
from dolcezza.services.body_model import stop
from dolcezza.services.bow_plans import READY_RHYTHMS
from dolcezza.services.settings import SettingsFile
from dolcezza.services.studio import Studio

PATIENCE_S = 20.0


def wait(ms: int) -> None:
    """Let the window work for a while."""
    loop = QEventLoop()
    QTimer.singleShot(ms, loop.quit)
    loop.exec()


def measured(window: MainWindow) -> None:
    """Measure the open take and wait for it."""
    loop = QEventLoop()
    window.jobs.done.connect(loop.quit)
    window.jobs.failed.connect(loop.quit)
    window.measure()
    loop.exec()
    wait(900)
    window.notice.hide()
    wait(50)


def shoot(window: MainWindow, folder: Path, name: str) -> None:
    """Save what the window shows, once the videos in it have their pictures."""
    wait(450)
    until = time.monotonic() + PATIENCE_S
    while time.monotonic() < until and any(c.isVisible() and not c.has_image for c in window.findChildren(VideoCanvas)):
        wait(100)
    window.grab().save(str(folder / f"{name}.png"))


def sheet(window: MainWindow, folder: Path) -> None:
    """The student's sheet as a picture of its page."""
    still = window.correcting._still()
    student = window.studio.store.student(window.selection.take.student_id)
    plans = window.studio.practice.plans(student.id)
    first = window.correcting.chosen[0]
    html = student_sheet(student, first.correction, first.drills, day=date.today(), plan=plans[0].plan, still=still, picture=PICTURE)
    page = QTextDocument()
    page.addResource(QTextDocument.ResourceType.ImageResource.value, QUrl(PICTURE), QImage.fromData(still.jpeg))
    page.setHtml(html)
    page.setTextWidth(740)
    image = QImage(800, 1130, QImage.Format.Format_RGB32)
    image.fill(0xFFFFFFFF)
    painter = QPainter(image)
    painter.translate(30, 30)
    page.drawContents(painter)
    painter.end()
    image.save(str(folder / "sheet.png"))


def beside(window: MainWindow, folder: Path) -> None:
    """Two strokes at the same place on the bow, of the first and the newest take."""
    window.selection.go_to(window.selection.analysis.strokes[0].start_s + 0.1)
    window.menus.actions["beside"].trigger()
    window.beside.two.slider.setValue(185)
    wait(2500)
    window.beside.two.grab().save(str(folder / "beside.png"))
    window.beside.two.close()


def building(window: MainWindow, folder: Path) -> None:
    """The hold of a beginner without a video, and the profile page of a mixed profile."""
    names = {s.name: s for s in window.studio.students()}
    take, analysis = window.selection.take, window.selection.analysis
    window.selection.take = window.selection.analysis = None
    window.students._choose(names["Runa Castellane"].id)
    window.go_to_step(HOLD)
    window.pages.hold.show_page(BUILD)
    shoot(window, folder, "hold")
    window.students._choose(names["Anselm Quirke"].id)
    window.show_profile()
    shoot(window, folder, "profile")
    window.go_to_step(STUDENTS)
    window.selection.take, window.selection.analysis = take, analysis


def found(window: MainWindow, folder: Path, take_id: int) -> None:
    """The instrument found by itself in a video that nobody has marked."""
    taken = window.studio.store.take(take_id)
    window.studio.delete_take(take_id)
    again = window.studio.add_take(taken.student_id, taken.path, title=taken.title)
    window.open_take(again.id)
    window.go_to_step(LANDMARKS)
    until(lambda: not window.calibrating.jobs.running)
    wait(1200)
    shoot(window, folder, "landmarks")


def eye(window: MainWindow, folder: Path) -> None:
    """A made-up take with a hidden fault, after an answer."""
    window.help.eye_window = training = EyeWindow(window.studio.folder, window, seed=7)
    training.show()
    until(lambda: training.take is not None)
    training.choices.buttons()[3].setChecked(True)
    training.answer()
    wait(300)
    training.grab().save(str(folder / "train-the-eye.png"))
    training.close()


def until(done: Callable[[], bool], most_s: float = 240.0) -> None:
    """Let the window work until something is done."""
    began = time.monotonic()
    while not done() and time.monotonic() - began < most_s:
        wait(100)


def notes(studio: Studio, folder: Path) -> None:
    """A scale in notation, the bow planned under it, and its playing laid against it."""
    window = MainWindow(studio, SettingsFile(studio.folder / "settings-notes.json"))
    window.show()
    scale = Path(__file__).parents[1] / "tests" / "takes" / "scale"
    student = studio.add_student("Orla Vantongeren", "violin 4/4")
    take = studio.add_take(student.id, scale / "scale.mp4")
    studio.save_fit(take, read_fit(scale / "scale.fit.json"))
    window.open_take(take.id)
    measured(window)
    window.go_to_step(NOTES)
    window.notation.take_in(scale / "scale.musicxml")
    wait(900)
    window.notation._choose_note(5, 0)
    shoot(window, folder, "notes")
    window.pictures.close()
    window.playing.close()
    window.hide()


def main() -> None:
    """All main views, light, and the strokes in dark."""
    folder = Path(sys.argv[1] if len(sys.argv) > 1 else "docs/screenshots")
    folder.mkdir(parents=True, exist_ok=True)
    make_app(sys.argv[:1])
    with tempfile.TemporaryDirectory() as temporary:
        window = MainWindow(Studio(Path(temporary)), SettingsFile(Path(temporary) / "settings.json"))
        ids = demo.fill(window.studio)
        window.show()
        window.students.reload()
        window.open_take(ids["demo-swing-1"])
        measured(window)
        shoot(window, folder, "strokes")
        window.other_theme()
        shoot(window, folder, "strokes-dark")
        window.other_theme()
        window.go_to_step(HOLD)
        window.pages.hold.show_page(PICTURES)
        stills = Path(__file__).parents[1] / "tests" / "takes" / "hands"
        for role, name in (("relaxed", "dev-hand-03.jpg"), ("frog", "dev-hand-13.jpg"), ("tip", "dev-hand-02.jpg")):
            loop = QEventLoop()
            window.body.jobs.done.connect(loop.quit)
            window.body.jobs.failed.connect(loop.quit)
            window.body.look_at(role, stills / name)
            loop.exec()
        still = window.studio.store.hands.stills(window.selection.take.student_id)[0]
        window.studio.answer_hand(still, {"stick": "392 451 955 350", "forearm": "955 434 728 446"})
        window.body.reload(0)
        window.notice.hide()
        shoot(window, folder, "hand")
        window.go_to_step(CORRECT)
        window.correcting.judge(0, "accepted")
        window.correct._to_finding(0)
        shoot(window, folder, "correct")
        sheet(window, folder)
        window.correcting.show_lesson()
        wait(300)
        window.correcting.lesson.grab().save(str(folder / "lesson.png"))
        window.correcting.lesson.accept()
        window.go_to_step(PRACTISE)
        shoot(window, folder, "practise")
        window.go_to_step(TAKE)
        shoot(window, folder, "take")
        for stem in ("demo-swing-2", "demo-swing-3"):
            window.open_take(ids[stem])
            measured(window)
        window.go_to_step(PROGRESS)
        wait(1500)
        shoot(window, folder, "progress")
        window.go_to_step(STUDENTS)
        shoot(window, folder, "students")
        building(window, folder)
        beside(window, folder)
        window.open_take(ids["demo-viola-1"])
        measured(window)
        window.go_to_step(USE)
        window.selection.go_to(2.0)
        shoot(window, folder, "bow-use")
        window.go_to_step(PLAN)
        window.plan.set_text("rhythm", READY_RHYTHMS["Dotted pairs"])
        window.assigning._choose_way(3)
        shoot(window, folder, "bow-plan")
        window.open_take(ids["demo-trembling"])
        measured(window)
        window.go_to_step(ARM)
        window.selection.go_to(3.2)
        shoot(window, folder, "arm")
        found(window, folder, ids["demo-viola-2"])
        eye(window, folder)
        notes(window.studio, folder)
        window.close()
    stop()


if __name__ == "__main__":
    main()
